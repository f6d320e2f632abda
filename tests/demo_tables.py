"""The demo, laid out once in a process; each table has a copy beside it, from which tests get it back in a moment."""

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


def lay_out(more=lambda: None, only_changed: bool = False) -> LaidOut:
    """Lay the demo, and whatever `more` makes, and copy all tables, or those alone that it has changed."""
    with connection.cursor() as cursor:
        known = connection.introspection.table_names(cursor)
        tables = [name for name in known if name != "django_migrations" and not name.startswith("copy_of_")]
        before = checksums(cursor, tables)
        load_demo(fresh=True)
        more()
        if only_changed:
            now = checksums(cursor, tables)
            tables = [table for table, old, new in zip(tables, before, now, strict=True) if old != new]
        for table in tables:
            cursor.execute(f"DROP TABLE IF EXISTS `copy_of_{table}`")
            cursor.execute(f"CREATE TABLE `copy_of_{table}` LIKE `{table}`")
            cursor.execute(f"INSERT INTO `copy_of_{table}` SELECT * FROM `{table}`")
        return LaidOut(tables, checksums(cursor, tables))


def put_back(cursor: CursorWrapper, tables: list[str], *, empty: bool = True, fill: bool = True) -> None:
    """Tables as they were laid out, or only emptied."""
    cursor.execute("SET FOREIGN_KEY_CHECKS = 0")
    for table in tables:
        if empty:
            cursor.execute(f"DELETE FROM `{table}`")
        if fill:
            cursor.execute(f"INSERT INTO `{table}` SELECT * FROM `copy_of_{table}`")
    cursor.execute("SET FOREIGN_KEY_CHECKS = 1")
