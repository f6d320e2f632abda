"""The Refresh plan station."""

from django.apps import AppConfig


class RefreshConfig(AppConfig):
    name = "workshop.refresh"
