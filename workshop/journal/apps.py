"""Entries of logs."""

from django.apps import AppConfig


class JournalConfig(AppConfig):
    name = "workshop.journal"
