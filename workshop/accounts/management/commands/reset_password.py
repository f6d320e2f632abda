"""`manage.py reset_password NAME`: another password for somebody who has forgotten his; it is shown once."""

import secrets
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from workshop.accounts.models import User


class Command(BaseCommand):
    help = "Set a new password, and show it."

    def add_arguments(self, parser: Any) -> None:
        parser.add_argument("name")

    def handle(self, *args: Any, **options: Any) -> None:
        person = User.objects.filter(username=options["name"]).first()
        if person is None:
            known = ", ".join(User.objects.order_by("username").values_list("username", flat=True)[:20]) or "nobody"
            raise CommandError(f"there is nobody called {options['name']}; known: {known}", returncode=1)
        password = secrets.token_urlsafe(12)
        person.set_password(password)
        person.save(update_fields=["password"])
        self.stdout.write(f"The new password of {person.username}: {password}")
