"""Django's record of this part."""

from django.apps import AppConfig


class HomeConfig(AppConfig):
    name = "workshop.home"
