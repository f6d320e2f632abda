"""The socket behind the live feed: one client a build, on loopback, with a token; what it draws is kept for the page."""

import secrets
import socketserver
import time
from datetime import timedelta

from django.db import close_old_connections, transaction
from django.db.models import F
from django.utils import timezone

from mosaic.panels.geometry import Orientation
from mosaic.virtual.base import VirtualController
from mosaic.virtual.feed import FeedSession
from mosaic.virtual.panel import shown_pixels, virtual_panel
from workshop.bringup.models import Feed, FeedInput
from workshop.bringup.subjects import png_of_values, setting_of

CHUNK_BYTES = 32 * 1024
BYTES_A_SECOND = 4 * 1024 * 1024
KEEP_S = 0.15
"""What is drawn is kept no more often than this."""
LISTEN_S = 0.03
"""How often it is looked whether somebody touches the glass."""
IDLE_S = 600
HELD_FOR = timedelta(seconds=20)
"""A connection that has shown no sign of life for so long no longer holds its build."""


def hold(token: str, session: str) -> Feed:
    """Let a session have a build's feed.

    Raises
    ------
    PermissionError
        The token is unknown, or another program is feeding this build.
    """
    with transaction.atomic():
        feed = Feed.objects.select_for_update().select_related("build").filter(token=token, build__removed=None).first()
        if feed is None:
            raise PermissionError("this token belongs to no build; copy it from the page of the live feed")
        if feed.session and feed.seen and feed.seen > timezone.now() - HELD_FOR:
            raise PermissionError("another program is feeding this build; stop it first")
        feed.session, feed.seen, feed.messages, feed.values = session, timezone.now(), [], {}
        feed.byte_count = feed.line_count = 0
        feed.inputs.all().delete()
        feed.save(update_fields=["session", "seen", "messages", "values", "byte_count", "line_count"])
    return feed


class Keeper:
    """Keeps what one session draws, not too often."""

    def __init__(self, feed: Feed, session: str) -> None:
        self.feed, self.session = feed, session
        self.setting = setting_of(feed.build.to_device())
        self.panel: VirtualController = virtual_panel(self.setting.passport)
        self.kept_at = self.asked_at = 0.0
        self.is_dirty = True

    def keep(self, conversation: FeedSession, *, release: bool = False) -> None:
        """Write the glass and the messages, if there is something new and some time has passed."""
        if not release and (not self.is_dirty or time.monotonic() - self.kept_at < KEEP_S):
            return
        self.kept_at, self.is_dirty = time.monotonic(), False
        turn: Orientation = self.setting.turn
        png = png_of_values(shown_pixels(self.panel, turn), self.setting)
        Feed.objects.filter(pk=self.feed.pk, session=self.session).update(
            png=png, version=F("version") + 1, seen=timezone.now(), byte_count=self.panel.byte_count,
            line_count=conversation.line_count, values=dict(conversation.values), now_ms=float(self.panel.now_ms),
            messages=list(conversation.messages),
            **({"session": ""} if release else {}),
        )  # fmt: skip

    def inputs(self) -> list[str]:
        """Lines for the program that are due: what somebody does to the glass."""
        if time.monotonic() - self.asked_at < LISTEN_S:
            return []
        self.asked_at = time.monotonic()
        due = list(FeedInput.objects.filter(feed=self.feed, due__lte=timezone.now())[:40])
        if due:
            FeedInput.objects.filter(pk__in=[one.pk for one in due]).delete()
        return [one.line for one in due]


class Handler(socketserver.BaseRequestHandler):
    """One client."""

    def handle(self) -> None:
        close_old_connections()
        session = secrets.token_hex(8)
        keeper: Keeper | None = None

        def admit(token: str) -> VirtualController:
            nonlocal keeper
            keeper = Keeper(hold(token, session), session)
            return keeper.panel

        conversation = FeedSession(admit)
        self.request.settimeout(LISTEN_S)
        budget, last, idle_since = float(BYTES_A_SECOND), time.monotonic(), time.monotonic()
        try:
            while not conversation.is_closed and not self.server.is_stopping:  # type: ignore[attr-defined]
                if keeper:
                    self.answer(keeper.inputs())
                now = time.monotonic()
                budget, last = min(BYTES_A_SECOND, budget + (now - last) * BYTES_A_SECOND), now
                if budget < CHUNK_BYTES:  # too fast: what is not read waits in the client
                    time.sleep(CHUNK_BYTES / BYTES_A_SECOND)
                    continue
                try:
                    chunk = self.request.recv(CHUNK_BYTES)
                except TimeoutError:
                    if keeper:
                        keeper.keep(conversation)
                    if now - idle_since > IDLE_S:
                        break
                    continue
                if not chunk:
                    break
                idle_since = now
                budget -= len(chunk)
                self.answer(conversation.take(chunk))
                if keeper:
                    keeper.is_dirty = True
                    keeper.keep(conversation)
        except ConnectionError:
            pass
        finally:
            conversation.close()
            if keeper:
                keeper.keep(conversation, release=True)
            close_old_connections()

    def answer(self, lines: list[str]) -> None:
        """Tell the program."""
        if lines:
            self.request.sendall("".join(f"{line}\n" for line in lines).encode("ascii", "replace"))


class FeedServer(socketserver.ThreadingTCPServer):
    """Listens on loopback only; `max_clients` at once."""

    allow_reuse_address = True
    daemon_threads = True
    request_queue_size = 8

    def __init__(self, port: int, *, max_clients: int = 16) -> None:
        self.is_stopping = False
        self.max_clients = max_clients
        self._clients = 0
        super().__init__(("127.0.0.1", port), Handler)

    def verify_request(self, request, client_address) -> bool:
        return self._clients < self.max_clients

    def process_request_thread(self, request, client_address) -> None:
        self._clients += 1
        try:
            super().process_request_thread(request, client_address)
        finally:
            self._clients -= 1

    def stop(self) -> None:
        """Say good-bye to clients and stop listening."""
        self.is_stopping = True
        self.shutdown()
        self.server_close()
