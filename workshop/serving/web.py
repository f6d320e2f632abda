"""The web server: one process for each core, all on one socket.

A process takes requests in and gives answers out without a thread of its own for each, so that idle and slow clients hold
nobody up; a whole request waits in a queue in which every maker has a turn.
"""

import os
import signal
import socket
import sys
from collections.abc import Callable
from typing import Any

import waitress
from waitress.task import ThreadedTaskDispatcher

from workshop.serving.fair import FairQueue

THREADS = 3
MOST_CONNECTIONS = 1000
LONGEST_IDLE_S = 60
MOST_BODY = 64 * 2**20
BACKLOG = 1024


def process_count() -> int:
    """As many processes as this one may use cores."""
    return len(os.sched_getaffinity(0))


def listening_socket(port: int, address: str = "127.0.0.1") -> socket.socket:
    """The socket that all web processes share, on loopback unless another address of this machine is given; raises `OSError`."""
    server = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
    server.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    server.bind((address, port))
    server.listen(BACKLOG)
    server.setblocking(False)
    return server


def serve_on(shared: socket.socket, application: Callable[..., Any], *, proxy: str = "") -> None:
    """Serve until this process is asked to end; requests that are being answered are answered."""
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    web_server(shared, application, proxy=proxy).run()


def web_server(shared: socket.socket, application: Callable[..., Any], *, proxy: str = "") -> Any:
    """A server on a shared socket. A `proxy` is the one address whose word on its clients is taken."""
    dispatcher = ThreadedTaskDispatcher()
    dispatcher.queue = FairQueue()
    dispatcher.queue_logger.setLevel("ERROR")  # that requests wait for each other is not worth a line each
    dispatcher.set_thread_count(THREADS)
    trusted = {"trusted_proxy": proxy, "trusted_proxy_headers": "x-forwarded-for x-forwarded-proto"} if proxy else {}
    return waitress.create_server(
        application, sockets=[shared], _dispatcher=dispatcher, threads=THREADS, connection_limit=MOST_CONNECTIONS,
        channel_timeout=LONGEST_IDLE_S, asyncore_use_poll=True, ident="", max_request_body_size=MOST_BODY,
        clear_untrusted_proxy_headers=True, **trusted,
    )  # fmt: skip
