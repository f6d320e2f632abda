"""Django's settings of this part."""

from django.apps import AppConfig


class DeskConfig(AppConfig):
    name = "workshop.desk"
