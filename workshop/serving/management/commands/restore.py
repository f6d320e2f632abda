"""`manage.py restore FILE`: everything becomes what a backup says."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from mosaic.errors import MosaicError
from workshop.serving.backup import BEFORE, database_name, restore


class Command(BaseCommand):
    help = "Restore everything from a backup; what is there is kept beside it."

    def add_arguments(self, parser: Any) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            rows = restore(options["file"])
        except (MosaicError, OSError) as error:
            raise CommandError(str(error), returncode=1) from None
        self.stdout.write(
            f"Restored {sum(rows.values()):,} rows of {len(rows)} tables."
            f" What was there is kept as {BEFORE.format(database_name())}."
        )
