"""The Screens & behaviour station."""

from django.apps import AppConfig


class ScreensConfig(AppConfig):
    name = "workshop.screens"
