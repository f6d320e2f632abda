"""The demo, long work, and settings for production."""

import io
import os
import subprocess
import sys
import time
import zipfile
from datetime import timedelta
from pathlib import Path
from types import SimpleNamespace

import pytest
from django.conf import settings
from django.core.management import call_command
from django.db import connection
from django.urls import reverse
from django.utils import timezone

from mosaic.lettering.bdf import read_bdf
from mosaic.lettering.plan import LetteringPlan
from tests.reading import kept
from workshop.accounts.models import User
from workshop.demo.services import load_demo
from workshop.jobs import alive
from workshop.jobs import services as jobs
from workshop.jobs.models import Job
from workshop.jobs.tasks import carry_out
from workshop.lettering.services import add_lettering
from workshop.pictures.documents import Picture
from workshop.stations.overview import overview_of

ROOT = Path(__file__).resolve().parent.parent.parent


class TestDemo:
    def test_is_laid_out_once_and_anew_on_request(self, demo):
        assert not load_demo()
        person = User.objects.get(username=settings.DEMO_USERNAME)
        overviews = {b.name: overview_of(b) for b in person.builds.all()}
        assert list(overviews) == ["Tide & wind board", "Stroke-rate counter", "Barometer", "Sign-out panel", "Club room screen"]
        assert [len(o.offered("pixels")) for o in overviews.values()] == [3, 4, 4, 5, 2]
        assert all(picture.derived["verified"] for picture in Picture.objects.all())
        found = {placed.finding["id"] for o in overviews.values() for placed in o.findings}
        assert {"memory.buffer-exceeds-ram", "energy.day-over-limit"} <= found
        person.builds.first().delete()
        assert not load_demo()
        assert load_demo(fresh=True)
        assert User.objects.get(username=settings.DEMO_USERNAME).builds.count() == 5

    def test_sign_in_by_one_click(self, client, demo, settings):
        assert "Walk into the demo workshop" in client.get(reverse("sign-in")).content.decode()
        page = client.post(reverse("demo-sign-in"), follow=True).content.decode()
        assert "5 builds on the bench" in page
        settings.OFFER_DEMO = False
        assert client.post(reverse("demo-sign-in")).status_code == 404


