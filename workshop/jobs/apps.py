"""Django's record of this part."""

from django.apps import AppConfig


class JobsConfig(AppConfig):
    name = "workshop.jobs"
