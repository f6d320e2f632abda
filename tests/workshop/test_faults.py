"""When the database is away, the disk full or the application wrong: words, what was typed, and no fault of the page itself."""

from types import SimpleNamespace

import pytest
from django.db import InterfaceError, OperationalError
from django.test import Client
from django.urls import reverse

from workshop.documents.models import Document
from workshop.jobs.models import Job
from workshop.jobs.tasks import carry_out
from workshop.room import NO_ROOM

ERRORS = {
    "gone": (OperationalError(2006, "Server has gone away"), 503, "The database does not answer just now; nothing you typed is lost"),
    "refused": (OperationalError(2002, "Can't connect"), 503, "The database does not answer"),
    "closed": (InterfaceError(0, ""), 503, "The database does not answer"),
    "deadlock": (OperationalError(1213, "Deadlock found"), 503, "Send it once more"),
    "waited": (OperationalError(1205, "Lock wait timeout"), 503, "Send it once more"),
    "full": (OperationalError(1021, "Disk full"), 507, "no room left on the disk"),
    "table full": (OperationalError(1114, "The table is full"), 507, "no room left on the disk"),
    "no space": (OSError(28, "No space left on device"), 507, "no room left on the disk"),
    "too large": (OperationalError(1153, "Got a packet bigger than 'max_allowed_packet' bytes"), 413, "A smaller file is accepted"),
    "too large, says the client": (OperationalError(2020, "Got packet bigger than"), 413, "max_allowed_packet to 64M"),
    "ours": (ZeroDivisionError("division by zero"), 500, "This went wrong inside the application"),
}  # fmt: skip


@pytest.fixture
def visitor(maker):
    client = Client(raise_request_exception=False)
    client.force_login(maker)
    return client


@pytest.fixture
def failing(monkeypatch, request):
    """Everything that asks for a build fails so."""
    error, *told = ERRORS[request.param]

    def fail(*args, **kwargs):
        raise error

    monkeypatch.setattr("workshop.lettering.measure_views.own_build", fail)
    return told


@pytest.mark.parametrize("failing", ERRORS, indirect=True)
def test_a_page_says_what_is_the_matter(visitor, build, failing):
    status, words = failing
    answer = visitor.get(reverse("measuring", args=[build.pk]))
    text = answer.content.decode()
    assert answer.status_code == status
    assert words in text
    assert ("http-equiv" in text) == (words.startswith("The database does not answer")) == ("Retry-After" in answer)
    assert "Traceback" not in text
    assert "gone away" not in text


@pytest.mark.parametrize("failing", ["gone", "ours"], indirect=True)
def test_a_form_keeps_what_was_typed_and_can_be_sent_again(visitor, build, failing):
    at = reverse("keep-texts", args=[build.pk])
    text = visitor.post(at, {"texts": 'Ebb <5> "m"', "base": "0"}).content.decode()
    assert f'action="{at}"' in text
    assert '<input type="hidden" name="texts" value="Ebb &lt;5&gt; &quot;m&quot;">' in text
    assert "Send it again" in text
    assert "http-equiv" not in text  # a page with something typed on it does not go away by itself


@pytest.mark.parametrize("failing", ["gone"], indirect=True)
def test_a_part_of_a_page_is_a_notice(visitor, build, failing):
    answer = visitor.post(reverse("keep-texts", args=[build.pk]), {"texts": "Ebb"}, headers={"hx-request": "true"})
    assert (answer.status_code, answer["HX-Retarget"]) == (503, "#notice")
    assert "nothing you typed is lost" in answer.content.decode()


def test_without_the_database_even_the_session_cannot_be_read(visitor, build, monkeypatch):
    def fail(*args, **kwargs):
        raise OperationalError(2002, "Can't connect")

    monkeypatch.setattr("django.contrib.sessions.backends.db.SessionStore.load", fail)
    answer = visitor.get(reverse("measuring", args=[build.pk]))
    assert answer.status_code == 503
    assert "does not answer just now" in answer.content.decode()


class TestAFullDisk:
    """Storing stops while the database still has room for what it has begun."""

    @pytest.fixture(autouse=True)
    def disk(self, settings, monkeypatch, tmp_path):
        settings.DATA_FOLDER = str(tmp_path)
        disk = SimpleNamespace(free=209_715_199)  # a byte less than 200 MiB
        monkeypatch.setattr("workshop.room.shutil.disk_usage", lambda folder: disk)
        return disk

    def test_is_told_and_what_was_typed_stays(self, visitor, build, disk):
        at = reverse("keep-texts", args=[build.pk])
        answer = visitor.post(at, {"texts": "Ebb 5 m", "base": "0"})
        assert answer.status_code == 507
        assert "There is no room left on the disk" in answer.content.decode()
        assert 'name="texts" value="Ebb 5 m"' in answer.content.decode()
        assert not Document.objects.filter(build=build, kind="texts").exists()
        disk.free += 1
        assert visitor.post(at, {"texts": "Ebb 5 m", "base": "0"}).status_code == 302
        assert Document.objects.filter(build=build, kind="texts").exists()

    def test_is_looked_at_and_signed_in_to(self, visitor, build, maker):
        assert visitor.get(reverse("measuring", args=[build.pk])).status_code == 200
        assert Client().post("/sign-in/", {"username": "maker", "password": "a-long-password-1"}).status_code == 302

    def test_no_job_is_done(self, build, disk):
        job = Job.objects.create(build=build, owner=build.owner, kind="files")
        carry_out.func(job.pk)
        job.refresh_from_db()
        assert (job.state, job.message) == (Job.State.FAILED, NO_ROOM)

    def test_the_disk_of_another_machine_is_not_looked_at(self, visitor, build, settings):
        settings.DATA_FOLDER = ""
        sent = visitor.post(reverse("keep-texts", args=[build.pk]), {"texts": "Ebb 5 m", "base": "0"})
        assert sent.status_code == 302


class TestWhoMayCome:
    def test_the_demo_password_opens_nothing_where_no_demo_is_offered(self, client, demo, settings):
        sent = {"username": settings.DEMO_USERNAME, "password": "boathouse-demo"}
        settings.OFFER_DEMO = False
        answer = client.post("/sign-in/", sent)
        assert "The demo workshop is not offered here" in answer.content.decode()
        assert "_auth_user_id" not in client.session
        settings.OFFER_DEMO = True
        assert client.post("/sign-in/", sent).status_code == 302

    def test_pages_are_private_and_signing_out_clears_what_was_kept(self, visitor):
        assert visitor.get("/")["Cache-Control"] == "private, no-cache"
        assert visitor.get("/sign-up/")["Cache-Control"] == "private, no-cache"
        assert visitor.post("/sign-out/")["Clear-Site-Data"] == '"cache"'
