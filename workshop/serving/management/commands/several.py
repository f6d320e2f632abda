"""`manage.py several`: what runs on several machines, on loopback: proxy, two web servers, two workers, feed, Redis, database."""

import os
import shutil
import sys
import time
from pathlib import Path

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import connections

from workshop.serving.database import LONGEST_END_S as LONGEST_DATABASE_END_S
from workshop.serving.database import run_database, wait_until_it_answers
from workshop.serving.management.commands.serve import A_DAY_S, WORKER_NICE, answers
from workshop.serving.preparing import prepare
from workshop.serving.processes import Processes
from workshop.serving.web import listening_socket, serve_on

WEB_SERVERS, WORKERS = 2, 2
SITE = """daemon off;
{user}
pid {run}/nginx.pid;
error_log {run}/proxy.log;
events {{ worker_connections 2048; }}
http {{
  access_log off;
  client_max_body_size 300m;
  client_body_temp_path {run}/body;
  proxy_temp_path {run}/proxied;
  fastcgi_temp_path {run}/a; uwsgi_temp_path {run}/b; scgi_temp_path {run}/c;
  upstream web {{ {servers} }}
  server {{
    listen 127.0.0.1:{port};
    location / {{
      proxy_pass http://web;
      proxy_http_version 1.1;
      proxy_buffering off;
      proxy_read_timeout 300s;
      proxy_set_header Host $http_host;
      proxy_set_header X-Forwarded-For $remote_addr;
      proxy_set_header X-Forwarded-Proto $scheme;
      proxy_next_upstream error timeout;
    }}
  }}
}}
"""
"""What the proxy is told: whoever answers takes the request; answers are passed on as they come."""


def _become(*words: str) -> None:
    program = shutil.which(words[0]) or f"/usr/sbin/{words[0]}"
    os.execv(program, [program, *words[1:]])


class Command(BaseCommand):
    help = "Run two web servers, two workers, a feed, Redis, a database and a proxy on loopback, until stopped."

    def add_arguments(self, parser) -> None:
        parser.add_argument("--port", type=int, required=True)
        parser.add_argument("--var", type=Path, required=True)

    def handle(self, *args, **options) -> None:
        port, var = options["port"], options["var"]
        run = var / "run"
        processes = Processes(run, lambda words: print(words, file=sys.stderr, flush=True))
        command = settings.BASE_DIR / "bin" / "database"
        processes.add("database", lambda: run_database(command, var / "db"), log="database", end_s=LONGEST_DATABASE_END_S)
        redis = ("redis-server", "--port", str(port + 5), "--bind", "127.0.0.1", "--dir", str(run), "--appendonly", "yes")
        processes.add("redis", lambda: _become(*redis))
        processes.look()
        try:
            if not wait_until_it_answers():
                raise CommandError(f"The database did not start; see {var / 'db' / 'mariadb.log'}", returncode=1)
            prepare(var)
            self._serve(processes, port, run)
        finally:
            processes.end()

    def _serve(self, processes: Processes, port: int, run: Path) -> None:
        import workshop.urls  # noqa: F401
        from workshop.wsgi import application

        connections.close_all()
        sockets = [listening_socket(port + 1 + n, "127.0.0.1") for n in range(WEB_SERVERS)]

        def work() -> None:
            os.nice(WORKER_NICE)
            # A worker that stays: one that is forked for each job would compile its kernels each time.
            call_command("rqworker", "default", job_class="django_tasks_rq.Job", worker_class="rq.worker.SimpleWorker")

        def tidy() -> None:
            while True:
                call_command("empty_bin", verbosity=0)
                connections.close_all()
                time.sleep(A_DAY_S)

        for number, shared in enumerate(sockets, 1):
            processes.add(
                f"web server {number}",
                lambda shared=shared: serve_on(shared, application, proxy=settings.PROXY),
                log=f"web{number}",
            )
        for number in range(1, WORKERS + 1):
            processes.add(f"worker {number}", work, log=f"worker{number}")
        processes.add("bin", tidy)
        processes.add("feed", lambda: call_command("feed"))
        processes.add("serial lines", lambda: call_command("lines"), log="lines")
        servers = " ".join(f"server 127.0.0.1:{port + 1 + n} max_fails=1 fail_timeout=1s;" for n in range(WEB_SERVERS))
        site = run / "proxy.conf"
        # Started by root, it would hand its work to somebody who may not look into this folder, where uploads pass through.
        user = "user root root;" if os.geteuid() == 0 else ""
        site.write_text(SITE.format(user=user, run=run, port=port, servers=servers))
        processes.add("proxy", lambda: _become("nginx", "-c", str(site), "-e", str(run / "proxy.log")))
        processes.look()
        for _ in range(200):
            if answers(port):
                break
            time.sleep(0.05)
        print(f"Fine Mosaic, as on several machines:  http://127.0.0.1:{port}/\nCtrl-C stops all of it.", flush=True)
        processes.run()
