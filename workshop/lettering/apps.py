"""The Lettering station."""

from django.apps import AppConfig


class LetteringConfig(AppConfig):
    name = "workshop.lettering"
