"""Passports, boards and comparisons: the catalogue's pages and what a maker has made his own."""

from django.apps import AppConfig


class PanelsConfig(AppConfig):
    name = "workshop.panels"
