"""Nothing of one's own is lost: versions, days, the bin, the book, search, the account."""

import io
import json
import zipfile
from datetime import timedelta
from urllib.parse import urlsplit

import pytest
from django.apps import apps
from django.core.management import call_command
from django.test import Client
from django.urls import reverse
from django.utils import timezone
from pypdfium2 import PdfDocument

from mosaic.build_file import write
from mosaic.screens.screen import Element, Screen
from tests.mosaic.handover.made_up import build as made_build
from workshop.accounts.models import User
from workshop.builds.models import Build
from workshop.documents import services as documents
from workshop.documents.models import Document, Revision
from workshop.home.bin import empty, kinds
from workshop.journal import services as journal
from workshop.journal.models import BookLink, LogEntry, SavedSearch, Version
from workshop.log.days import as_it_was
from workshop.screens.documents import ScreenDocument
from workshop.stations.build_file import bring_build, build_file


@pytest.fixture
def slip(maker):
    """A whole build on a small OLED."""
    file = made_build("mono-oled-128x64")
    return bring_build(write(file.build, file.files), owner=maker)


def fresh(build):
    """The build as another request sees it."""
    return Build.objects.get(pk=build.pk)


def at(name, build, *more):
    return reverse(name, args=[build.pk, *more])


def first_screen(build):
    row = ScreenDocument.objects.of(build.pk).first()
    row.build = build
    return row


class TestVersions:
    def test_back_and_forward_again_is_the_same_to_the_byte(self, signed_in, slip):
        before = build_file(slip)
        signed_in.post(at("keep-version", slip), {"name": "first"})
        row = first_screen(slip)
        documents.save(row, base=row.head_id, record=Screen((Element("e1", "text", text="Ebb"),)), name="Other")
        documents.add(ScreenDocument, build=fresh(slip), name="New", record=Screen())
        documents.delete(ScreenDocument.objects.of(slip.pk).last())
        Build.objects.filter(pk=slip.pk).update(rotation=180, place="indoors")
        after = build_file(fresh(slip))
        assert after != before
        version = Version.objects.get(name="first")
        page = signed_in.get(at("version", slip, version.pk)).content.decode()
        assert "rotation: 0 → 180" in page
        signed_in.post(at("return-to-version", slip, version.pk))
        assert build_file(fresh(slip)) == before
        forward = Version.objects.get(name="before first")
        signed_in.post(at("return-to-version", slip, forward.pk))
        assert build_file(fresh(slip)) == after
        assert Version.objects.filter(build=slip).count() == 3

    def test_a_return_can_be_undone_document_by_document(self, signed_in, slip):
        signed_in.post(at("keep-version", slip), {"name": "first"})
        row = first_screen(slip)
        changed = documents.save(row, base=row.head_id, record=Screen((Element("e1", "text", text="Ebb"),)))
        signed_in.post(at("return-to-version", slip, Version.objects.get().pk))
        now = first_screen(slip)
        assert now.record == row.record
        assert documents.undo(now, base=now.head_id).record == changed.record

    def test_what_is_refused(self, signed_in, slip, monkeypatch):
        assert signed_in.post(at("keep-version", slip), {"name": "  "}).status_code == 422
        monkeypatch.setattr("workshop.log.version_views.MOST_VERSIONS", 1)
        signed_in.post(at("keep-version", slip), {"name": "one"})
        full = signed_in.post(at("keep-version", slip), {"name": "two"})
        assert full.status_code == 422
        assert "delete one first" in full.content.decode()
        signed_in.post(at("return-to-version", slip, Version.objects.get().pk))  # room is made: what is there now is never lost
        assert [v.name for v in Version.objects.filter(build=slip)] == ["before one"]
        other = Client()
        other.force_login(User.objects.create_user("other"))
        assert other.post(at("return-to-version", slip, Version.objects.get().pk)).status_code == 404

    def test_a_deleted_version_comes_back(self, signed_in, slip):
        signed_in.post(at("keep-version", slip), {"name": "first"})
        one = Version.objects.get()
        signed_in.post(at("delete-version", slip, one.pk))
        assert not Version.objects.exists()
        signed_in.post(reverse("bring-back", args=["journal.version", one.pk]))
        assert bytes(Version.objects.get().build_file) == bytes(one.build_file)


