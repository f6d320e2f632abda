"""What starts and keeps the service: processes that are started again, data of an earlier state, stamps."""

import subprocess
import sys
import textwrap

import pytest
from django.db.migrations.recorder import MigrationRecorder

from workshop.serving import preparing
from workshop.serving.management.commands.serve import answers, free_port, is_free

FAMILY = """
import os, sys, time
from pathlib import Path
from workshop.serving.processes import Processes
folder = Path(sys.argv[1])
def note(words):
    with (folder / "notes").open("a") as file: file.write(words + "\\n")
def steady():
    note("steady begins")
    time.sleep(60)
def frail():
    note("frail begins")
    print("what it said", flush=True)
    if (folder / "notes").read_text().count("frail begins") < 2: sys.exit(3)
    time.sleep(60)
processes = Processes(folder, lambda words: print(words, flush=True))
processes.add("steady one", steady)
processes.add("frail", frail)
processes.run(until=lambda: (folder / "notes").exists() and (folder / "notes").read_text().count("frail begins") == 2)
print("left over:", [member.pid for member in processes.members])
"""


def test_who_dies_is_started_again_and_told_and_all_end_together(tmp_path):
    done = subprocess.run(
        [sys.executable, "-c", textwrap.dedent(FAMILY), str(tmp_path)], capture_output=True, text=True, timeout=30, check=True
    )
    told, left = done.stdout.strip().splitlines()
    assert told == f"The frail ended; it is started again in 1 s. See {tmp_path / 'frail.log'}"
    assert left == "left over: [0, 0]"
    assert (tmp_path / "notes").read_text().split("\n").count("steady begins") == 1
    assert (tmp_path / "frail.log").read_text() == "what it said\nwhat it said\n"
    assert (tmp_path / "steady one.log").read_text() == ""


@pytest.mark.django_db
class TestOlderData:
    def test_a_database_of_this_program_is_taken(self):
        preparing.check_database()

    def test_one_with_migrations_that_are_gone_is_refused_in_words(self, tmp_path, monkeypatch):
        from django.db import connection

        MigrationRecorder(connection).record_applied("builds", "0009_texts")
        with pytest.raises(preparing.OlderDataError, match=r"move var/ away \(mv var var-before\) and start again"):
            preparing.check_database()

    def test_what_other_packages_have_dropped_is_none_of_ours(self):
        from django.db import connection

        MigrationRecorder(connection).record_applied("axes", "0042_gone")
        preparing.check_database()


def test_kernels_are_compiled_once_and_again_when_a_source_has_changed(tmp_path, monkeypatch):
    runs, mark = [], ["one"]
    monkeypatch.setattr(preparing, "warm", lambda: runs.append(mark[0]))
    monkeypatch.setattr(preparing, "kernels_mark", lambda: mark[0])
    stamp = tmp_path / "var" / "kernels-stamp"
    assert [preparing.compile_kernels(stamp), preparing.compile_kernels(stamp)] == [True, False]
    mark[0] = "two"
    assert preparing.compile_kernels(stamp)
    assert runs == ["one", "two"]


def test_the_mark_of_kernels_is_that_of_their_sources(tmp_path, monkeypatch):
    (tmp_path / "a.py").write_text("A = 1")
    monkeypatch.setattr(preparing.mosaic, "__file__", str(tmp_path / "__init__.py"))
    before = preparing.kernels_mark()
    assert preparing.kernels_mark() == before
    (tmp_path / "a.py").write_text("A = 2")
    assert preparing.kernels_mark() != before


def test_ports():
    import socket

    port = free_port()
    assert is_free(port)
    assert not answers(port)
    with socket.create_server(("127.0.0.1", port)):
        assert not is_free(port)
        assert answers(port)
