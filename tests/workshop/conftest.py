"""A maker with a build and a picture, in the real database."""

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from mosaic.reduce.recipe import Recipe
from tests.conftest import gradient, png_of
from workshop.accounts.models import User
from workshop.builds.services import start_build
from workshop.pictures.services import add_picture, keep_original


@pytest.fixture
def maker(db):
    return User.objects.create_user("maker", password="a-long-password-1")


@pytest.fixture
def build(maker):
    return start_build(owner=maker, name="Tide board", panel="epaper-296x128-black-white", board="low-power", link_kind="spi")


@pytest.fixture
def picture(build):
    original = keep_original(data=png_of(gradient(300, 600)), file_name="slip.png", owner=build.owner)
    return add_picture(build=build, original=original, file_name="slip.png", recipe=Recipe())


@pytest.fixture
def signed_in(client, maker):
    client.force_login(maker)
    return client


@pytest.fixture
def upload():
    """An uploaded file of any bytes."""
    return lambda data, name="slip.png": SimpleUploadedFile(name, data)
