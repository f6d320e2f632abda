"""The Hand-over station."""

from django.apps import AppConfig


class HandOverConfig(AppConfig):
    name = "workshop.handover"
