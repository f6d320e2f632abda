"""Django's record of this part."""

from django.apps import AppConfig


class StationsConfig(AppConfig):
    name = "workshop.stations"

    def ready(self) -> None:
        from workshop.stations import register

        register()
