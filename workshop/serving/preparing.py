"""Database, static files, kernels and demo made ready, each only where something is missing."""

import hashlib
import platform
from pathlib import Path

import numba
from django.conf import settings
from django.core.management import call_command
from django.db import connection
from django.db.migrations.recorder import MigrationRecorder

import mosaic
from mosaic.warm import warm
from workshop.demo.services import load_demo
from workshop.serving.versions import is_foreign

OLDER_DATA = (
    "var/ holds data of an earlier state of Fine Mosaic, whose tables are not carried over. Export what you want to keep"
    " with that state, then move var/ away (mv var var-before) and start again: everything is laid out from scratch."
)


class OlderDataError(Exception):
    """The database was made by an earlier state of the program; its text says what to do."""


def check_database() -> None:
    """Raises OlderDataError if migrations were applied that this program does not have."""
    if is_foreign(MigrationRecorder(connection).applied_migrations()):
        raise OlderDataError(OLDER_DATA)


def kernels_mark() -> str:
    """What compiled kernels depend on: their sources, the compiler and the machine."""
    mark = hashlib.sha256(f"{numba.__version__} {platform.machine()} {platform.python_version()}".encode())
    for path in sorted(Path(mosaic.__file__).parent.rglob("*.py")):
        mark.update(path.read_bytes())
    return mark.hexdigest()


def compile_kernels(stamp: Path) -> bool:
    """Compile every kernel into the cache, unless `stamp` says that this has been done; whether it was."""
    mark = kernels_mark()
    if stamp.is_file() and stamp.read_text() == mark:
        return False
    warm()
    stamp.parent.mkdir(parents=True, exist_ok=True)
    stamp.write_text(mark)
    return True


def collect_static(stamp: Path) -> bool:
    """Collect static files if one of them is newer than `stamp`; whether they were."""
    files = [path for folder in settings.STATICFILES_DIRS for path in Path(folder).rglob("*") if path.is_file()]
    if stamp.is_file() and all(path.stat().st_mtime <= stamp.stat().st_mtime for path in files):
        return False
    call_command("collectstatic", interactive=False, verbosity=0)
    stamp.touch()
    return True


def prepare(var: Path, *, fresh_demo: bool = False) -> bool:
    """Everything, in order; whether the demo was laid out. Raises OlderDataError."""
    check_database()
    call_command("migrate", interactive=False, verbosity=0)
    collect_static(var / "static-stamp")
    compile_kernels(var / "kernels-stamp")
    return bool(settings.OFFER_DEMO and load_demo(fresh=fresh_demo))
