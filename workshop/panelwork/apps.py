"""Django's record of this part."""

from django.apps import AppConfig


class PanelworkConfig(AppConfig):
    name = "workshop.panelwork"
