"""Which version a database is of: what was done to its tables, against what this program does."""

import os
import subprocess
import sys
from collections.abc import Iterable

from django.apps import apps
from django.conf import settings
from django.db.migrations.loader import MigrationLoader

from mosaic.errors import BadValueError

Step = tuple[str, str]
"""An app and the name of its migration."""


def known_steps() -> set[Step]:
    """What this program does to tables, those of Fine Mosaic alone."""
    ours = {config.label for config in apps.get_app_configs() if config.name.startswith("workshop.")}
    return {step for step in MigrationLoader(None).disk_migrations if step[0] in ours}


def is_foreign(applied: Iterable[Step]) -> bool:
    """Whether something was done to our tables that this program does not know."""
    known = known_steps()
    ours = {app for app, _ in known}
    return any(app in ours and (app, name) not in known for app, name in applied)


def is_older(applied: Iterable[Step]) -> bool:
    """Whether this program does something to our tables that has not been done yet."""
    return not known_steps() <= set(applied)


def carry_over(database: str) -> None:
    """Do to a database beside the real one what has not been done to its tables yet.

    Raises
    ------
    BadValueError
        It could not be done; the database may be thrown away.
    """
    words = [sys.executable, str(settings.BASE_DIR / "manage.py"), "migrate", "--noinput", "--verbosity", "0"]
    environment = {**os.environ, "MOSAIC_DB_NAME": database, "DJANGO_SETTINGS_MODULE": "workshop.settings"}
    done = subprocess.run(words, env=environment, capture_output=True, check=False)
    if done.returncode:
        said = done.stderr.decode("utf-8", "replace").strip().splitlines()[-1:] or [""]
        raise BadValueError(f"its tables cannot be carried over to this version: {said[0][:200]}")
