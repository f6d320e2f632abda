"""Data of the first version, stations 1 to 4, brought into this one: nothing is lost, its pages answer, and work goes on.

`versions/0.1.sql.gz` is what `mariadb-dump` gave of it, with its demo and a build of a maker's own.
"""

import gzip
from pathlib import Path

import pytest
from django.conf import global_settings
from django.db import connection
from django.test import Client
from django.urls import reverse

from mosaic.errors import BadValueError
from workshop.accounts.models import User
from workshop.builds.models import Build
from workshop.documents import services as documents
from workshop.documents.kinds import as_its_kind
from workshop.documents.models import Document
from workshop.pictures.models import Picture
from workshop.serving import versions
from workshop.serving.backup import BEFORE, INCOMING, database_name, restore
from workshop.stations import stations

pytestmark = pytest.mark.django_db(transaction=True)
FIRST = Path(__file__).parent / "versions" / "0.1.sql.gz"


@pytest.fixture(autouse=True)
def no_databases_left():
    yield
    with connection.cursor() as cursor:
        for name in (BEFORE, INCOMING):
            cursor.execute(f"DROP DATABASE IF EXISTS `{name.format(database_name())}`")


def test_everything_of_the_first_version_is_there_and_goes_on(settings):
    settings.PASSWORD_HASHERS = global_settings.PASSWORD_HASHERS  # theirs, and not the tests' quick one
    rows = restore(FIRST)
    assert (rows["accounts_user"], rows["builds_build"], rows["documents_document"], rows["documents_original"]) == (2, 6, 32, 10)
    assert "journal_logentry" in rows  # a table that the first version did not have
    assert [as_its_kind(row).name for row in Document.objects.all() if as_its_kind(row).problem] == []
    build = Build.objects.get(name="Slip board")
    client = Client()
    assert client.post(reverse("sign-in"), {"username": "purser", "password": "slip-and-tide-7"}).status_code == 302
    for station in stations():
        page = client.get(reverse(station.home, args=[build.pk]), follow=True)
        assert page.status_code == 200, station
        assert "Slip board" in page.content.decode()
    picture = Picture.objects.get(build=build)
    assert (picture.record.exposure, picture.record.contrast) == (0.5, 1.0)
    assert documents.redo(picture, base=picture.head_id).record.contrast == 1.2
    (gone,) = Document.everything.filter(build=build).exclude(deleted=None)
    documents.bring_back(gone)
    assert set(Picture.objects.filter(build=build).values_list("name", flat=True)) == {"Ebb", "Old ebb"}
    client.post(reverse("add-screen", args=[build.pk]), {"name": "Ebb and flow"})
    assert build.documents.filter(kind="screen", name="Ebb and flow").exists()


@pytest.mark.parametrize(("app", "refused"), [("builds", True), ("an_app_that_is_gone", False)])
def test_a_newer_version_s_backup_is_refused_before_anything_is_exchanged(tmp_path, app, refused):
    text = gzip.decompress(FIRST.read_bytes()).decode("utf-8", "surrogateescape")
    more = f"INSERT INTO `django_migrations` (app, name, applied) VALUES ('{app}', '9999_of_tomorrow', NOW());\n-- Dump completed"
    path = tmp_path / "newer.sql.gz"
    path.write_bytes(gzip.compress(text.replace("-- Dump completed", more).encode("utf-8", "surrogateescape"), 1))
    User.objects.create_user("here")
    if refused:
        with pytest.raises(BadValueError, match="of another Fine Mosaic, a newer one or a very early one; restore it there"):
            restore(path)
    else:
        restore(path)
    assert User.objects.filter(username="here").exists() == refused


def test_tables_that_cannot_be_carried_over_change_nothing(tmp_path):
    text = gzip.decompress(FIRST.read_bytes()).decode("utf-8", "surrogateescape")
    path = tmp_path / "odd.sql.gz"
    odd = "CREATE TABLE `journal_logentry` (a INT);\n-- Dump completed"
    path.write_bytes(gzip.compress(text.replace("-- Dump completed", odd).encode("utf-8", "surrogateescape"), 1))
    User.objects.create_user("here")
    with pytest.raises(BadValueError, match="cannot be carried over to this version: .*journal_logentry"):
        restore(path)
    assert User.objects.filter(username="here").exists()


def test_which_version_tables_are_of():
    known = versions.known_steps()
    assert not versions.is_older(known)
    assert versions.is_older(known - {("builds", "0001_initial")})
    assert not versions.is_foreign(known | {("auth", "9999_of_a_library")})
    assert versions.is_foreign({("builds", "9999_of_tomorrow")})
