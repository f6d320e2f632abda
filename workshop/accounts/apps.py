"""Django's record of this part."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    name = "workshop.accounts"
