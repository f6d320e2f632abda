"""All pages together, on the demo: every link answers, no page asks the database for much, a stranger is let in nowhere, images
are kept for ever under their own key only, and junk in forms and addresses is answered in words."""

import random
import re
from html import unescape

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from django.urls import get_resolver, resolve, reverse
from django.urls.resolvers import URLPattern

from tests.crawl import each_kind
from workshop.accounts.models import User
from workshop.answers import FOR_EVER

MOST_QUERIES = 16
IMAGE = re.compile(r'["\'](/[^"\'\s]+\.png(?:\?[^"\'\s]*)?)["\']')
HOSTILE = (
    "", "²", "٣", "-1", "0", "9" * 19, "9" * 5000, "1e400", "inf", "nan", "NaN", "1.2.3", "1_000", "0x", "true", "null", "[]", "{}", "[null]",
    '{"exposure": NaN}', '{"a": 1e400}', '{"buffer_bands": [1]}', '{"opening": null}', '{"size_px": "x"}', '{"wiring": {"wires": null}}',
    '"\\ud800"', "[" * 3000, "[[1, 2], [3]]", "[[0,0],[null,9]]", '[["a","b"]]', "\x00", "￿", "a" * 3000, "#12", "<script>", "C,2A,1e999999999",
    "delay " + "9" * 400, "{x0/0}", "../../etc", "own-²", "build-٣", "figure-" + "9" * 30, "'; DROP TABLE", "💧" * 40, "1,5", " 7 ", "7\n8",
)  # fmt: skip
PRIVATE = re.compile(r"/builds/\d|/(panels|boards)/own-")
FORM = re.compile(r"(?s)<form([^>]*)>(.*?)</form>")
SENT_TO = re.compile(r'(?:\baction|hx-post|data-save|data-preview)="([^"]*)"')
NAME = re.compile(r'name="([^"]+)"')
SEED, TRIES = "boathouse", 100
_pages: dict[str, str] = {}


@pytest.fixture
def walker(demo):
    client = Client()
    client.force_login(demo)
    return client


@pytest.fixture
def pages(walker):
    """Text of a page of each kind by its address; the demo is the same for each test, so it is walked once."""
    if not _pages:
        for address, answer in each_kind(walker):
            assert answer.status_code in (200, 204, 302, 304), address
            is_page = answer.status_code == 200 and "text/html" in answer["Content-Type"] and not answer.streaming
            _pages[address] = answer.content.decode() if is_page else ""
    return _pages


def test_every_link_answers_and_few_queries_are_made(walker, pages):
    """Warm, as a maker who walks about sees it."""
    slow = []
    assert len(pages) > 120
    for address in pages:
        with CaptureQueriesContext(connection) as queries:
            walker.get(address)
        if len(queries) > MOST_QUERIES:
            slow.append(f"{address}: {len(queries)} queries")
    assert not slow, "\n".join(slow)


def test_every_mat_knows_how_large_its_panel_is(pages):
    mats = {address: text for address, text in pages.items() if 'class="fm-mat" id="mat"' in text}
    assert len(mats) > 10
    assert [address for address, text in mats.items() if not re.search(r'id="mat"[^>]* data-width-mm="\d+\.\d\d"', text)] == []


def test_a_stranger_is_let_in_nowhere(demo, pages):
    """Every page, picture and file of a build or a part of one's own, one of each kind, and whatever a form sends there."""
    stranger, nobody = Client(), Client()
    stranger.force_login(User.objects.create_user("stranger"))
    shown = {*pages, *(image for text in pages.values() for image in IMAGE.findall(unescape(text)))}
    seen, sent = (
        {resolve(a.partition("?")[0]).url_name: a for a in found if PRIVATE.match(a)} for found in (shown, forms_of(pages))
    )
    assert (len(seen) > 120, len(sent) > 60) == (True, True)
    assert [a for a in seen.values() if stranger.get(a).status_code != 404 or nobody.get(a).status_code != 302] == []
    assert [a for a in sent.values() if stranger.post(a).status_code != 404 or nobody.post(a).status_code != 401] == []


