"""The line of the stand-in: frames over a loopback port and over pseudo terminals, one program a build at a time.

A program on the port says "serial TOKEN" and a line feed first, and is answered "ok" or "no" with the reason; from then on bytes
go both ways as they would on the line. On a pseudo terminal there is nothing before the frames. What a program does not read is
lost after a second: the line does not wait.
"""

import contextlib
import os
import secrets
import select
import socket
import termios
import threading
import time
import tty
from collections.abc import Callable
from datetime import timedelta

from django.db import OperationalError, close_old_connections, transaction
from django.utils import timezone

from mosaic.serial.panel import SerialPanel
from workshop.screens.documents import design_of
from workshop.screens.models import SerialLine, SerialTouch
from workshop.screens.serial.services import plan_of

LOOK_S, KEEP_S, PLAN_S, REST_S, SLOW_S = 0.03, 0.15, 1.0, 0.5, 1.0
"""How often touches are looked for, what has changed is kept, the map is read anew; how long a pause ends a frame, a program may
leave bytes unread."""
HELD_FOR = timedelta(seconds=20)
CHUNK = 16 * 1024
MOST_CLIENTS, GREETING_BYTES, GREETING_S = 16, 200, 5.0
MOST_IDLE_S = 3600.0


def hold(line: SerialLine, session: str) -> None:
    """Let a connection have a build's panel.

    Raises
    ------
    PermissionError
        Another program is on its line.
    """
    with transaction.atomic():
        row = SerialLine.objects.select_for_update().get(pk=line.pk)
        if row.session and row.seen and row.seen > timezone.now() - HELD_FOR:
            raise PermissionError("another program is on this line; stop it first")
        SerialLine.objects.filter(pk=row.pk).update(session=session, seen=timezone.now())
        row.touches.all().delete()


class Wire:
    """One connection and the panel at its end."""

    def __init__(self, line: SerialLine, session: str, descriptor: int) -> None:
        self.line, self.session, self.descriptor = line, session, descriptor
        self.panel = self._panel()
        self.planned, self.kept, self.looked, self.heard = (time.monotonic() for _ in range(4))
        self.told, self.lost = -1, 0

    def _panel(self, before: SerialPanel | None = None) -> SerialPanel:
        build = self.line.build
        build.refresh_from_db()
        panel = SerialPanel(plan_of(build), tuple(design_of(build).values), build.to_device().clock_hz)
        if before is not None and before.width == panel.width:
            panel.memory, panel.page, panel.light, panel.sounds = before.memory, before.page, before.light, before.sounds
            panel.written, panel.line_ms, panel.said = before.written, before.line_ms, before.said
            panel.reader.frames, panel.reader.skipped, panel.reader.counts = (
                before.reader.frames, before.reader.skipped, before.reader.counts
            )  # fmt: skip
        return panel

    def step(self) -> bool:
        """What is to be done within a thirtieth of a second; False at the end of the connection."""
        ready, _, _ = select.select([self.descriptor], [], [], LOOK_S)
        now = time.monotonic()
        if ready:
            try:
                data = os.read(self.descriptor, CHUNK)
            except BlockingIOError:
                return True
            except OSError:
                return False
            if not data:
                return False
            self.heard = now
            self.send(self.panel.take(data))
        elif now - self.heard > REST_S:
            self.panel.rest()
        if now - self.looked >= LOOK_S:
            self.looked = now
            self._touches()
        if now - self.planned >= PLAN_S:
            self.planned = now
            if plan_of(self._fresh()) != self.panel.plan:
                self.panel = self._panel(self.panel)
        if now - self.kept >= KEEP_S:
            self.kept = now
            return self.keep()
        return True

    def _fresh(self):
        build = self.line.build
        build.refresh_from_db()
        return build

    def send(self, data: bytes) -> None:
        """Bytes to the program; what it does not take within a second is lost, and counted."""
        end = time.monotonic() + SLOW_S
        while data and time.monotonic() < end:
            try:
                data = data[os.write(self.descriptor, data) :]
            except BlockingIOError:
                select.select([], [self.descriptor], [], 0.05)
            except OSError:
                return
        if data:
            self.lost += len(data)
            self.panel.say(f"{len(data)} bytes were not read by the program, and are lost")

    def _touches(self) -> None:
        waiting = list(SerialTouch.objects.filter(line=self.line).order_by("pk")[:20])
        for touch in waiting:
            self.send(self.panel.touch(touch.event))
        if waiting:
            SerialTouch.objects.filter(pk__in=[touch.pk for touch in waiting]).delete()
            self.panel.changes += 1

    def state(self) -> dict[str, object]:
        """What the page shows of the panel."""
        panel = self.panel
        return {
            "readings": panel.readings(), "page": panel.page, "light": panel.light, "sounds": panel.sounds,
            "frames": panel.reader.frames, "skipped": panel.reader.skipped, "counts": dict(panel.reader.counts),
            "line_ms": round(panel.line_ms, 1), "said": list(panel.said), "lost": self.lost,
        }  # fmt: skip

    def keep(self, *, release: bool = False) -> bool:
        """Write down what is to be seen; False where somebody else holds the line now."""
        mark = self.panel.changes + self.panel.reader.frames + self.panel.reader.skipped
        row = SerialLine.objects.filter(pk=self.line.pk, session=self.session)
        if mark == self.told and not release:
            return bool(row.update(seen=timezone.now()))
        self.told = mark
        more = {"session": ""} if release else {}
        with transaction.atomic():
            found = row.select_for_update().first()
            if found is None:
                return False
            row.update(seen=timezone.now(), state=self.state(), version=found.version + 1, **more)
        return True

    def run(self, is_stopping: Callable[[], bool]) -> None:
        """Until one of the two ends goes away."""
        self.keep()
        while not is_stopping() and self.step():
            if time.monotonic() - self.heard > MOST_IDLE_S:
                break
        self.keep(release=True)


