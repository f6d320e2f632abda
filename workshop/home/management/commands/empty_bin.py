"""`manage.py empty_bin`: what has lain in the bin for more than 30 days is deleted for good."""

from typing import Any

from django.core.management.base import BaseCommand

from workshop.home.bin import empty


class Command(BaseCommand):
    help = "Delete for good what was deleted more than 30 days ago."

    def handle(self, *args: Any, **options: Any) -> None:
        count = empty()
        if options["verbosity"]:
            self.stdout.write(f"{count} rows were deleted for good.")
