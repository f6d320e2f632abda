"""Drives a virtual panel over a socket, from drawing code that runs on a PC.

Put it where the program's own transport is::

    with PanelFeed(8413, "TOKEN") as panel:
        panel.reset()
        panel.command(b"\\xAE")
        panel.data(buffer)
        panel.busy()
"""

import contextlib
import socket
import sys

BYTES_A_LINE = 4096


class PanelFeed:
    """A connection to the feed of one build. `complaints` are what the feed had to say against what was sent."""

    def __init__(self, port: int, token: str) -> None:
        self.complaints: list[str] = []
        self._socket = socket.create_connection(("127.0.0.1", port), 10)
        self._answers = self._socket.makefile("r", encoding="ascii", newline="\n")
        self._send(f"hello {token}")
        answer = self._answer()
        if not answer.startswith("ok"):
            raise PermissionError(answer.removeprefix("no "))
        self.width, self.height = (int(number) for number in answer.split()[1:])

    def __enter__(self) -> "PanelFeed":
        return self

    def __exit__(self, *_: object) -> None:
        self.close()

    def command(self, data: bytes) -> None:
        self._bytes("c", data)

    def data(self, data: bytes) -> None:
        self._bytes("d", data)

    def reset(self) -> None:
        self._send("reset")

    def delay(self, ms: int) -> None:
        self._send(f"delay {ms}")

    def busy(self) -> float:
        """Waits until the panel is idle; gives the milliseconds it took, in the panel's own time."""
        self._send("busy")
        return float(self._answer().removeprefix("idle "))

    def close(self) -> None:
        with contextlib.suppress(OSError, ValueError):
            self.busy()  # everything before it has been taken
        self._answers.close()
        self._socket.close()

    def _bytes(self, kind: str, data: bytes) -> None:
        for at in range(0, len(data), BYTES_A_LINE):
            self._send(f"{kind} {data[at : at + BYTES_A_LINE].hex()}")

    def _send(self, line: str) -> None:
        self._socket.sendall(f"{line}\n".encode("ascii"))

    def _answer(self) -> str:
        while True:
            line = self._answers.readline()
            if not line:
                raise ConnectionError("the feed has closed the connection")
            if not line.startswith("?"):
                return line.strip()
            self.complaints.append(line[2:].strip())
            print(f"panel feed: {line[2:].strip()}", file=sys.stderr)