def test_every_kind_is_there_under_its_key_only(walker, pages):
    kinds = {
        "glass", "original-fitted", "shot", "lettering-glass", "glyph-png", "lettering-all", "measured-line", "lettering-cell", "specimen",
        "strip-sheet", "animation-frame", "bringup-film", "bringup-card-png", "bringup-right", "bringup-rendering", "bringup-snapshot",
        "bringup-drill-png",
    }  # fmt: skip
    addresses: dict[str, str] = {}
    for text in pages.values():
        for address in IMAGE.findall(unescape(text)):
            match = resolve(address.partition("?")[0])
            if "key" in match.kwargs:
                addresses.setdefault(match.url_name, address)
    assert kinds <= set(addresses), kinds - set(addresses)
    for name, address in addresses.items():
        path, _, query = address.partition("?")
        match = resolve(path)
        answer = walker.get(address)
        assert (answer.status_code, answer["Cache-Control"]) == (200, FOR_EVER), name
        other = reverse(name, kwargs=match.kwargs | {"key": "0" * len(match.kwargs["key"])})
        wrong = walker.get(f"{other}?{query}")
        assert wrong.status_code == 404 or wrong["Cache-Control"] == "no-store", name


def forms_of(pages: dict[str, str]) -> dict[str, set[str]]:
    """Every address that a form of the demo's pages is sent to, with the names of its fields."""
    found: dict[str, set[str]] = {}
    for page, text in pages.items():
        for head, body in FORM.findall(text):
            if "post" in head or "data-save" in head:
                for address in SENT_TO.findall(head) or [page]:
                    found.setdefault(address.partition("?")[0], set()).update(NAME.findall(body))
    return found


def test_junk_in_every_form_is_answered_in_words(demo, pages):
    client = Client(raise_request_exception=False)
    client.force_login(demo)
    dice = random.Random(SEED)
    forms = forms_of(pages)
    kinds: dict[str, list[str]] = {}
    for address in forms:
        kinds.setdefault(resolve(address).url_name, []).append(address)
    kinds.pop("sign-out", None)
    assert len(kinds) > 45, sorted(kinds)
    faults = []
    for number in range(TRIES):
        kind = sorted(kinds)[number % len(kinds)]
        address = dice.choice(kinds[kind])
        fields = {name: dice.choice(HOSTILE) for name in sorted(forms[address]) if name != "csrfmiddlewaretoken"}
        kept = dice.sample(sorted(fields), dice.randint(0, len(fields)))
        real = real_values(client, demo, address)
        posted = {**fields, **{n: real[n] for n in kept if n in real}}
        for name in [n for n in posted if n in ("picture", "file", "font", "photo", "upload")]:
            posted[name] = SimpleUploadedFile("x.png", dice.choice((b"", b"\x89PNG\r\n", b"GIF89a" + bytes(40), b"<svg/>")))
        answer = client.post(address, posted, headers={"hx-request": "true"} if dice.random() < 0.3 else {})
        if answer.status_code >= 500:
            faults.append((kind, {k: str(v)[:40] for k, v in posted.items()}))
    assert faults == []


def real_values(client, demo, address) -> dict[str, str]:
    """What a page would truly send beside the junk: where its documents and builds stand."""
    match = resolve(address)
    build = demo.builds.filter(pk=match.kwargs.get("build_id", 0)).first()
    heads = {name: number for name, number in match.kwargs.items() if name.endswith("_id") and name != "build_id"}
    row = build.documents.filter(pk=next(iter(heads.values()), 0)).first() if build else None
    return {"revision": str(build.revision)} | ({"base": str(row.head_id)} if row else {}) if build else {}


def test_junk_in_addresses_is_not_there(demo):
    """Queries of every page, and numbers in paths, in signs that only look like digits or are far too long."""
    client = Client(raise_request_exception=False)
    client.force_login(demo)
    dice, build = random.Random(SEED), demo.builds.order_by("pk").first()
    names = [name for name in _all_names(get_resolver()) if name]
    assert len(names) > 150
    asked = ("turn", "fault", "on", "by", "code", "zoom", "revision", "path", "from", "number", "weak", "page", "q", "with", "recipe", "original", "a", "b", "names")  # fmt: skip
    row = build.documents.filter(kind="picture").first()
    fill = {"build_id": build.pk, "picture_id": row.pk, "document_id": row.pk, "lettering_id": row.pk}
    for pattern, name in _patterns(get_resolver(), ""):
        if name in ("sign-out", "sign-in"):
            continue
        path = "/" + re.sub(r"<(?:\w+:)?(\w+)>", lambda m: str(fill.get(m[1], dice.choice(("1", "x", "9" * 30)))), pattern)
        query = {name: dice.choice(HOSTILE) for name in dice.sample(asked, 4)}
        answer = client.get(path, query)
        assert answer.status_code < 500, (name, path, query)


def _patterns(resolver, before: str):
    for entry in resolver.url_patterns:
        if isinstance(entry, URLPattern):
            if "(?P" not in str(entry.pattern):
                yield before + str(entry.pattern), entry.name
        else:
            yield from _patterns(entry, before + str(entry.pattern))


def _all_names(resolver):
    return [name for name in resolver.reverse_dict if isinstance(name, str)]
