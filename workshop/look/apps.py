"""The parts every page is made of: bars, marks, stones, amounts."""

from django.apps import AppConfig


class LookConfig(AppConfig):
    name = "workshop.look"
