"""A browser on the demo data: Debian's Chromium, the live server, signed in by one click."""

import json
import os
from pathlib import Path

import pytest
from django.db import connection

from workshop import memory
from workshop.demo.services import load_demo

AXE = (Path(__file__).resolve().parent.parent / "vendor" / "axe.min.js").read_text()
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "1")  # Playwright's loop runs in the tests' own thread


@pytest.fixture(scope="session")
def browser_type_launch_args():
    quiet = ["background-networking", "component-update", "sync", "quic"]
    return {
        "executable_path": "/usr/bin/chromium",
        "args": ["--no-sandbox", "--no-first-run", *(f"--disable-{q}" for q in quiet)],
    }


@pytest.fixture(scope="session")
def browser_context_args():
    return {"viewport": {"width": 1280, "height": 800}, "accept_downloads": True}


@pytest.fixture(scope="session")
def laid_out():
    """Names of the tables that hold rows once the demo is laid out; each has a copy beside it."""
    return []


@pytest.fixture
def demo(transactional_db, laid_out):
    """The demo: laid out once, and copied back for every further test."""
    memory.clear_all()  # counts of revisions come up again with what was copied back
    with connection.cursor() as cursor:
        cursor.execute("SET FOREIGN_KEY_CHECKS = 0")
        for table in laid_out:
            cursor.execute(f"INSERT IGNORE INTO `{table}` SELECT * FROM `copy_of_{table}`")
        cursor.execute("SET FOREIGN_KEY_CHECKS = 1")
    if laid_out:
        return
    load_demo()
    with connection.cursor() as cursor:
        for table in connection.introspection.table_names(cursor):
            cursor.execute(f"SELECT 1 FROM `{table}` LIMIT 1")
            if cursor.fetchone() and table != "django_migrations":
                cursor.execute(f"CREATE TABLE `copy_of_{table}` LIKE `{table}`")
                cursor.execute(f"INSERT INTO `copy_of_{table}` SELECT * FROM `{table}`")
                laid_out.append(table)


@pytest.fixture
def complaints(page):
    """What the page's console and its scripts complain of; refusals that are meant are not counted."""
    heard = []
    page.on("pageerror", lambda error: heard.append(str(error)))
    page.on(
        "console", lambda m: heard.append(m.text) if m.type == "error" and "422" not in m.text and "409" not in m.text else None
    )
    return heard


@pytest.fixture
def workshop(page, live_server, demo, complaints):
    page.set_default_timeout(15_000)
    page.goto(live_server.url)
    page.get_by_role("button", name="Walk into the demo workshop").click()
    page.get_by_role("heading", name="5 builds on the bench").wait_for()
    return page


def accessibility_faults(page) -> str:
    """What axe-core finds; "" is nothing."""
    # As an init script of the context it would fall under the page's policy; evaluated it does not.
    page.evaluate(AXE)
    # Only what is wrong is asked for: listing all that is right takes axe most of its time.
    found = page.evaluate("axe.run({resultTypes: ['violations']})")["violations"]
    return "\n".join(f"{v['id']}: {json.dumps([n['html'][:160] for n in v['nodes'][:3]])}" for v in found)
