"""The field desk and the field guide through their pages: figures in addresses, into a build, and in words where they are wrong."""

import re

import pytest
from django.conf import settings
from django.test import Client
from django.urls import NoReverseMatch, reverse

from mosaic.desk.arguments import ARGUMENTS
from mosaic.desk.desk import CALCULATORS
from tests.mosaic.desk.test_desk import said
from workshop.journal.models import LogEntry
from workshop.look.glossary import TERMS
from workshop.look.templatetags.look import term

ALL = [*((slug, "calculator") for slug in CALCULATORS), *((slug, "article") for slug in ARGUMENTS)]


@pytest.mark.django_db
@pytest.mark.parametrize(("slug", "where"), ALL)
class TestEach:
    def test_it_is_open_to_everybody_and_carries_its_figures(self, slug, where):
        one = {**CALCULATORS, **ARGUMENTS}[slug]
        answer = Client().get(reverse(where, args=[slug]))
        text = answer.content.decode()
        assert answer.status_code == 200
        assert answer.context["answer"].sentence == one.answer({})[0].sentence
        assert 'role="img"' in text
        again = Client().get(answer.context["address"].removeprefix("http://testserver"))
        assert again.context["answer"].sentence == answer.context["answer"].sentence

    def test_wrong_figures_stay_in_their_fields(self, slug, where):
        one = {**CALCULATORS, **ARGUMENTS}[slug]
        field = one.fields[0]
        answer = Client().get(reverse(where, args=[slug]), {field.name: "<b>much"})
        assert answer.status_code == 422
        assert answer.context["problems"].keys() == {field.name}
        assert "<b>much" not in answer.content.decode()

    def test_it_leads_to_a_page_of_a_build(self, slug, where, build):
        one = {**CALCULATORS, **ARGUMENTS}[slug]
        try:
            assert reverse(one.page, args=[build.pk])
        except NoReverseMatch:
            pytest.fail(f"{one.page} is no page of a build")


def test_the_desk_and_the_guide_show_all(signed_in):
    for page, ones in (("desk", CALCULATORS), ("guide", ARGUMENTS)):
        text = signed_in.get(reverse(page)).content.decode()
        assert all(one.question in text for one in ones.values())
    words = signed_in.get(reverse("glossary")).content.decode()
    assert all(f'id="{entry.slug}"' in words for entry in TERMS)
    assert sorted(entry.word.lower() for entry in TERMS) == [entry.word.lower() for entry in TERMS]
    assert {entry.article for entry in TERMS if entry.article} <= set(ARGUMENTS)


def test_figures_go_into_the_log_of_a_build(signed_in, build):
    post = {"build": build.pk, "cell": "coin-20", "idle": "10", "active": "20", "seconds": "1", "every": "60", "celsius": "20"}
    answer = signed_in.post(reverse("hand-figures-over", args=["runtime"]), post)
    assert answer["Location"] == reverse("energy", args=[build.pk])
    one = LogEntry.objects.get(build=build)
    assert one.text.startswith(said("runtime", **{name: value for name, value in post.items() if name != "build"})[0])
    assert "Asleep 10 µA" in one.text
    page = signed_in.get(one.page)
    assert page.context["answer"].sentence == one.text.splitlines()[0]
    for wrong, words in (({"build": ""}, "no build was chosen"), ({"build": build.pk, "idle": "x"}, "is none; a number")):
        refused = signed_in.post(reverse("hand-figures-over", args=["runtime"]), post | wrong)
        assert refused.status_code == 422
        assert words.lower() in refused.content.decode().lower()
    assert signed_in.post(reverse("hand-figures-over", args=["runtime"]), post | {"build": "999999"}).status_code == 404
    assert LogEntry.objects.count() == 1


def test_pages_of_a_build_lead_to_their_article(signed_in, build):
    assert reverse("article", args=["buffer-or-page"]) in signed_in.get(reverse("buffers", args=[build.pk])).content.decode()
    assert 'class="fm-tabs-guide"' not in signed_in.get(reverse("log", args=[build.pk])).content.decode()


@pytest.mark.django_db
def test_what_is_not_there():
    for page in ("calculator", "article"):
        assert Client().get(reverse(page, args=["none"])).status_code == 404


def test_words_on_pages_lead_to_what_is_meant_by_them(client, db):
    """Each `term` of a template is in the glossary, and its link ends at it."""
    words = client.get(reverse("glossary")).content.decode()
    used = set()
    for path in (settings.BASE_DIR / "workshop" / "templates").rglob("*.html"):
        used |= set(re.findall(r'{% term "([^"]+)"', path.read_text()))
    assert len(used) > 15
    for word in used:
        link = str(term(word, "shown"))
        assert link.startswith(f'<a class="fm-word" href="{reverse("glossary")}#')
        assert link.endswith(">shown</a>")
        assert f'<div id="{link.partition("#")[2].partition(chr(34))[0]}">' in words
    with pytest.raises(KeyError):
        term("no such word")
