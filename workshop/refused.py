"""A form that was refused comes back on its own page: what was typed stands in it, and what is wrong is said.

A view that takes a form may simply raise an error of the core. The page that the form was on is made anew, with the posted
values in the form of the same address, and the error in the page's notice.
"""

from copy import copy
from dataclasses import dataclass
from html import escape
from html.parser import HTMLParser
from urllib.parse import urlsplit

from django.http import HttpRequest, HttpResponse, QueryDict
from django.urls import Resolver404, resolve
from django.utils.datastructures import MultiValueDict

TYPED = {"text", "search", "number", "email", "url", "tel", "date", "time"}
OF_THE_PAGE = {"csrfmiddlewaretoken", "base", "revision"}
"""What a page says of itself, not its reader: it stays as the new page has it."""

Attributes = dict[str, str | None]


@dataclass(frozen=True)
class Refused:
    """A refused form: its address, what was posted, and the words of the error."""

    path: str
    values: QueryDict
    message: str


class _Refill(HTMLParser):
    """Finds where the values of one form stand in a page, and puts others there."""

    def __init__(self, page: str, refused: Refused, own_path: str) -> None:
        super().__init__()
        self.path, self.values, self.own_path = refused.path, refused.values, own_path
        self.starts = [0]
        for line in page.splitlines(keepends=True):
            self.starts.append(self.starts[-1] + len(line))
        self.splices: list[tuple[int, int, str]] = []
        self.typed: list[tuple[int, Attributes]] = []
        self.inside, self.select, self.area = False, "", -1
        self.feed(page)
        # Which of several fields is meant the words say; a single one is marked as well.
        if len(self.typed) == 1:
            number, attributes = self.typed[0]
            start, end, _ = self.splices[number]
            self.splices[number] = (start, end, _tag("input", attributes | {"aria-invalid": "true"}))

    def _here(self) -> int:
        line, column = self.getpos()
        return self.starts[line - 1] + column

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        given: Attributes = dict(attrs)
        if tag == "form":
            action = urlsplit(given.get("action") or self.own_path).path
            self.inside = (given.get("method") or "").lower() == "post" and action == self.path
            return
        if not self.inside:
            return
        name, value = given.get("name") or "", given.get("value") or ""
        if name in OF_THE_PAGE:
            return
        kind = (given.get("type") or "text").lower() if tag == "input" else tag
        if kind in ("checkbox", "radio"):
            self._put("input", given, "checked", (value or "on") in self.values.getlist(name))
        elif kind == "option" and self.select in self.values:
            self._put("option", given, "selected", value in self.values.getlist(self.select))
        elif kind == "select":
            self.select = name
        elif kind == "textarea" and name in self.values:
            self.area, self.area_name = self._here() + len(self.get_starttag_text() or ""), name
        elif kind in TYPED and name in self.values:
            changed = given | {"value": self.values[name]}
            self.typed.append((len(self.splices), changed))
            self._splice(_tag("input", changed))

    def handle_endtag(self, tag: str) -> None:
        if tag == "form":
            self.inside = False
        elif tag == "select":
            self.select = ""
        elif tag == "textarea" and self.area >= 0:
            self.splices.append((self.area, self._here(), escape(self.values[self.area_name])))
            self.area = -1

    def _put(self, tag: str, given: Attributes, flag: str, is_on: bool) -> None:
        others = {key: value for key, value in given.items() if key != flag}
        self._splice(_tag(tag, others | ({flag: None} if is_on else {})))

    def _splice(self, text: str) -> None:
        start = self._here()
        self.splices.append((start, start + len(self.get_starttag_text() or ""), text))


def _tag(tag: str, attributes: Attributes) -> str:
    told = "".join(f" {key}" if value is None else f' {key}="{escape(value)}"' for key, value in attributes.items())
    return f"<{tag}{told}>"


def refilled(page: str, refused: Refused, own_path: str) -> str:
    """A page with the values that were posted in its form of the same address; `own_path` is the page's."""
    out, at = [], 0
    for start, end, text in _Refill(page, refused, own_path).splices:
        out += [page[at:start], text]
        at = end
    return "".join((*out, page[at:]))


def asked_from(request: HttpRequest) -> tuple[str, str] | None:
    """(path, query) of the page that the form was on; None where the browser did not say, or it was another host's."""
    came = urlsplit(request.META.get("HTTP_REFERER", ""))
    return (came.path, came.query) if came.netloc == request.get_host() and came.path else None


def page_again(request: HttpRequest, message: str, status: int) -> HttpResponse | None:
    """The page that a refused form was on; None where it cannot be made."""
    came = asked_from(request)
    if request.method != "POST" or came is None:
        return None
    return page_with(request, came, request.path, request.POST, message, status)


def page_with(
    request: HttpRequest, came: tuple[str, str], form_path: str, values: QueryDict, message: str, status: int
) -> HttpResponse | None:
    """The page at `came` (path, query), as its visitor would load it, with values in its form that is sent to `form_path`.

    None where it cannot be made.
    """
    path, query = came
    try:
        match = resolve(path)
    except Resolver404:
        return None
    again = copy(request)
    again.META = request.META | {"REQUEST_METHOD": "GET", "PATH_INFO": path, "QUERY_STRING": query}
    again.method, again.path, again.path_info, again.resolver_match = "GET", path, path, match
    again.__dict__["GET"] = QueryDict(query)
    again.POST, again._files = QueryDict(), MultiValueDict()  # type: ignore[attr-defined]
    refused = Refused(form_path, values, message)
    again.refused = refused  # type: ignore[attr-defined]
    try:
        page = match.func(again, *match.args, **match.kwargs)
    except Exception:  # whatever that page cannot do now: the bare page says what is wrong all the same
        return None
    if page.status_code != 200 or page.streaming or not page.get("Content-Type", "").startswith("text/html"):
        return None
    page.content = refilled(page.content.decode(), refused, path)
    page.status_code = status
    return page
