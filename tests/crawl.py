"""Walking from link to link, as far as they lead: one page of each kind."""

import re
from collections import Counter
from collections.abc import Callable, Iterator
from html import unescape

from django.http import HttpResponse
from django.test import Client

LINK = re.compile(r"""(?:href|src|hx-get)="(/[^"#?]*)(\?[^"#]*)?""")
HEAVY = ("/all-files", ".zip", "book.pdf", "/static/", "account/export", "sign-out")
"""What is made when it is asked for, and no page."""
ALIKE = re.compile(r"^/(panels|boards)/(?!own-|choose|identify|read)[^/]+/")
"""Pages of parts of the catalogue are of one kind each."""


def kind_of(address: str) -> str:
    """An address without its numbers and its query."""
    return re.sub(r"\d+", "0", ALIKE.sub(r"/\1/x/", address.partition("?")[0]))


def kind_in_build(address: str) -> str:
    """The same, pages of each build apart."""
    build = _build(address)
    return f"{build} {kind_of(address)}" if build.isdigit() else kind_of(address)


def each_kind(client: Client, kind_of: Callable[[str], str] = kind_of) -> Iterator[tuple[str, HttpResponse]]:
    """Address and answer of one of each kind, from the workshop on; builds take turns, so that each shows some of its pages."""
    waiting: dict[str, list[str]] = {"/": ["/"]}
    done, visits = set[str](), Counter[str]()
    while waiting:
        kind = next(iter(waiting))
        address = min(waiting.pop(kind), key=lambda one: visits[_build(one)])
        done.add(kind)
        visits[_build(address)] += 1
        answer = client.get(address)
        if answer.status_code == 302 and kind_of(answer["Location"]) == kind:
            address = answer["Location"]
            answer = client.get(address)
        yield address, answer
        found = [answer["Location"]] if answer.status_code == 302 else []
        if "text/html" in answer.get("Content-Type", "") and not answer.streaming:
            found += [unescape(path + rest) for path, rest in LINK.findall(answer.content.decode())]
        for link in found:
            if kind_of(link) not in done and not link.startswith("//") and not any(word in link for word in HEAVY):
                waiting.setdefault(kind_of(link), []).append(link)


def _build(address: str) -> str:
    parts = address.split("/")
    return parts[2] if parts[1] == "builds" and len(parts) > 2 else ""
