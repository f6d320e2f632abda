"""A backup while makers write, read back and restored; what was cut short or changed is refused, and nothing is lost by it."""

import gzip
import json
import threading

import pytest
from django.core.management import CommandError, call_command
from django.db import connection, connections

from mosaic.errors import BadValueError
from workshop.accounts.models import User
from workshop.builds.models import Build
from workshop.builds.services import start_build
from workshop.journal import services as journal
from workshop.journal.models import LogEntry
from workshop.serving.backup import BEFORE, INCOMING, backup, database_name, restore

pytestmark = pytest.mark.django_db(transaction=True)
WRITERS, BEFORE_IT, EACH = 20, 3, 12


@pytest.fixture
def builds():
    found = []
    for n in range(WRITERS):
        maker = User.objects.create_user(f"maker{n}")
        found.append(start_build(owner=maker, name=f"Board {n}", panel="mono-oled-128x64", board="small", link_kind="i2c"))
    yield found
    with connection.cursor() as cursor:
        for name in (BEFORE, INCOMING):
            cursor.execute(f"DROP DATABASE IF EXISTS `{name.format(database_name())}`")


def test_in_the_middle_of_twenty_makers_writing(builds, tmp_path):
    acknowledged: list[tuple[int, int]] = []
    begun, enough = threading.Event(), threading.Barrier(WRITERS + 1)

    def write(number):
        try:
            for n in range(EACH):
                journal.write(builds[number], text=f"{number} {n}")
                if not begun.is_set():
                    acknowledged.append((number, n))
                if n == BEFORE_IT:
                    enough.wait(60)
        finally:
            connections.close_all()

    threads = [threading.Thread(target=write, args=(n,)) for n in range(WRITERS)]
    for thread in threads:
        thread.start()
    enough.wait(60)
    begun.set()
    sure = list(acknowledged)
    path = tmp_path / "all.sql.gz"
    card = backup(path)
    for thread in threads:
        thread.join(60)
    assert LogEntry.objects.count() == WRITERS * EACH
    LogEntry.objects.all().delete()
    User.objects.create_user("afterwards")
    rows = restore(path)
    assert rows == card["rows"]
    kept = {tuple(int(n) for n in text.split()) for text in LogEntry.objects.values_list("text", flat=True)}
    assert len(sure) >= WRITERS * BEFORE_IT
    assert set(sure) <= kept
    for number in range(WRITERS):  # of each maker the first so many, without a hole: it is of one moment
        mine = sorted(n for who, n in kept if who == number)
        assert mine == list(range(len(mine)))
    assert not User.objects.filter(username="afterwards").exists()
    with connection.cursor() as cursor:  # what was there is kept beside it
        cursor.execute(f"SELECT COUNT(*) FROM `{BEFORE.format(database_name())}`.`accounts_user` WHERE username = 'afterwards'")
        assert cursor.fetchone()[0] == 1
        cursor.execute(
            "SELECT COUNT(*) FROM information_schema.schemata WHERE schema_name = %s", [INCOMING.format(database_name())]
        )
        assert cursor.fetchone()[0] == 0
    journal.write(Build.objects.get(pk=builds[0].pk), text="it goes on")


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda data: data[: len(data) // 2], "SHA-256 differs"),
        (lambda data: data[:-1] + bytes([data[-1] ^ 1]), "SHA-256 differs"),
        (lambda data: data[: len(data) // 2], "was cut short"),
        (lambda data: data[:90] + bytes(byte ^ 255 for byte in data[90:120]) + data[120:], "was cut short"),
        (lambda data: b"no backup at all", "is no backup"),
        (lambda data: gzip.compress(gzip.decompress(data)[:-200]), "was cut short: its last line is missing|cannot be loaded"),
        (lambda data: gzip.compress(b"CREATE TABLE t (a INT);\n-- Dump completed\n"), "it has other tables"),
    ],
)
def test_what_is_no_backup_changes_nothing(builds, tmp_path, change, words):
    journal.write(builds[0], text="stays")
    path = tmp_path / "all.sql.gz"
    backup(path)
    path.write_bytes(change(path.read_bytes()))
    if "SHA" not in words:
        path.with_name(path.name + ".json").unlink()
    with pytest.raises(BadValueError, match=words):
        restore(path)
    assert LogEntry.objects.get().text == "stays"
    assert Build.objects.count() == WRITERS


def test_other_rows_than_its_card_says(builds, tmp_path):
    path = tmp_path / "all.sql.gz"
    card = backup(path)
    card_path = path.with_name(path.name + ".json")
    card["rows"]["accounts_user"] += 1
    card_path.write_text(json.dumps(card))
    with pytest.raises(BadValueError, match="as many rows as its card says"):
        restore(path)
    card_path.write_text(json.dumps(card | {"form": 2}))
    with pytest.raises(BadValueError, match="newer Fine Mosaic"):
        restore(path)


def test_restored_again_and_again(builds, tmp_path):
    """The counts that memory goes by move on each time, and stay in their column, whose most is 4,294,967,295."""
    path, before = tmp_path / "all.sql.gz", 1_999_999_999
    for _ in range(3):
        Build.objects.update(content=before)
        backup(path)
        restore(path)
        assert Build.objects.exclude(content=before).filter(content__lt=2_000_000_000).count() == WRITERS
        before = 1_999_999_000


def test_as_commands(builds, tmp_path, capsys):
    path = tmp_path / "all.sql.gz"
    call_command("backup", str(path))
    assert "read back." in capsys.readouterr().out
    assert [p.name for p in sorted(tmp_path.iterdir())] == ["all.sql.gz", "all.sql.gz.json"]
    User.objects.all().delete()
    call_command("restore", str(path))
    assert User.objects.count() == WRITERS
    for name, file in (("restore", tmp_path / "none.gz"), ("backup", tmp_path / "no" / "such.gz")):
        with pytest.raises(CommandError):
            call_command(name, str(file))
