"""A throw-away database for benches that go through the web side, set up before Django is."""

import os
import shutil
import subprocess
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
START = '. bin/setup.sh; . bin/mariadb.sh; db_start "$1" throw-away; echo "$DB_SOCKET"'


STOP = '. bin/setup.sh; . bin/mariadb.sh; db_stop "$1"'


def _shell(words: str, folder: str, **more: Any) -> subprocess.CompletedProcess[str]:
    return subprocess.run(["bash", "-c", words, "bash", folder], cwd=ROOT, capture_output=True, text=True, **more)


@contextmanager
def database() -> Iterator[None]:
    """A private MariaDB in a temporary folder, migrated and empty; Django is ready inside."""
    folder = tempfile.mkdtemp()
    try:
        quick = {**os.environ, "DB_OPTIONS": "--innodb-flush-log-at-trx-commit=0 --skip-log-bin"}
        words = _shell(START, folder, env=quick, check=True)
        os.environ |= {
            "MOSAIC_DB_SOCKET": words.stdout.strip(), "MOSAIC_DB_PASSWORD": "throw-away", "MOSAIC_SECRET_KEY": "for-benches-only",
            "MOSAIC_DEMO": "1", "DJANGO_SETTINGS_MODULE": "tests.settings",
        }  # fmt: skip
        import django
        from django.core.management import call_command

        django.setup()
        call_command("migrate", interactive=False, verbosity=0)
        yield
    finally:
        pid = Path(folder, "mariadb.pid")
        if pid.is_file():
            _shell(STOP, folder)
        shutil.rmtree(folder, ignore_errors=True)
