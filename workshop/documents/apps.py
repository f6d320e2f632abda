"""Django's record of this part."""

from django.apps import AppConfig


class DocumentsConfig(AppConfig):
    name = "workshop.documents"
