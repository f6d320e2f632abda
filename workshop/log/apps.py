"""The Log station."""

from django.apps import AppConfig


class LogConfig(AppConfig):
    name = "workshop.log"
