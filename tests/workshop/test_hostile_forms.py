"""Every address that takes a form, with values that no page sends: each is an answer in words, and none a fault."""

import random
import re

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import get_resolver, resolve
from django.urls.resolvers import URLPattern

from tests.workshop.test_keyed_images import INNER, PAGES

HOSTILE = (
    "", "²", "٣", "-1", "0", "9" * 19, "9" * 5000, "1e400", "inf", "nan", "NaN", "1.2.3", "1_000", "0x", "true", "null", "[]", "{}", "[null]",
    '{"exposure": NaN}', '{"a": 1e400}', '{"buffer_bands": [1]}', '{"opening": null}', '{"size_px": "x"}', '{"wiring": {"wires": null}}',
    '"\\ud800"', "[" * 3000, "[[1, 2], [3]]", "[[0,0],[null,9]]", '[["a","b"]]', "\x00", "￿", "a" * 3000, "#12", "<script>", "C,2A,1e999999999",
    "delay " + "9" * 400, "{x0/0}", "../../etc", "own-²", "build-٣", "figure-" + "9" * 30, "'; DROP TABLE", "💧" * 40, "1,5", " 7 ", "7\n8",
)  # fmt: skip
FORM = re.compile(r"(?s)<form([^>]*)>(.*?)</form>")
SENT_TO = re.compile(r'(?:\baction|hx-post|data-save|data-preview)="([^"]*)"')
NAME = re.compile(r'name="([^"]+)"')
SEED, TRIES = "boathouse", 200


def forms_of(client, demo) -> dict[str, set[str]]:
    """Every address that a form of the demo's pages is sent to, with the names of its fields."""
    found: dict[str, set[str]] = {}
    pages = ["/", "/panels/", "/panels/identify/", "/builds/new/", "/panels/choose/", "/boards/"]
    for build in demo.builds.all():
        home = f"/builds/{build.pk}"
        pages += [f"{home}/sheet/", f"{home}/wiring/", f"{home}/setup-card/", f"{home}/check-sheet/", f"{home}/mounting/"]
        pages += [f"{home}/{page}" for page in PAGES]
    seen = set(pages)
    while pages:
        page = pages.pop()
        answer = client.get(page, follow=True)
        text = answer.content.decode() if answer.status_code == 200 else ""
        for head, body in FORM.findall(text):
            if "post" in head or "data-save" in head:
                for address in SENT_TO.findall(head) or [answer.request["PATH_INFO"]]:
                    found.setdefault(address.partition("?")[0], set()).update(NAME.findall(body))
        for inner in INNER.findall(text):
            if inner not in seen:
                seen.add(inner)
                pages.append(inner)
    return found


def test_junk_in_every_form_is_answered_in_words(demo):
    client = Client(raise_request_exception=False)
    client.force_login(demo)
    dice = random.Random(SEED)
    forms = forms_of(client, demo)
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
