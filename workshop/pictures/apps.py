"""Django's record of this part."""

from django.apps import AppConfig


class PicturesConfig(AppConfig):
    name = "workshop.pictures"
