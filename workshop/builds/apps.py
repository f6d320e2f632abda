"""Django's record of this part."""

from django.apps import AppConfig


class BuildsConfig(AppConfig):
    name = "workshop.builds"
