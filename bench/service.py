"""A service of its own for measuring: `bin/start` in a folder of its own, on loopback, stopped and swept away at the end."""

import http.client
import http.cookiejar
import os
import re
import shutil
import subprocess
import tempfile
import time
import urllib.error
import urllib.parse
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
PORT = 8431
TOKEN = re.compile(r'name="csrfmiddlewaretoken" value="(\w+)"')


@dataclass
class Service:
    """A running service: where it is, and its folder."""

    folder: Path
    starter: subprocess.Popen
    address: str = f"http://127.0.0.1:{PORT}"

    def processes(self) -> dict[int, str]:
        """Numbers and commands of its processes, without the database."""
        told = subprocess.run(["pgrep", "-fa", str(self.folder)], capture_output=True, text=True, check=False).stdout
        found = dict(line.split(" ", 1) for line in told.splitlines())
        return {int(pid): words for pid, words in found.items() if "manage.py serve" in words}

    def database(self) -> int:
        return int((self.folder / "var" / "db" / "mariadb.pid").read_text())


def start(folder: Path, *, demo: bool = True) -> subprocess.Popen:
    out = (folder / "started").open("a+")
    begun = out.tell()
    words = [str(folder / "bin" / "start"), "--port", str(PORT)]
    # The demo hands builds over when it is laid, which is work of its own.
    starter = subprocess.Popen(words, stdout=out, stderr=subprocess.STDOUT, env={**os.environ, "MOSAIC_DEMO": str(int(demo))})
    last = time.monotonic() + 180
    while time.monotonic() < last:
        if "Ctrl-C" in (folder / "started").read_text()[begun:]:
            return starter
        time.sleep(0.1)
    raise RuntimeError((folder / "started").read_text())


@contextmanager
def service(*, demo: bool = True, data: Path | None = None) -> Iterator[Service]:
    """A copy of the program with its own data, in a given folder where one is; its packages are those of this one."""
    folder = Path(tempfile.mkdtemp(prefix="mosaic-bench-"))
    if data is not None:
        data.mkdir()
        (folder / "var").symlink_to(data)
    try:
        for name in ("bin", "mosaic", "workshop", "manage.py", "requirements.txt", "requirements-dev.txt"):
            source = ROOT / name
            (shutil.copytree if source.is_dir() else shutil.copy)(source, folder / name)
        (folder / ".venv").symlink_to(ROOT / ".venv")
        running = Service(folder, start(folder, demo=demo))
        yield running
    finally:
        subprocess.run([str(folder / "bin" / "start"), "--stop"], stdout=subprocess.DEVNULL, check=False)
        for made in (folder, data):
            if made is not None:
                shutil.rmtree(made, ignore_errors=True)


@dataclass
class Maker:
    """Somebody at a browser: cookies of their own, and the token of the page last loaded."""

    address: str
    jar: http.cookiejar.CookieJar = field(default_factory=http.cookiejar.CookieJar)
    token: str = ""

    def __post_init__(self) -> None:
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))

    def ask(
        self, path: str, fields: dict | bytes | None = None, headers: dict[str, str] | None = None
    ) -> tuple[int, str, float, str]:
        """(status, text, seconds, address at the end) of a request; a form where there are fields."""
        body = fields
        if isinstance(fields, dict):
            body = urllib.parse.urlencode({"csrfmiddlewaretoken": self.token, **fields}).encode("utf-8", "surrogatepass")
        request = urllib.request.Request(self.address + path, body, {"Referer": self.address + path, **(headers or {})})
        begun = time.monotonic()
        try:
            answer = self.opener.open(request, timeout=60)
        except urllib.error.HTTPError as error:
            answer = error
        except (urllib.error.URLError, http.client.HTTPException, OSError):
            return 0, "", time.monotonic() - begun, path
        try:
            text = answer.read().decode("utf-8", "replace")
        except (http.client.HTTPException, OSError):  # an answer that breaks off is none
            return 0, "", time.monotonic() - begun, path
        took = time.monotonic() - begun
        found = TOKEN.search(text)
        if found:
            self.token = found[1]
        return answer.status, text, took, answer.url.removeprefix(self.address)

    def upload(self, path: str, name: str, file_name: str, data: bytes) -> tuple[int, str, float, str]:
        """Send a file."""
        mark = "----boathouse"
        head = f'--{mark}\r\nContent-Disposition: form-data; name="csrfmiddlewaretoken"\r\n\r\n{self.token}\r\n'
        head += f'--{mark}\r\nContent-Disposition: form-data; name="{name}"; filename="{file_name}"\r\n'
        body = head.encode() + b"Content-Type: application/octet-stream\r\n\r\n" + data + f"\r\n--{mark}--\r\n".encode()
        return self.ask(path, body, {"Content-Type": f"multipart/form-data; boundary={mark}"})

    def sign_up(self, name: str) -> None:
        self.ask("/sign-up/")
        status, *_ = self.ask(
            "/sign-up/",
            {"username": name, "workshop_name": "", "password1": "boathouse-bench-1", "password2": "boathouse-bench-1"},
        )
        if status != 200:
            raise RuntimeError(f"{name} could not sign up: {status}")

    def new_build(self, panel: str = "epaper-296x128-four-colour") -> str:
        """The address of a new build's first page."""
        self.ask("/builds/new/")
        told = self.ask("/builds/new/", {"name": "Board", "panel": panel, "board": "low-power"})
        found = re.search(r"/builds/(\d+)/", told[3])
        if not found:
            raise RuntimeError(f"no build was made: {told[0]} {told[3]}")
        return f"/builds/{found[1]}/"


def share(values: list[float], part: float) -> float:
    """The value below which such a part of all lies."""
    ordered = sorted(values)
    return ordered[min(len(ordered) - 1, int(part * len(ordered)))]
