"""All pages together, on the demo: every link answers, no page asks the database for much, and a stranger is let in nowhere."""

import re
from html import unescape

import pytest
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from django.urls import reverse

from workshop.accounts.models import User
from workshop.builds.models import Build

MOST_QUERIES = 20
LINK = re.compile(r"""(?:href|src|hx-get)="(/[^"#?]*)(\?[^"#]*)?""")
HEAVY = ("/all-files", ".zip", "book.pdf", "/static/", "account/export")
"""What is made when it is asked for, and no page."""


@pytest.fixture
def walker(demo):
    client = Client()
    client.force_login(demo)
    return client


def shape(address: str) -> str:
    """An address without its numbers: pages of one kind."""
    return re.sub(r"\d+", "0", address)


def test_every_link_answers_and_few_queries_are_made(walker):
    """From the workshop on, each kind of page once; warm, as a maker who walks about sees it."""
    waiting, seen, slow, wrong = ["/"], set(), [], []
    kinds: dict[str, int] = {}
    while waiting:
        address = waiting.pop()
        if address in seen or any(word in address for word in HEAVY):
            continue
        seen.add(address)
        kind = shape(address.partition("?")[0])
        kinds[kind] = kinds.get(kind, 0) + 1
        if kinds[kind] > 1:
            continue
        walker.get(address)
        with CaptureQueriesContext(connection) as queries:
            answer = walker.get(address)
        if answer.status_code not in (200, 204, 302, 304):
            wrong.append(f"{address}: {answer.status_code}")
        if len(queries) > MOST_QUERIES:
            slow.append(f"{address}: {len(queries)} queries")
        if answer.status_code == 302:
            waiting.append(answer["Location"])
        if "text/html" in answer.get("Content-Type", "") and not answer.streaming:
            waiting += [
                unescape(path + rest) for path, rest in LINK.findall(answer.content.decode()) if not path.startswith("//")
            ]
    assert not wrong, "\n".join(wrong)
    assert not slow, "\n".join(slow)
    assert len(kinds) > 150


def test_a_stranger_sees_no_page_of_a_build(demo):
    build = Build.objects.first()
    other = Client()
    other.force_login(User.objects.create_user("stranger"))
    for name in (
        "build-panel",
        "bringup-stages",
        "pictures",
        "letterings",
        "screens",
        "refresh",
        "hand-over",
        "log",
        "sheet",
        "wiring",
    ):
        assert other.get(reverse(name, args=[build.pk]), follow=True).status_code == 404
        assert Client().get(reverse(name, args=[build.pk])).status_code == 302