class LineServer:
    """Listens on loopback, and serves the pseudo terminals that builds ask for."""

    def __init__(self, port: int) -> None:
        self.socket = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
        self.socket.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        self.socket.bind(("127.0.0.1", port))
        self.socket.listen(8)
        self.port = self.socket.getsockname()[1]
        self.stopping = False
        self.clients = 0
        self.terminals: dict[int, threading.Thread] = {}

    def run(self) -> None:
        """Until it is stopped."""
        looked = 0.0
        while not self.stopping:
            ready, _, _ = select.select([self.socket], [], [], 0.2)
            if ready:
                with contextlib.suppress(OSError):
                    client, _ = self.socket.accept()
                    self._begin(client)
            if time.monotonic() - looked > 0.5:
                looked = time.monotonic()
                with contextlib.suppress(OperationalError):  # the database may be started anew
                    self._look_for_terminals()
                close_old_connections()
        self.socket.close()

    def stop(self) -> None:
        self.stopping = True

    def _begin(self, client: socket.socket) -> None:
        if self.clients >= MOST_CLIENTS:
            client.close()
            return
        self.clients += 1
        threading.Thread(target=self._client, args=(client,), daemon=True).start()

    def _client(self, client: socket.socket) -> None:
        close_old_connections()
        try:
            line = self._greeted(client)
            if line is not None:
                client.setblocking(False)
                session = secrets.token_hex(8)
                hold(line, session)
                client.send(b"ok\n")
                Wire(line, session, client.fileno()).run(lambda: self.stopping)
        except PermissionError as error:
            with contextlib.suppress(OSError):
                client.setblocking(True)
                client.sendall(f"no {error}\n".encode())
        except OSError:
            pass
        finally:
            client.close()
            self.clients -= 1
            close_old_connections()

    def _greeted(self, client: socket.socket) -> SerialLine | None:
        """The line that a program asks for by its token; None where it says nothing.

        Raises
        ------
        PermissionError
            The token is unknown.
        """
        client.settimeout(GREETING_S)
        said = b""
        try:
            while b"\n" not in said and len(said) < GREETING_BYTES:
                byte = client.recv(1)
                if not byte:
                    return None
                said += byte
        except TimeoutError:
            raise PermissionError("nothing was said; begin with “serial TOKEN” and a line feed") from None
        word, _, token = said.decode("ascii", "replace").strip().partition(" ")
        found = SerialLine.objects.select_related("build").filter(token=token, build__removed=None).first()
        if word != "serial" or found is None:
            raise PermissionError("this token belongs to no build; copy it from the page of the live panel")
        return found

    # Pseudo terminals

    def _look_for_terminals(self) -> None:
        for line in SerialLine.objects.select_related("build").filter(wants_terminal=True, build__removed=None):
            thread = self.terminals.get(line.pk)
            if thread is None or not thread.is_alive():
                self.terminals[line.pk] = threading.Thread(target=self._terminal, args=(line,), daemon=True)
                self.terminals[line.pk].start()

    def _terminal(self, line: SerialLine) -> None:
        close_old_connections()
        ours, theirs = os.openpty()
        try:
            tty.setraw(theirs, termios.TCSANOW)
            os.set_blocking(ours, False)
            session = secrets.token_hex(8)
            hold(line, session)
            SerialLine.objects.filter(pk=line.pk).update(terminal=os.ttyname(theirs))
            wire = Wire(line, session, ours)
            wire.run(lambda: self.stopping or not SerialLine.objects.filter(pk=line.pk, wants_terminal=True).exists())
        except PermissionError:
            time.sleep(1.0)  # another program has the line; the terminal waits until it is gone
        except OSError:
            pass
        finally:
            SerialLine.objects.filter(pk=line.pk).update(terminal="")
            os.close(ours)
            os.close(theirs)
            close_old_connections()