class TestDays:
    def test_the_build_as_it_was_and_back_to_it(self, signed_in, slip):
        week = timezone.now() - timedelta(days=7)
        Revision.objects.filter(document__build=slip).update(made=week)
        before = build_file(slip)
        row = first_screen(slip)
        documents.save(row, base=row.head_id, record=Screen((Element("e1", "text", text="Ebb"),)), name="Other")
        documents.add(ScreenDocument, build=fresh(slip), name="New", record=Screen())
        last = ScreenDocument.objects.of(slip.pk).exclude(name__in=["Other", "New"]).first()
        if last is not None:
            last.build = slip
            documents.delete(last)
        day = timezone.localtime(week).date()
        names = {revision.name for revision in as_it_was(slip, day)}
        assert row.name in names
        assert not names & {"Other", "New"}
        page = signed_in.get(at("versions", slip), {"on": day.isoformat()}).content.decode()
        assert f"At the end of {day.isoformat()}" in page
        signed_in.post(at("return-to-day", slip), {"on": day.isoformat()})
        assert build_file(fresh(slip)) == before
        assert Version.objects.get(build=slip).name == f"before {day.isoformat()}"

    def test_days_that_are_none(self, signed_in, slip):
        for day, words in (("soon", "is no day"), ("2999-01-01", "still to come")):
            assert words in signed_in.get(at("versions", slip), {"on": day}).content.decode()
        early = signed_in.post(at("return-to-day", slip), {"on": "2020-01-01"})
        assert early.status_code == 422
        assert "here was nothing yet" in early.content.decode()
        assert not Version.objects.exists()


class TestBin:
    def test_everything_removable_has_an_owner(self, db):
        assert {kind._meta.label_lower for kind in kinds()} >= {"builds.build", "journal.logentry", "journal.version"}
        for kind in kinds():
            assert kind.everything.filter(**{kind.OWNER: None}).count() == 0

    def test_documents_and_builds_are_listed_brought_back_and_gone_after_thirty_days(self, signed_in, slip):
        row = first_screen(slip)
        documents.delete(row)
        page = signed_in.get(reverse("bin")).content.decode()
        assert row.name in page
        signed_in.post(reverse("bring-document-back", args=[row.pk]))
        assert first_screen(slip).pk == row.pk
        slip.remove()
        page = signed_in.get(reverse("bin")).content.decode()
        assert slip.name in page
        now = timezone.now()
        Build.everything.filter(pk=slip.pk).update(removed=now - timedelta(days=30) + timedelta(minutes=1))
        empty()
        assert Build.everything.filter(pk=slip.pk).exists()
        Build.everything.filter(pk=slip.pk).update(removed=now - timedelta(days=30, minutes=1))
        assert slip.name not in signed_in.get(reverse("bin")).content.decode()
        call_command("empty_bin", stdout=io.StringIO())
        assert not Build.everything.filter(pk=slip.pk).exists()
        assert not Document.everything.filter(build_id=slip.pk).exists()

    def test_an_old_document_goes_and_a_newer_one_stays(self, slip):
        rows = list(Document.objects.filter(build=slip)[:2])
        for row, days in zip(rows, (31, 29), strict=True):
            Document.everything.filter(pk=row.pk).update(deleted=timezone.now() - timedelta(days=days))
        empty()
        assert [Document.everything.filter(pk=row.pk).exists() for row in rows] == [False, True]

    def test_what_is_others_stays_theirs(self, slip):
        row = first_screen(slip)
        documents.delete(row)
        other = Client()
        other.force_login(User.objects.create_user("other"))
        assert row.name not in other.get(reverse("bin")).content.decode()
        assert other.post(reverse("bring-document-back", args=[row.pk])).status_code == 404


