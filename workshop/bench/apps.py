"""Django's record of this part."""

from django.apps import AppConfig


class BenchConfig(AppConfig):
    name = "workshop.bench"
