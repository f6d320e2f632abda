"""The demo, laid out once in a process; its tables have copies in a database beside it, from which tests get it back in a moment."""

from dataclasses import dataclass

from django.db import connection
from django.db.backends.utils import CursorWrapper

from workshop.demo.services import load_demo


@dataclass(frozen=True)
class LaidOut:
    """Tables that have a copy, and the checksum of each as it was laid out."""

    tables: list[str]
    sums: list[tuple]


def checksums(cursor: CursorWrapper, tables: list[str]) -> list[tuple]:
    cursor.execute("CHECKSUM TABLE " + ", ".join(f"`{table}`" for table in tables))
    return list(cursor.fetchall())


def _copy(table: str) -> str:
    """Where its copy lies: in a database of its own, as restoring a backup exchanges all tables of the tested one."""
    return f"`{connection.settings_dict['NAME']}_demo`.`{table}`"


def lay_out(more=lambda: None, only_changed: bool = False) -> LaidOut:
    """Lay the demo, and whatever `more` makes, and copy all tables, or those alone that it has changed."""
    with connection.cursor() as cursor:
        known = connection.introspection.table_names(cursor)
        tables = [name for name in known if name != "django_migrations"]
        before = checksums(cursor, tables)
        load_demo(fresh=True)
        more()
        if only_changed:
            now = checksums(cursor, tables)
            tables = [table for table, old, new in zip(tables, before, now, strict=True) if old != new]
        cursor.execute(f"CREATE DATABASE IF NOT EXISTS `{connection.settings_dict['NAME']}_demo`")
        for table in tables:
            cursor.execute(f"DROP TABLE IF EXISTS {_copy(table)}")
            cursor.execute(f"CREATE TABLE {_copy(table)} LIKE `{table}`")
            cursor.execute(f"INSERT INTO {_copy(table)} SELECT * FROM `{table}`")
        return LaidOut(tables, checksums(cursor, tables))


def put_back(cursor: CursorWrapper, tables: list[str], *, empty: bool = True, fill: bool = True) -> None:
    """Tables as they were laid out, or only emptied."""
    cursor.execute("SET FOREIGN_KEY_CHECKS = 0")
    for table in tables:
        if empty:
            cursor.execute(f"DELETE FROM `{table}`")
        if fill:
            cursor.execute(f"INSERT INTO `{table}` SELECT * FROM {_copy(table)}")
    cursor.execute("SET FOREIGN_KEY_CHECKS = 1")
