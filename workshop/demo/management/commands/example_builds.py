"""Writes the builds of the demo as build files, for scripts and tests: `manage.py example_builds examples/builds`."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from mosaic.source_text import identifier
from workshop.builds.models import Build
from workshop.stations.build_file import build_file


class Command(BaseCommand):
    help = "Write the demo's builds as build files into a folder."

    def add_arguments(self, parser: Any) -> None:
        parser.add_argument("folder")

    def handle(self, *args: Any, **options: Any) -> None:
        folder = Path(options["folder"])
        folder.mkdir(parents=True, exist_ok=True)
        for build in Build.objects.filter(owner__username=settings.DEMO_USERNAME):
            path = folder / f"{identifier(build.name, 'build')}.zip"
            path.write_bytes(build_file(build))
            self.stdout.write(str(path))
