"""A maker with a build and a picture, in the real database."""

from urllib.parse import urlsplit

import pytest
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import Client
from django.urls import resolve

from mosaic.reduce.recipe import Recipe
from tests.conftest import gradient, png_of
from tests.demo_tables import lay_out, put_back
from workshop import memory
from workshop.accounts.models import User
from workshop.builds.models import Build
from workshop.builds.services import start_build
from workshop.documents.models import Document
from workshop.documents.originals import keep_picture
from workshop.pictures.services import add_picture


@pytest.fixture
def maker(db):
    return User.objects.create_user("maker", password="a-long-password-1")


@pytest.fixture(scope="session")
def demo_tables(django_db_setup, django_db_blocker):
    """The demo's rows, in tables beside the real ones, which are empty again."""
    with django_db_blocker.unblock(), connection.cursor() as cursor:
        laid = lay_out(only_changed=True)
        put_back(cursor, laid.tables, fill=False)
    return laid


@pytest.fixture
def demo(demo_tables, db):
    """The demo's person, with their builds as `load_demo` makes them."""
    with connection.cursor() as cursor:
        put_back(cursor, demo_tables.tables, empty=False)
    return User.objects.get(username=settings.DEMO_USERNAME)


@pytest.fixture
def build(maker):
    return start_build(owner=maker, name="Tide board", panel="epaper-296x128-black-white", board="low-power", link_kind="spi")


@pytest.fixture
def picture(build):
    original = keep_picture(data=png_of(gradient(300, 600)), file_name="slip.png", owner=build.owner)
    return add_picture(build=build, original=original, file_name="slip.png", recipe=Recipe())


BASES = {
    "wiring": "wiring", "propose-wiring": "wiring", "setup-card": "setup-card", "copy-setup-card": "setup-card", "check-sheet": "readings",
    "bringup-keep": "stages", "bringup-bring-photo": "patches", "bringup-points": "patches", "bringup-touch": "touch",
    "keep-texts": "texts",
}  # fmt: skip


class PageClient(Client):
    """A client whose posts carry the revisions that a page laid out just now would send, unless others are given."""

    def post(self, path, data=None, *args, **more):
        match = resolve(urlsplit(path).path)
        build = Build.objects.filter(pk=match.kwargs.get("build_id")).first()
        if build is not None and isinstance(data, dict | None):
            known = {"revision": build.revision}
            if match.url_name in BASES:
                row = Document.objects.filter(build=build, kind=BASES[match.url_name]).first()
                known["base"] = row.head_id if row else 0
            elif "document_id" in match.kwargs:
                known["base"] = Document.everything.get(pk=match.kwargs["document_id"]).head_id
            data = known | (data or {})
        return super().post(path, data, *args, **more)


@pytest.fixture
def signed_in(maker):
    client = PageClient()
    client.force_login(maker)
    return client


@pytest.fixture
def upload():
    """An uploaded file of any bytes."""
    return lambda data, name="slip.png": SimpleUploadedFile(name, data)


@pytest.fixture(autouse=True)
def nothing_kept():
    """Numbers of rows come up again from test to test; what is kept by its contents may stay."""
    memory.clear_all("contents of builds", "sources of frames")
