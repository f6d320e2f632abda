"""A refused form comes back on its own page, with what was typed; what is deleted comes back by the notice."""

from html.parser import HTMLParser

import pytest
from django.http import QueryDict
from django.urls import reverse

from mosaic.reduce.recipe import Recipe
from tests.conftest import gradient, png_of
from workshop.builds.models import Build
from workshop.documents.models import Document
from workshop.panels.models import Comparison
from workshop.panels.parts import panel_of
from workshop.panels.services import make_mine
from workshop.pictures.models import SavedRecipe
from workshop.pictures.recipes import save_as
from workshop.refused import Refused, refilled

HOST = "http://testserver"


def from_page(client, address, page, data):
    return client.post(address, data, HTTP_REFERER=HOST + page)


class Fields(HTMLParser):
    """Values of the fields of a page as a browser reads them, by name."""

    def __init__(self, page):
        super().__init__()
        self.values, self.area = {}, None
        self.feed(page)

    def handle_starttag(self, tag, attrs):
        given = dict(attrs)
        if tag == "input":
            on = "checked" in given if given.get("type") in ("checkbox", "radio") else given.get("value")
            self.values.setdefault(given.get("name"), on)
        self.area = given.get("name") if tag == "textarea" else self.area
        if tag == "option" and "selected" in given:
            self.values.setdefault("option", []).append(given["value"])

    def handle_data(self, data):
        if self.area:
            self.values[self.area] = self.values.get(self.area, "") + data

    def handle_endtag(self, tag):
        self.area = None if tag == "textarea" else self.area


class TestRefilled:
    page = (
        '<p>ä</p>\n<form action="/other/" method="post"><input name="name" value="a"></form>\n'
        '<form action="/here/" method="post"><input type="hidden" name="base" value="7"><input name="name" value="a" disabled>'
        '<input type="checkbox" name="wide" checked><input type="radio" name="way" value="1" checked>'
        '<input type="radio" name="way" value="2"><select name="pick"><option value="x" selected>x</option>'
        '<option value="y">y &amp; z</option></select><textarea name="long">old\n&lt;words</textarea></form><p>end</p>'
    )

    def refilled(self, query):
        return refilled(self.page, Refused("/here/", QueryDict(query), "no"), "/page/")

    def test_what_was_posted_stands_in_the_form_of_that_address_alone(self):
        page = self.refilled("base=3&name=%22%3Cb&way=2&pick=y&long=new%0A%3C%2Ftextarea%3E")
        mine = page[page.index('action="/here/"') :]
        found = Fields(mine).values
        assert (found["base"], found["name"], found["wide"], found["long"]) == ("7", '"<b', False, "new\n</textarea>")
        assert found["option"] == ["y"]
        assert '<input type="radio" name="way" value="2" checked>' in mine
        assert 'value="1" checked' not in mine
        assert page.startswith('<p>ä</p>\n<form action="/other/" method="post"><input name="name" value="a"></form>')
        assert page.endswith("</form><p>end</p>")

    def test_a_single_typed_field_is_marked(self):
        assert 'name="name" value="x" disabled aria-invalid="true"' in self.refilled("name=x")
        assert self.refilled("").count("aria-invalid") == 0

    def test_a_form_without_an_address_is_that_of_the_page(self):
        page = refilled(
            '<form method="post"><input name="a" value="1"></form>', Refused("/page/", QueryDict("a=2"), ""), "/page/"
        )
        assert 'value="2"' in page


