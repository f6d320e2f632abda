"""`manage.py serve`: prepares what is missing and runs web server, worker and feeds until it is stopped."""

import os
import socket
import sys
import time
from pathlib import Path

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import connections

from workshop.serving.database import LONGEST_END_S as LONGEST_DATABASE_END_S
from workshop.serving.database import run_database, wait_until_it_answers
from workshop.serving.preparing import OlderDataError, prepare
from workshop.serving.processes import Processes
from workshop.serving.web import listening_socket, process_count, serve_on

WEB_END_S = 8.0
WORKER_NICE = 10
A_DAY_S = 86_400
"""Long work gives way to pages that somebody waits for."""

READY = """
Fine Mosaic:  http://{address}:{port}/
Demo sign-in: one click on the first page, or name "saltmarsh", password "boathouse-demo"
Ctrl-C stops everything; data stays in var/."""


LISTENS = """
This is open to everybody in the network of {address}. It speaks HTTP, which can be read along: passwords and tokens too.
Use it in a network of your own only, never on the internet, and stop it when you are done. Live feeds and serial panels stay
on this computer."""


def names_of(address: str) -> list[str]:
    """By what names this machine is called where it listens at an address."""
    if address != "0.0.0.0":  # every address of this machine
        return [address, socket.gethostname()]
    known = {str(one[4][0]) for one in socket.getaddrinfo(socket.gethostname(), None, socket.AF_INET)}
    return [*sorted(known), socket.gethostname()]


def is_free(port: int, address: str = "127.0.0.1") -> bool:
    """Whether a server could have this port."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((address, port))
        except OSError:
            return False
        return True


def free_port() -> int:
    """Any port that nobody has."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def answers(port: int, address: str = "127.0.0.1") -> bool:
    """Whether somebody listens there."""
    try:
        socket.create_connection(("127.0.0.1" if address == "0.0.0.0" else address, port), 0.2).close()
    except OSError:
        return False
    return True


class Command(BaseCommand):
    help = "Prepare what is missing and serve on loopback until stopped."

    def add_arguments(self, parser) -> None:
        parser.add_argument("--port", type=int, required=True)
        parser.add_argument("--listen", default="127.0.0.1", help="an address of this machine; loopback if left out")
        parser.add_argument("--var", type=Path, required=True, help="folder of data, logs and stamps")
        parser.add_argument("--fresh-demo", action="store_true", help="lay the demo out anew")

    def handle(self, *args, **options) -> None:
        port, var = options["port"], options["var"]
        run = var / "run"
        run.mkdir(parents=True, exist_ok=True)
        address = options["listen"]
        if address != "127.0.0.1":
            settings.ALLOWED_HOSTS = [*settings.ALLOWED_HOSTS, *names_of(address)]
            if not is_free(0, address):
                raise CommandError(f"{address} is no address of this machine; `hostname -I` lists them.", returncode=1)
        if not is_free(port, address):
            raise CommandError(f"Port {port} is taken by another program; choose another with --port N.", returncode=1)
        processes = Processes(run, lambda words: print(words, file=sys.stderr, flush=True))
        command = settings.BASE_DIR / "bin" / "database"
        processes.add("database", lambda: run_database(command, var / "db"), log="database", end_s=LONGEST_DATABASE_END_S)
        processes.look()
        try:
            self._serve(processes, port, var, options["fresh_demo"], address)
        finally:
            processes.end()

    def _serve(self, processes: Processes, port: int, var: Path, fresh_demo: bool, address: str) -> None:
        run = var / "run"
        if not wait_until_it_answers():
            raise CommandError(f"The database did not start; see {var / 'db' / 'mariadb.log'}", returncode=1)
        try:
            if prepare(var, fresh_demo=fresh_demo):
                self.stdout.write("The Saltmarsh Boathouse was laid out.")
        except OlderDataError as error:
            raise CommandError(str(error), returncode=1) from None
        # Live feeds and serial panels have the ports behind the page's, or any that are free.
        beside = port % 65535 + 1
        settings.FEED_PORT = beside if is_free(beside) else free_port()
        beside = beside % 65535 + 1
        settings.LINE_PORT = beside if is_free(beside) else free_port()
        # Read once, before the processes part.
        import workshop.urls  # noqa: F401
        from workshop.wsgi import application

        connections.close_all()
        shared = listening_socket(port, address)

        def work() -> None:
            os.nice(WORKER_NICE)
            call_command("db_worker", interval=0.5)

        def web() -> None:
            serve_on(shared, application, proxy=settings.PROXY)

        def tidy() -> None:
            while True:
                call_command("empty_bin", verbosity=0)
                connections.close_all()
                time.sleep(A_DAY_S)

        for number in range(1, process_count() + 1):
            processes.add(f"web server {number}", web, log="web", end_s=WEB_END_S)
        processes.add("worker", work)
        processes.add("bin", tidy)
        processes.add("feed", lambda: call_command("feed"))
        processes.add("serial lines", lambda: call_command("lines"), log="lines")
        processes.look()
        for _ in range(200):
            if answers(port, address):
                break
            time.sleep(0.05)
        else:
            raise CommandError(f"The web server did not start; see {run / 'web.log'}", returncode=1)
        print(READY.format(port=port, address="127.0.0.1" if address == "0.0.0.0" else address), flush=True)
        if address != "127.0.0.1":
            print(LISTENS.format(address=address), flush=True)
        processes.run()
