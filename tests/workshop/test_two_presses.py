"""Forms sent twice, tabs that outlived their session, and tabs from before a sign-in: nothing double, nothing lost."""

import html
import re
from datetime import timedelta

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.utils import timezone

from tests.conftest import gradient, png_of
from tests.mosaic.animation.test_animation import animated
from workshop.accounts import twice
from workshop.accounts.models import SentForm, User
from workshop.builds.models import Build
from workshop.documents.models import Document
from workshop.jobs.models import Job
from workshop.lettering.documents import Lettering
from workshop.panels.models import Comparison, OwnBoard, OwnPassport
from workshop.pictures.documents import Animation, Figure, Picture, Strip
from workshop.pictures.models import Variant
from workshop.screens.documents import ScreenDocument

PASSWORD = "a-long-password-1"


@pytest.fixture
def visitor(maker):
    """A client that is held to the token of each page, as a browser is."""
    client = Client(enforce_csrf_checks=True)
    client.force_login(maker)
    return client


def token_of(page) -> str:
    return re.search(r'name="csrfmiddlewaretoken" value="(\w+)"', page.content.decode())[1]


def upload():
    return SimpleUploadedFile("gate.png", png_of(gradient(40, 30)))


def clip():
    return SimpleUploadedFile("boat.gif", animated("GIF", (0, 8, 16), (90,) * 3))


MAKING = {
    "a build": ("/builds/new/", "/builds/new/", {"name": "Slipway lamp", "panel": "mono-oled-128x64", "board": "low-power"}, Build),
    "a picture": ("pictures/", "pictures/add/", {"picture": upload}, Picture),
    "a lettering": ("lettering/faces/", "lettering/faces/start/", {"face": "mono"}, Lettering),
    "a screen": ("screens/", "screens/add/", {"name": "Slip"}, ScreenDocument),
    "a strip": ("pictures/strips/", "pictures/strips/add/", {"sheet": upload}, Strip),
    "a figure": ("pictures/figures/", "pictures/figures/add/", {"name": "Clock"}, Figure),
    "an animation": ("pictures/animations/", "pictures/animations/add/", {"frames": clip}, Animation),
    "a duplicate": ("pictures/{picture}/", "documents/{picture}/duplicate/", {}, Document),
    "a variant": ("pictures/{picture}/variants/", "pictures/{picture}/variants/keep/", {"name": "Bolder"}, Variant),
    "a panel of one's own": ("/panels/mono-oled-128x64/", "/panels/mono-oled-128x64/mine/", {}, OwnPassport),
    "a board of one's own": ("/boards/low-power/", "/boards/low-power/mine/", {}, OwnBoard),
    "a comparison": ("/panels/choose/", "/panels/choose/start/", {"name": "Slip", "panel": "mono-oled-128x64"}, Comparison),
}  # fmt: skip


def asked(picture, what: str):
    """(the page a form is on, where it is sent, its fields) of a form that makes something."""
    page, address, fields, _ = MAKING[what]
    inside = f"/builds/{picture.build_id}/"
    at = [word if word.startswith("/") else inside + word.format(picture=picture.pk) for word in (page, address)]
    return *at, {name: value() if callable(value) else value for name, value in fields.items()}


@pytest.mark.parametrize("what", MAKING)
def test_a_second_press_makes_nothing_more_and_leads_to_the_same_place(visitor, picture, what):
    page, address, fields = asked(picture, what)
    counted = MAKING[what][-1].objects
    before, token = counted.count(), token_of(visitor.get(page, follow=True))

    first = visitor.post(address, {"csrfmiddlewaretoken": token, **fields})
    assert first.status_code == 302, first.content.decode()[-800:]
    second = visitor.post(address, {"csrfmiddlewaretoken": token, **asked(picture, what)[2]})

    assert (second.status_code, second["Location"]) == (302, first["Location"])
    assert counted.count() == before + 1


@pytest.mark.parametrize("token", [True, False])
def test_all_files_are_made_once_however_often_they_are_asked_for(visitor, picture, token):
    known = {"csrfmiddlewaretoken": token_of(visitor.get(f"/builds/{picture.build_id}/pictures/", follow=True))}
    headers = {"hx-request": "true", "x-csrftoken": known["csrfmiddlewaretoken"]}
    for _ in range(2):
        assert visitor.post(f"/builds/{picture.build_id}/files/", known if token else {}, headers=headers).status_code == 200
    assert Job.objects.count() == 1


def test_the_same_form_of_a_page_loaded_anew_is_meant(visitor, picture):
    page, address, _ = asked(picture, "a picture")
    for count in (2, 3):
        visitor.post(address, {"csrfmiddlewaretoken": token_of(visitor.get(page, follow=True)), "picture": upload()})
        assert Picture.objects.count() == count


def test_a_refused_form_can_be_sent_again_as_it_is(visitor, picture):
    page, address, _ = asked(picture, "a picture")
    token = token_of(visitor.get(page, follow=True))
    for _ in range(2):
        assert visitor.post(address, {"csrfmiddlewaretoken": token}, headers={"referer": "http://testserver/"}).status_code == 422
    assert SentForm.objects.count() == 0