class TestOnThePage:
    def test_a_name_that_is_empty_or_too_long(self, signed_in, picture):
        page = reverse("picture", args=[picture.build_id, picture.pk])
        for typed in ("", "x" * 81):
            answer = from_page(signed_in, reverse("rename-document", args=[picture.build_id, picture.pk]), page, {"name": typed})
            text = answer.content.decode()
            assert answer.status_code == 422
            assert "1 to 80 are accepted" in text
            assert f'value="{typed}"' in text
            assert 'aria-invalid="true"' in text
            assert "<h1>Not done" not in text

    def test_a_wrong_name_at_delete(self, signed_in, build):
        answer = from_page(
            signed_in, reverse("delete-build", args=[build.pk]), reverse("sheet", args=[build.pk]), {"name": "tide"}
        )
        assert answer.status_code == 422
        assert "type its name: Tide board" in answer.content.decode()
        assert Fields(answer.content.decode().split('id="delete-name"')[0].rsplit("<form", 1)[0]).values
        assert 'value="tide"' in answer.content.decode()

    def test_the_page_keeps_its_question(self, signed_in, build, picture):
        page = reverse("bringup-stages", args=[build.pk]) + "?stage=wiring"
        answer = from_page(signed_in, reverse("exchange-parts", args=[build.pk]), page, {"panel": "none"})
        assert answer.status_code == 422
        assert "there is no panel named" in answer.content.decode().lower()

    @pytest.mark.parametrize(
        "referer", ["", "https://elsewhere.example/builds/1/", HOST + "/nowhere/", HOST + "/builds/99999/sheet/"]
    )
    def test_without_a_page_of_ours_the_words_stand_alone(self, signed_in, build, referer):
        answer = signed_in.post(reverse("delete-build", args=[build.pk]), {"name": "x"}, HTTP_REFERER=referer)
        assert answer.status_code == 422
        assert "type its name" in answer.content.decode()


def undo(client, answer):
    back = answer.content.decode().split('class="fm-said"')[1].split('action="')[1].split('"')[0]
    return client.post(back)


class TestUndoOfDeleting:
    def test_a_build_comes_back_with_all_that_is_made_for_it(self, signed_in, picture):
        build = picture.build
        answer = signed_in.post(reverse("delete-build", args=[build.pk]), {"name": build.name}, follow=True)
        assert not Build.objects.exists()
        assert signed_in.get(reverse("sheet", args=[build.pk])).status_code == 404
        undo(signed_in, answer)
        assert signed_in.get(reverse("picture", args=[build.pk, picture.pk])).status_code == 200

    def test_what_is_ones_own(self, signed_in, maker):
        passport = make_mine(owner=maker, entry=panel_of(maker, "mono-oled-128x64"))
        comparison = Comparison.objects.create(owner=maker, name="Wall", board="small")
        for name, row, key in (("remove-panel", passport, passport.ref), ("remove-comparison", comparison, comparison.pk)):
            answer = signed_in.post(reverse(name, args=[key]), follow=True)
            assert not type(row).objects.exists()
            undo(signed_in, answer)
            assert type(row).objects.get().pk == row.pk

    def test_recipes_and_variants(self, signed_in, maker, picture):
        row = save_as(owner=maker, name="Night", recipe=Recipe(exposure=1.0))
        gone = signed_in.post(reverse("forget-recipe", args=[picture.build_id, picture.pk, row.pk]), follow=True)
        undo(signed_in, gone)
        assert SavedRecipe.objects.get().record.exposure == 1
        signed_in.post(reverse("forget-recipe", args=[picture.build_id, picture.pk, row.pk]), follow=True)
        assert save_as(owner=maker, name="Night", recipe=Recipe()).record == Recipe()
        variant = picture.variants.create(name="Bright", recipe=picture.description)
        gone = signed_in.post(reverse("drop-variant", args=[picture.build_id, picture.pk, variant.pk]), follow=True)
        assert not picture.variants.exists()
        undo(signed_in, gone)
        assert picture.variants.get().pk == variant.pk

    def test_a_document(self, signed_in, build, upload):
        signed_in.post(reverse("add-picture", args=[build.pk]), {"picture": upload(png_of(gradient(30, 60)))})
        (row,) = Document.objects.all()
        undo(signed_in, signed_in.post(reverse("delete-document", args=[build.pk, row.pk]), follow=True))
        assert Document.objects.get().pk == row.pk

    @pytest.mark.parametrize("label", ["builds.build", "auth.permission", "documents.document", "nothing"])
    def test_nothing_of_anybody_else(self, client, django_user_model, build, label):
        build.remove()
        client.force_login(django_user_model.objects.create_user("other"))
        assert client.post(reverse("bring-back", args=[label, build.pk])).status_code == 404
        assert not Build.objects.exists()
