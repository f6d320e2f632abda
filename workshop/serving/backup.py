"""A backup of everything, taken while it runs, and the way back: one compressed file of SQL, read back before it counts.

The dump is of one moment (one transaction). It is loaded into a database beside the real one, and its tables are counted there.
Restoring loads it in the same way, and exchanges all tables in one statement: until then everything goes on as it was.
"""

import gzip
import hashlib
import json
import os
import shutil
import subprocess
import time
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO, Any

from django.conf import settings
from django.db import connection

from mosaic.errors import BadValueError
from workshop.serving.versions import Step, carry_over, is_foreign, is_older

INCOMING, BEFORE = "{}_incoming", "{}_before"
LETTERS = "CHARACTER SET utf8mb4 COLLATE utf8mb4_bin"
"""As the database itself is made: tables that are added to others must have their collation."""
MOVED_ON = "MOD(content + 1 + FLOOR(1000000000 * RAND()), 2000000000)"
"""By lot: a count that went by the time would meet one that went by changes, where restores follow each other within seconds."""
LAST_LINE = b"-- Dump completed"
FORM = 1


def database_name() -> str:
    """The database that everything is in."""
    return str(connection.settings_dict["NAME"])


def _words(program: str) -> list[str]:
    """The program with where the database is; its password goes by the environment."""
    told = settings.DATABASES["default"]
    host = told["HOST"]
    where = [f"--socket={host}"] if str(host).startswith("/") else [f"--host={host}", f"--port={told['PORT'] or 3306}"]
    return [program, "--no-defaults", f"--user={told['USER']}", *where]


def _environment() -> dict[str, str]:
    return {**os.environ, "MYSQL_PWD": str(settings.DATABASES["default"]["PASSWORD"])}


def _program(*names: str) -> str:
    found = next((path for name in names if (path := shutil.which(name))), None)
    if found is None:
        raise BadValueError(f"{names[0]} is not installed; the package mariadb-client brings it")
    return found