@pytest.mark.parametrize(
    ("age_s", "answered", "status", "makes"), [(1, False, 409, 0), (119, False, 409, 0), (121, False, 302, 1), (9, True, 302, 0), (11, True, 302, 1)]
)  # fmt: skip
def test_a_first_press_that_is_still_on_its_way_or_long_over(visitor, picture, monkeypatch, age_s, answered, status, makes):
    monkeypatch.setattr(twice, "LONGEST_WAIT_S", 0.0)
    page, address, fields = asked(picture, "a lettering")
    posted = {"csrfmiddlewaretoken": token_of(visitor.get(page, follow=True)), **fields}
    keys = []
    monkeypatch.setattr(twice, "key_of", lambda request, real=twice.key_of: keys.append(real(request)) or keys[-1])
    visitor.post(address, posted)
    then = timezone.now() - timedelta(seconds=age_s)
    SentForm.objects.filter(key=keys[0]).update(
        created=then, answered=then if answered else None, location="/first/" if answered else ""
    )

    answer = visitor.post(address, posted)

    assert answer.status_code == status
    assert Lettering.objects.count() == 1 + makes
    if answered and not makes:
        assert answer["Location"] == "/first/"


def test_signing_up_twice_signs_in_once_more(client, db):
    fields = {"username": "cox", "workshop_name": "", "password1": PASSWORD, "password2": PASSWORD}
    assert client.post("/sign-up/", fields).status_code == 302
    other = Client()
    assert other.post("/sign-up/", fields).status_code == 302
    assert other.get("/").status_code == 200
    assert User.objects.count() == 1
    assert Client().post("/sign-up/", fields | {"password1": "wrong-one-1", "password2": "wrong-one-1"}).status_code == 422
    User.objects.update(date_joined=timezone.now() - timedelta(seconds=31))
    assert Client().post("/sign-up/", fields).status_code == 422


class TestEndedSession:
    """What was typed on a page whose session ended comes back after signing in again."""

    TEXTS = 'Tide {0.0..9.9} m\nBoats <{1..40}> & "oars"'

    def test_what_was_typed_stands_in_its_form_again(self, visitor, picture):
        page = f"http://testserver/builds/{picture.build_id}/lettering/measuring/"
        loaded = visitor.get(page)
        posted = {"csrfmiddlewaretoken": token_of(loaded), "texts": self.TEXTS, "base": "0"}
        del visitor.cookies["sessionid"]

        asked_in = visitor.post(f"{page}texts/", posted, headers={"referer": page})
        assert asked_in.status_code == 401
        text = asked_in.content.decode()
        assert "Your session had ended" in text
        hidden = dict(re.findall(r'<input type="hidden" name="(\w+)" value="([^"]*)"', text))
        hidden = {name: html.unescape(value) for name, value in hidden.items()}

        wrong = visitor.post("/sign-in/", {**hidden, "username": "maker", "password": "not-it"})
        assert html.escape(hidden["typed"]) in wrong.content.decode()
        hidden["csrfmiddlewaretoken"] = token_of(wrong)
        back = visitor.post("/sign-in/", {**hidden, "username": "maker", "password": PASSWORD})

        assert back.status_code == 200
        words = back.content.decode()
        assert "What you typed stands here" in words
        assert html.escape(self.TEXTS) in words
        again = {"csrfmiddlewaretoken": token_of(back), "texts": self.TEXTS, "base": "0"}
        assert visitor.post(f"{page}texts/", again).status_code == 302

    def test_a_part_of_a_page_stays_and_says_so(self, visitor, picture):
        address = f"/builds/{picture.build_id}/pictures/{picture.pk}/save/"
        token = token_of(visitor.get(f"/builds/{picture.build_id}/pictures/{picture.pk}/"))
        del visitor.cookies["sessionid"]
        answer = visitor.post(address, {"csrfmiddlewaretoken": token}, headers={"hx-request": "true"})
        assert (answer.status_code, answer["HX-Retarget"]) == (401, "#notice")
        assert "Sign in in another tab" in answer.content.decode()

    def test_loading_the_address_of_the_demos_key_anew_leads_on(self, visitor, db):
        assert visitor.get("/sign-in/demo/", follow=True).redirect_chain == [("/sign-in/", 302), ("/", 302)]

    def test_a_page_that_is_only_looked_at_leads_to_the_sign_in(self, client, picture):
        assert client.get(f"/builds/{picture.build_id}/pictures/")["Location"].startswith("/sign-in/?next=")


class TestOldTab:
    """A tab from before a sign-in has a token that does not hold any more."""

    def test_a_part_is_given_the_new_token(self, visitor, picture):
        address = f"/builds/{picture.build_id}/pictures/{picture.pk}/save/"
        answer = visitor.post(
            address, {"csrfmiddlewaretoken": "x" * 64}, headers={"hx-request": "true", "referer": "http://testserver/"}
        )
        assert answer.status_code == 403
        assert "Do it once more" in answer.content.decode()
        again = visitor.post(
            address, {"base": picture.head_id}, headers={"hx-request": "true", "x-csrftoken": answer["X-Fresh-Token"]}
        )
        assert again.status_code == 200

    def test_a_whole_form_comes_back_with_what_was_typed(self, visitor, picture):
        page = f"http://testserver/builds/{picture.build_id}/lettering/measuring/"
        visitor.get(page)
        posted = {"csrfmiddlewaretoken": "x" * 64, "texts": "Ebb", "base": "0"}
        answer = visitor.post(f"{page}texts/", posted, headers={"referer": page})
        assert answer.status_code == 403
        assert "press the button once more" in answer.content.decode()
        assert ">Ebb</textarea>" in answer.content.decode()

    def test_a_form_of_another_site_is_refused_and_nothing_of_it_shown(self, visitor, picture):
        posted = {"csrfmiddlewaretoken": "x" * 64, "texts": "Ebb"}
        for headers in ({"referer": "http://elsewhere.example/"}, {}):
            answer = visitor.post(f"/builds/{picture.build_id}/lettering/measuring/texts/", posted, headers=headers)
            assert answer.status_code == 403
            assert "Ebb" not in answer.content.decode()
