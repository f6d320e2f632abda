"""Django's record of this part."""

from django.apps import AppConfig


class BringupConfig(AppConfig):
    name = "workshop.bringup"
