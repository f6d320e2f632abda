"""Django's record of this part."""

from django.apps import AppConfig


class DemoConfig(AppConfig):
    name = "workshop.demo"