def _counts(database: str) -> dict[str, int]:
    """Rows of each table."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT table_name FROM information_schema.tables WHERE table_schema = %s ORDER BY table_name", [database])
        tables = [row[0] for row in cursor.fetchall()]
        found = {}
        for table in tables:
            cursor.execute(f"SELECT COUNT(*) FROM `{database}`.`{table}`")
            found[table] = int(cursor.fetchone()[0])
    return found


def _applied(database: str) -> set[Step]:
    """What was done to the tables of a database."""
    with connection.cursor() as cursor:
        cursor.execute(f"SELECT app, name FROM `{database}`.`django_migrations`")
        return {(app, name) for app, name in cursor.fetchall()}


@contextmanager
def _scratch(name: str) -> Iterator[str]:
    """A database of this name, empty, gone again at the end."""
    with connection.cursor() as cursor:
        cursor.execute(f"DROP DATABASE IF EXISTS `{name}`")
        cursor.execute(f"CREATE DATABASE `{name}` {LETTERS}")
    try:
        yield name
    finally:
        with connection.cursor() as cursor:
            cursor.execute(f"DROP DATABASE IF EXISTS `{name}`")


def _load(path: Path, database: str) -> None:
    """The SQL of a backup into a database.

    Raises
    ------
    BadValueError
        It is none, was cut short, or cannot be loaded.
    """
    load = subprocess.Popen(
        [*_words(_program("mariadb", "mysql")), database], stdin=subprocess.PIPE, stderr=subprocess.PIPE,
        stdout=subprocess.DEVNULL, env=_environment(),
    )  # fmt: skip
    tail = b""
    try:
        with gzip.open(path) as source:
            while piece := source.read(1 << 20):
                tail = (tail + piece)[-400:]
                load.stdin.write(piece)  # type: ignore[union-attr]
    except (OSError, EOFError, zlib.error) as error:
        load.kill()
        load.communicate()
        if isinstance(error, BrokenPipeError):
            raise BadValueError(f"{path.name} is no backup of Fine Mosaic: the database does not take it") from None
        raise BadValueError(
            f"{path.name} is no backup, or was cut short; a file that bin/backup has written is accepted"
        ) from None
    said = load.communicate()[1]
    if load.returncode:
        raise BadValueError(f"{path.name} cannot be loaded: {said.decode('utf-8', 'replace').strip()[:200]}")
    if LAST_LINE not in tail:
        raise BadValueError(f"{path.name} was cut short: its last line is missing")


def _sum_of(path: Path) -> str:
    made = hashlib.sha256()
    with path.open("rb") as source:
        while piece := source.read(1 << 20):
            made.update(piece)
    return made.hexdigest()


def _poured(words: list[str], out: IO[bytes]) -> tuple[bytes, int]:
    """What a program writes, into a file; what it complained of, and its exit status. It ends with this, whatever happens."""
    with subprocess.Popen(words, stdout=subprocess.PIPE, stderr=subprocess.PIPE, env=_environment()) as program:
        try:
            shutil.copyfileobj(program.stdout, out, 1 << 20)  # type: ignore[arg-type]
            return program.communicate()[1], program.returncode
        except BaseException:
            program.kill()
            raise


def backup(path: Path) -> dict[str, Any]:
    """Write a backup to a file, and its card beside it; gives the card: when, rows of each table, SHA-256.

    Raises
    ------
    BadValueError
        It could not be written, or did not read back; nothing is left of it then.
    """
    part = path.with_name(path.name + ".part")
    began = time.time()
    words = [
        *_words(_program("mariadb-dump", "mysqldump")), "--single-transaction", "--quick", "--hex-blob", "--skip-lock-tables",
        "--no-tablespaces", "--default-character-set=utf8mb4", database_name(),
    ]  # fmt: skip
    try:
        with gzip.open(part, "wb", compresslevel=4) as out:
            said, status = _poured(words, out)
        if status:
            raise BadValueError(f"the database could not be read: {said.decode('utf-8', 'replace').strip()[:200]}")
        with _scratch(INCOMING.format(database_name())) as scratch:
            _load(part, scratch)
            rows = _counts(scratch)
        card = {
            "form": FORM,
            "made": time.strftime("%Y-%m-%dT%H:%M:%S", time.localtime(began)),
            "rows": rows,
            "sha256": _sum_of(part),
        }
        part.replace(path)
        path.with_name(path.name + ".json").write_text(json.dumps(card, indent=1) + "\n")
    finally:
        part.unlink(missing_ok=True)
    return card


def restore(path: Path) -> dict[str, int]:
    """Everything becomes what a backup says; what was there is kept in a database beside it. Gives rows of each table.

    The tables of an older version are carried over before they take the place of those that are there.

    Raises
    ------
    BadValueError
        The file is none, not what its card says, or of a version that is not carried over; nothing is changed.
    """
    if not path.is_file():
        raise BadValueError(f"{path} is not there; a file that bin/backup has written is accepted")
    card_path, card = path.with_name(path.name + ".json"), None
    if card_path.is_file():
        card = json.loads(card_path.read_text())
        if card.get("form", 0) > FORM:
            raise BadValueError(f"{path.name} is of a newer Fine Mosaic; restore it there")
        if card.get("sha256") != _sum_of(path):
            raise BadValueError(f"{path.name} is not what it was when it was written: its SHA-256 differs from its card")
    name, before = database_name(), BEFORE.format(database_name())
    with _scratch(INCOMING.format(name)) as incoming:
        _load(path, incoming)
        rows = _counts(incoming)
        if card is not None and rows != card["rows"]:
            raise BadValueError(f"{path.name} does not have as many rows as its card says")
        if "django_migrations" not in rows:
            raise BadValueError(f"{path.name} is no backup of Fine Mosaic: it has other tables")
        applied = _applied(incoming)
        if is_foreign(applied):
            raise BadValueError(f"{path.name} is of another Fine Mosaic, a newer one or a very early one; restore it there")
        if is_older(applied):
            carry_over(incoming)
            rows = _counts(incoming)
        with connection.cursor() as cursor:
            cursor.execute(f"DROP DATABASE IF EXISTS `{before}`")
            cursor.execute(f"CREATE DATABASE `{before}` {LETTERS}")
            cursor.execute("SELECT table_name FROM information_schema.tables WHERE table_schema = %s", [name])
            out = [f"`{name}`.`{row[0]}` TO `{before}`.`{row[0]}`" for row in cursor.fetchall()]
            inn = [f"`{incoming}`.`{table}` TO `{name}`.`{table}`" for table in rows]
            # What web processes keep in memory goes by these counts: none of them may come up again for other contents,
            # and none may leave its column, however often a backup of what was restored is restored again.
            cursor.execute(f"UPDATE `{incoming}`.`builds_build` SET content = {MOVED_ON}")
            cursor.execute("SET FOREIGN_KEY_CHECKS = 0")
            try:
                cursor.execute(f"RENAME TABLE {', '.join([*out, *inn])}")
            finally:
                cursor.execute("SET FOREIGN_KEY_CHECKS = 1")
    return rows