class TestJobs:
    def test_all_files_in_one_zip(self, signed_in, picture):
        add_lettering(build=picture.build, name="Figures", plan=LetteringPlan(preset="digits"))
        signed_in.post(reverse("start-files", args=[picture.build_id]))
        job = Job.objects.get()
        assert job.state == "done", job.message
        assert "Download tide_board.zip" in signed_in.get(reverse("job", args=[job.pk])).content.decode()
        archive = zipfile.ZipFile(io.BytesIO(signed_in.get(reverse("take-job", args=[job.pk])).content))
        assert sorted(archive.namelist()) == ["figures.bdf", "figures.h", "slip.bin", "slip.h", "slip.png"]
        assert len(read_bdf(archive.read("figures.bdf")).glyphs) == 10
        assert len(archive.read("slip.bin")) == 4736

    def test_two_pictures_of_one_name_both_get_a_file(self, picture):
        from workshop.pictures.services import add_picture

        add_picture(build=picture.build, original=picture.sources[0].original, file_name="slip.png")
        job = jobs.start(build=picture.build, owner=picture.build.owner, kind="files", total=kept(picture.build, Picture).count())
        job.refresh_from_db()
        assert "slip_2.bin" in zipfile.ZipFile(io.BytesIO(bytes(job.result))).namelist()

    def test_cancelled_before_and_during(self, picture, monkeypatch):
        waiting = Job.objects.create(build=picture.build, owner=picture.build.owner, kind="files", total=1)
        assert (
            jobs.start(
                build=picture.build, owner=picture.build.owner, kind="files", total=kept(picture.build, Picture).count()
            ).pk
            == waiting.pk
        )  # taken up, not doubled
        jobs.cancel(job=waiting)
        carry_out.func(waiting.pk)
        waiting.refresh_from_db()
        assert (waiting.state, waiting.result) == ("cancelled", None)
        asked = Job.objects.create(build=picture.build, owner=picture.build.owner, kind="files", total=1, cancel_asked=True)
        carry_out.func(asked.pk)
        asked.refresh_from_db()
        assert (asked.state, asked.done) == ("cancelled", 0)

    def test_a_failure_is_told_in_words(self, picture):
        picture.head.description = {**picture.description, "crop_x": 60_000}
        picture.head.save()
        job = jobs.start(build=picture.build, owner=picture.build.owner, kind="files", total=kept(picture.build, Picture).count())
        job.refresh_from_db()
        assert job.state == "failed"
        assert "600 x 300" in job.message

    @pytest.mark.parametrize(
        ("state", "quiet_s", "tries", "cancelled", "then", "queued"),
        [
            ("running", 9, 1, False, "running", 0), ("running", 11, 1, False, "waiting", 1), ("running", 11, 2, False, "waiting", 1),
            ("running", 11, 3, False, "failed", 0), ("running", 11, 1, True, "cancelled", 0), ("waiting", 9, 0, False, "waiting", 0),
            ("waiting", 11, 0, False, "waiting", 1), ("done", 999, 1, False, "done", 0),
        ],
    )  # fmt: skip
    def test_one_that_lost_its_worker_is_begun_anew_or_ends(
        self, signed_in, picture, monkeypatch, state, quiet_s, tries, cancelled, then, queued
    ):
        asked = []
        monkeypatch.setattr("workshop.jobs.services.carry_out", SimpleNamespace(enqueue=asked.append))
        seen = timezone.now() - timedelta(seconds=quiet_s)
        told = {"state": state, "seen": seen, "tries": tries, "cancel_asked": cancelled, "done": 3, "total": 9}
        job = Job.objects.create(build=picture.build, owner=picture.build.owner, kind="files", **told)
        page = signed_in.get(reverse("job", args=[job.pk])).content.decode()
        job.refresh_from_db()
        assert (job.state, asked) == (then, [job.pk] * queued)
        if then == "failed":
            assert "the worker ended 3 times before this was done" in page
        if queued:
            assert job.done == 0
            assert jobs.start(build=picture.build, owner=picture.build.owner, kind="files") == job
            assert asked == [job.pk]  # it was seen a moment ago

    def test_one_that_waits_behind_another_is_not_forgotten(self, picture, monkeypatch):
        asked = []
        monkeypatch.setattr("workshop.jobs.services.carry_out", SimpleNamespace(enqueue=asked.append))
        told = {"build": picture.build, "owner": picture.build.owner}
        Job.objects.create(kind="search", state="running", **told)
        Job.objects.create(kind="files", seen=timezone.now() - timedelta(minutes=5), **told)
        assert jobs.latest(build=picture.build, kind="files").state == "waiting"
        assert asked == []

    @pytest.mark.parametrize(("ahead_s", "is_set"), [(9, False), (11, True), (3600, True)])
    def test_a_clock_set_back_leaves_no_job_waiting_for_it(self, picture, monkeypatch, ahead_s, is_set):
        """Its worker gone, a job is begun again ten seconds later, and not when the old time has come once more."""
        asked, seen = [], timezone.now() + timedelta(seconds=ahead_s)
        monkeypatch.setattr("workshop.jobs.services.carry_out", SimpleNamespace(enqueue=asked.append))
        job = Job.objects.create(build=picture.build, owner=picture.build.owner, kind="files", state="running", seen=seen)
        jobs.latest(build=picture.build, kind="files")
        job.refresh_from_db()
        assert (job.seen < seen) == is_set
        monkeypatch.setattr(alive.timezone, "now", lambda now=timezone.now: now() + timedelta(seconds=10.5))
        jobs.latest(build=picture.build, kind="files")
        assert asked == ([job.pk] if is_set else [])

    @pytest.mark.django_db(transaction=True)
    def test_one_that_runs_long_says_that_it_lives(self, picture, monkeypatch):
        monkeypatch.setattr(alive, "EVERY_S", 0.01)
        long_ago = timezone.now() - timedelta(hours=1)
        job = Job.objects.create(build=picture.build, owner=picture.build.owner, kind="files", state="running", seen=long_ago)
        with alive.said_to_live(job.pk):
            for _ in range(500):
                job.refresh_from_db()
                if job.seen > long_ago:
                    break
                time.sleep(0.01)
        assert job.seen > long_ago

    @pytest.mark.django_db(transaction=True)
    def test_a_worker_carries_it_out(self, picture, settings):
        settings.TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend"}}
        job = jobs.start(build=picture.build, owner=picture.build.owner, kind="files", total=kept(picture.build, Picture).count())
        job.refresh_from_db()
        assert job.state == "waiting"
        call_command("db_worker", batch=True, interval=0, verbosity=0)
        job.refresh_from_db()
        assert job.state == "done"

    def test_anothers_job_is_not_there(self, client, picture):
        job = jobs.start(build=picture.build, owner=picture.build.owner, kind="files", total=kept(picture.build, Picture).count())
        client.force_login(User.objects.create_user("other", password="a-long-password-2"))
        assert client.get(reverse("job", args=[job.pk])).status_code == 404
        assert client.get(reverse("take-job", args=[job.pk])).status_code == 404


class TestSettings:
    def test_deployment_check_is_clean(self):
        environment = {
            **os.environ, "MOSAIC_SECRET_KEY": "k" * 40 + "0123456789abcdef!", "MOSAIC_HTTPS": "1", "MOSAIC_HOSTS": "mosaic.example",
            "DJANGO_SETTINGS_MODULE": "workshop.settings", "MOSAIC_DEBUG": "0",
        }  # fmt: skip
        environment.pop("DJANGO_ALLOW_ASYNC_UNSAFE", None)  # set for the browser tests of this run only
        command = [sys.executable, "manage.py", "check", "--deploy", "--fail-level", "WARNING"]
        done = subprocess.run(command, cwd=ROOT, env=environment, capture_output=True, text=True)
        assert done.returncode == 0, done.stderr

    def test_database_is_strict_and_takes_any_character_and_large_packets(self, db):
        with connection.cursor() as cursor:
            cursor.execute("SELECT @@sql_mode, @@character_set_connection, @@max_allowed_packet, @@skip_networking")
            mode, charset, packet, is_socket_only = cursor.fetchone()
        assert "STRICT_ALL_TABLES" in mode
        assert charset == "utf8mb4"
        assert packet >= 48 * 2**20
        assert is_socket_only == 1