class TestBook:
    def test_everything_is_in_it(self, signed_in, slip):
        journal.write(slip, "fix", "The flex cable was seated anew.")
        page = signed_in.get(at("book", slip)).content.decode()
        for words in (
            "Screens",
            "Wiring",
            "Set-up",
            "Budgets",
            "Plan",
            "Findings",
            "With care",
            "The flex cable was seated anew.",
        ):
            assert words in page
        states = sum(len(screen.states) for screen in _shown(slip))
        assert page.count("<figure>") == states

    def test_as_pdf_page_by_page(self, signed_in, slip):
        journal.write(slip, "note", "The last words.")
        answer = signed_in.get(at("book-pdf", slip))
        assert answer["Content-Type"] == "application/pdf"
        pages = [page.get_textpage().get_text_bounded() for page in PdfDocument(answer.content)]
        assert len(pages) > 1
        assert slip.name in pages[0]
        assert all(f"{n} of {len(pages)}" in text for n, text in enumerate(pages, 1))
        assert "The last words." in "".join(pages)

    def test_a_link_reads_it_until_it_is_revoked(self, signed_in, slip):
        page = signed_in.post(at("book-link", slip))
        path = urlsplit(page.context["address"]).path
        anybody = Client()
        read = anybody.get(path)
        assert read.status_code == 200
        assert slip.name in read.content.decode()
        assert read["X-Robots-Tag"] == "noindex"
        assert "<form" not in read.content.decode()
        assert path not in signed_in.get(at("book", slip)).content.decode()  # it is shown once
        assert BookLink.objects.get().token_hash not in path
        slip.remove()
        assert anybody.get(path).status_code == 404
        slip.bring_back()
        signed_in.post(at("book-link", slip), {"revoke": "1"})
        assert anybody.get(path).status_code == 404
        assert anybody.get("/book/none/").status_code == 404


def _shown(build):
    from workshop.stations.exchange import shown_screens

    return shown_screens(build, build.to_device())


class TestSearch:
    @pytest.fixture
    def many(self, build):
        """10,000 entries, of which a few are what is looked for."""
        now, state = timezone.now(), journal.state_of(build)
        texts = ("Display library 1.4.0 worked with this panel.", "Address found 3D.", "Seated the cable anew.", "Nothing new.")
        rows = [
            journal.checked(LogEntry(build=build, kind="note", text=texts[min(3, n)], made=now - timedelta(hours=n), state=state, tags="cable" if n == 2 else ""))
            for n in range(10_000)
        ]  # fmt: skip
        LogEntry.objects.bulk_create(rows, batch_size=1000)
        return build

    def test_words_parts_versions_and_quantities(self, signed_in, many, django_assert_max_num_queries):
        journal.write(many, "measurement", quantity="voltage", value=3.71)
        for words, count in (
            ("worked panel 1.4.0", 1), ("address found 3d", 1), ("tag:cable", 1), ("kind:measurement", 1), ("quantity:voltage", 1),
            ("3.71 v", 1), ("part:e-paper", 10_001), ("worked:no", 0), ("nothing like it", 0), ("tide board", 10_001),
        ):  # fmt: skip
            with django_assert_max_num_queries(14):
                page = signed_in.get(reverse("search"), {"q": words})
            assert page.context["page"].paginator.count == count, words

    def test_percent_signs_are_only_signs(self, signed_in, build):
        journal.write(build, text="100% lit")
        journal.write(build, text="100 lit")
        assert signed_in.get(reverse("search"), {"q": "100%"}).context["page"].paginator.count == 1

    def test_builds_and_documents_are_found_and_others_are_not(self, signed_in, slip):
        name = first_screen(slip).name
        page = signed_in.get(reverse("search"), {"q": name.upper()})
        assert [build.pk for build in signed_in.get(reverse("search"), {"q": "OLED 128X64"}).context["builds"]] == [slip.pk]
        assert first_screen(slip).pk in [row.pk for row in page.context["documents"]]
        other = Client()
        other.force_login(User.objects.create_user("other"))
        page = other.get(reverse("search"), {"q": name})
        assert (list(page.context["builds"]), page.context["documents"]) == ([], [])

    def test_searches_are_kept_and_forgotten(self, signed_in, maker):
        answer = signed_in.post(reverse("keep-search"), {"q": "tag:cable & more"})
        assert answer["Location"] == "/search/?q=tag%3Acable+%26+more"
        signed_in.post(reverse("keep-search"), {"q": "tag:cable & more"})
        assert [row.words for row in SavedSearch.objects.filter(owner=maker)] == ["tag:cable & more"]
        assert "tag:cable &amp; more" in signed_in.get(reverse("search")).content.decode()
        signed_in.post(reverse("keep-search"), {"q": "tag:cable & more", "forget": "1"})
        assert not SavedSearch.objects.exists()
        assert signed_in.post(reverse("keep-search"), {"q": " "}).status_code == 422


