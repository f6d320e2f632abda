"""A browser on the demo data: Debian's Chromium, the live server, signed in by one click."""

import json
import os
from pathlib import Path
from types import SimpleNamespace

import pytest
from django.conf import settings
from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY
from django.contrib.sessions.backends.db import SessionStore
from django.core.cache import cache
from django.db import connection
from playwright.sync_api import expect

from tests.demo_tables import checksums, lay_out, put_back
from workshop import memory
from workshop.accounts.models import User
from workshop.serving.backup import MOVED_ON

AXE = (Path(__file__).resolve().parent.parent / "vendor" / "axe.min.js").read_text()
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "1")  # Playwright's loop runs in the tests' own thread

PATIENCE = 60_000
"""Milliseconds until something counts as never coming: a shared machine may stand still for a quarter of a minute."""
expect.set_options(timeout=PATIENCE // 2)


ELSEWHERE = os.environ.get("MOSAIC_TESTED_AT", "")
"""Address of a service that runs by itself, on the database that these tests lay the demo in: see docs/running.md."""

if ELSEWHERE:

    @pytest.fixture(scope="session")
    def django_db_setup():
        """The service's own database is tested; none is made beside it."""

    @pytest.fixture(scope="session")
    def live_server():
        unchanged = SimpleNamespace(enable=lambda: None, disable=lambda: None)
        return SimpleNamespace(url=ELSEWHERE, _live_server_modified_settings=unchanged)  # which pytest-django sets and takes back


@pytest.fixture(scope="session")
def browser_type_launch_args():
    quiet = ["background-networking", "component-update", "sync", "quic"]
    return {
        "executable_path": "/usr/bin/chromium-headless-shell",
        "args": ["--no-sandbox", "--no-first-run", *(f"--disable-{q}" for q in quiet)],
    }


@pytest.fixture(scope="session")
def browser_context_args():
    return {"viewport": {"width": 1280, "height": 800}, "accept_downloads": True}


@pytest.fixture(scope="session")
def laid_out(django_db_setup, django_db_blocker):
    """The demo, laid out once with a signed-in session."""
    django_db_blocker.unblock()
    session = SessionStore()

    def sign_in() -> None:
        person = User.objects.get(username=settings.DEMO_USERNAME)
        session[SESSION_KEY], session[BACKEND_SESSION_KEY] = str(person.pk), "django.contrib.auth.backends.ModelBackend"
        session[HASH_SESSION_KEY] = person.get_session_auth_hash()
        session.save()

    if ELSEWHERE:  # nothing is left of what former tests have made there
        with connection.cursor() as cursor:
            kept = {"django_migrations", "django_content_type", "auth_permission"}
            put_back(cursor, sorted(set(connection.introspection.table_names(cursor)) - kept), fill=False)
    laid = lay_out(sign_in)
    yield SimpleNamespace(tables=laid.tables, sums=laid.sums, session=session.session_key)
    django_db_blocker.restore()


@pytest.fixture
def transactional_db(laid_out):
    """In place of emptying all tables, those that a test has changed are copied back before the next one."""
    with connection.cursor() as cursor:
        now = checksums(cursor, laid_out.tables)
        put_back(
            cursor, [table for table, before, after in zip(laid_out.tables, laid_out.sums, now, strict=True) if before != after]
        )
        if ELSEWHERE:  # what other processes remember goes by these counts: none may come up again for other contents
            cursor.execute(f"UPDATE builds_build SET content = {MOVED_ON}")
    cache.clear()
    memory.clear_all("contents of builds", "sources of frames")  # counts of revisions come up again with what was copied back


@pytest.fixture
def demo(transactional_db):
    """The demo as it is laid out."""


@pytest.fixture(scope="session")
def signed_in_context(browser, live_server, browser_context_args):
    """One browsing context for all tests, so that scripts and styles are read once."""
    context = browser.new_context(base_url=live_server.url, **browser_context_args)
    yield context
    context.close()


@pytest.fixture
def page(request, browser, live_server, signed_in_context, browser_context_args):
    """A page of its own; nobody is signed in yet. Tests marked `own_context` change more than their page, the clock for one."""
    own = bool(request.node.get_closest_marker("own_context"))
    context = browser.new_context(base_url=live_server.url, **browser_context_args) if own else signed_in_context
    context.clear_cookies()
    page = context.new_page()
    page.set_viewport_size(browser_context_args["viewport"])
    yield page
    if page.url.startswith(live_server.url):
        page.evaluate("localStorage.clear()")
    page.close()
    if own:
        context.close()


MEANT = ("409", "422", "ERR_ABORTED", "htmx:sendAbort", "htmx:abort")
"""Words of what is meant to happen: refusals in words, and requests that a newer one has taken the place of."""


@pytest.fixture
def complaints(page):
    """What the page's console and its scripts complain of; refusals that are meant are not counted."""
    heard = []
    page.on("pageerror", lambda error: heard.append(str(error)))
    page.on(
        "console", lambda m: heard.append(m.text) if m.type == "error" and not any(word in m.text for word in MEANT) else None
    )
    return heard


@pytest.fixture
def workshop(page, live_server, demo, laid_out, complaints):
    """Signed in, with the demo laid out; no page is asked for yet."""
    page.set_default_timeout(PATIENCE)
    page.context.add_cookies([{"name": settings.SESSION_COOKIE_NAME, "value": laid_out.session, "url": live_server.url}])
    return page


def idle(page) -> None:
    """Wait until nothing of a live form is on its way."""
    page.wait_for_function("() => !document.body.hasAttribute('data-busy')")


def until(page, condition) -> None:
    """Wait until something holds on the tests' side."""
    for _ in range(PATIENCE // 10):
        if condition():
            return
        page.wait_for_timeout(10)
    raise AssertionError("it never came about")


LAYOUT_RULES = ["color-contrast", "scrollable-region-focusable"]
"""Rules of axe whose answer may change with a page's width."""


def accessibility_faults(page, rules: list[str] | None = None) -> str:
    """What axe-core finds; "" is nothing."""
    # As an init script of the context it would fall under the page's policy; evaluated it does not.
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE)
    # Only what is wrong is asked for: listing all that is right takes axe most of its time.
    options = {"resultTypes": ["violations"]} | ({"runOnly": rules} if rules else {})
    found = page.evaluate("options => axe.run(options)", options)["violations"]
    return "\n".join(f"{v['id']}: {json.dumps([n['html'][:160] for n in v['nodes'][:3]])}" for v in found)


def faults_at_all_widths(page) -> list[str]:
    """What is wrong with a page at 1280 px, and what a phone's width and a large screen's add to it."""
    # Parts that are fetched after the page are waited for; nothing else keeps the network busy.
    page.wait_for_function("() => !document.querySelector('[hx-trigger=load], .htmx-request')")
    faults = [accessibility_faults(page)]
    for width, height in ((1280, 800), (390, 800), (1920, 1080)):
        page.set_viewport_size({"width": width, "height": height})
        wide = page.evaluate("document.documentElement.scrollWidth - innerWidth")
        faults += [f"{wide} px too wide at {width} px"] if wide > 0 else []
        if width != 1280:
            faults.append(accessibility_faults(page, LAYOUT_RULES))
    page.set_viewport_size({"width": 1280, "height": 800})
    return [fault for fault in faults if fault]
