"""`manage.py backup FILE`: everything in one file, taken while it runs, read back before it counts."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from mosaic.errors import MosaicError
from workshop.serving.backup import backup


class Command(BaseCommand):
    help = "Write a backup of everything into a file."

    def add_arguments(self, parser: Any) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        path = options["file"]
        try:
            card = backup(path)
        except (MosaicError, OSError) as error:
            raise CommandError(str(error), returncode=1) from None
        self.stdout.write(
            f"{path}: {path.stat().st_size:,} B, {sum(card['rows'].values()):,} rows of {len(card['rows'])} tables, read back."
        )