class TestAccount:
    def test_another_password(self, signed_in, maker):
        page = signed_in.post(reverse("account"), {"old_password": "wrong", "new_password1": "x", "new_password2": "y"})
        assert page.status_code == 422
        new = "a-much-longer-password-2"
        post = {"old_password": "a-long-password-1", "new_password1": new, "new_password2": new}
        assert signed_in.post(reverse("account"), post).status_code == 302
        assert signed_in.get(reverse("account")).status_code == 200  # this browser stays signed in
        maker.refresh_from_db()
        assert maker.check_password(new)

    def test_set_anew_by_a_command(self, maker):
        out = io.StringIO()
        call_command("reset_password", "maker", stdout=out)
        password = out.getvalue().strip().rpartition(": ")[2]
        maker.refresh_from_db()
        assert maker.check_password(password)
        with pytest.raises(Exception, match="nobody called nobody; known: maker"):
            call_command("reset_password", "nobody")

    def test_everything_in_one_file(self, signed_in, slip):
        journal.write(slip, "fix", "Ebb & flow")
        answer = signed_in.get(reverse("export-account"))
        with zipfile.ZipFile(io.BytesIO(answer.content)) as archive:
            about = json.loads(archive.read("account.json"))
            (name,) = about["builds"]
            assert about["left_out"] == []
            assert archive.read(f"{name}/build.zip") == build_file(slip)
            assert json.loads(archive.read(f"{name}/log.json"))[-1]["text"] == "Ebb & flow"

    def test_deleted_and_back_by_signing_in(self, signed_in, maker, slip):
        link = urlsplit(signed_in.post(at("book-link", slip)).context["address"]).path
        wrong = signed_in.post(reverse("delete-account"), {"password": "wrong"})
        assert wrong.status_code == 422
        signed_in.post(reverse("delete-account"), {"password": "a-long-password-1"})
        assert signed_in.get("/").status_code == 302
        assert Client().get(link).status_code == 404
        empty()
        again = Client()
        post = {"username": "maker", "password": "a-long-password-1"}
        again.post(reverse("sign-in"), post)
        assert again.get("/").status_code == 200
        maker.refresh_from_db()
        assert maker.leaves is None
        User.objects.filter(pk=maker.pk).update(leaves=timezone.now() - timedelta(days=31))
        empty()
        assert not User.objects.filter(pk=maker.pk).exists()
        assert not Build.everything.filter(pk=slip.pk).exists()


def test_every_table_is_somebodys():
    """What a deleted account leaves behind is nothing of its own."""
    own = {model for model in apps.get_models() if any(f.name == "owner" for f in model._meta.get_fields())}
    assert all(model._meta.get_field("owner").remote_field.on_delete.__name__ == "CASCADE" for model in own)
