"""Reading what somebody brought, in processes of its own: what a damaged or hostile file breaks there harms nobody else.

A function that is marked with `apart` runs in a child process whose processor time, memory and answer are bounded. A
child that dies, for whatever reason, is a message to whoever brought the file; the next file gets another child. Children
live on between calls, so that a call costs little more than carrying its bytes over.
"""

import atexit
import contextlib
import functools
import importlib
import io
import os
import pickle
import resource
import select
import signal
import struct
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterator
from typing import Any, ParamSpec, TypeVar

from mosaic import errors
from mosaic.errors import BadPictureError, MosaicError

P = ParamSpec("P")
R = TypeVar("R")

CPU_S = 2.0
"""Processor time of one call."""
MEMORY_BYTES = 512 * 2**20
"""What a call may take beyond what an idle child has."""
MOST_ANSWER = 256 * 2**20
WALL_S = 30.0
"""How long a call may take on a busy machine; what only waits is ended, too."""
CHILDREN = 2
CALLS_A_CHILD = 500
"""After so many calls a child makes way for a fresh one: libraries leak."""
IDLE_S = 120.0
READ_AHEAD = ("mosaic.animation.frames", "mosaic.lettering.outline", "mosaic.lettering.pixel_font", "mosaic.lettering.kerning")
"""Modules that a child reads before its memory is bounded."""
_HEAD = struct.Struct("<BQ")
_DONE, _FAILED, _ITEM, _TOO_LARGE, _NO_MEMORY = range(5)
_here = False  # set in a child: there everything runs at once
_trusted: set[int] = set()


def trust(data: bytes) -> None:
    """Bytes that come with the program are read where they are. They have to stay alive."""
    _trusted.add(id(data))


def apart(*, cpu_s: float = CPU_S) -> Callable[[Callable[P, R]], Callable[P, R]]:
    """Run the function in a child process. Its arguments and its result are carried over; its first argument are the bytes.

    Errors of the program's own come back as they are, by their words. A child that runs out of time or memory, or dies,
    is a `BadPictureError` that says so.
    """

    def wrap(function: Callable[P, R]) -> Callable[P, R]:
        @functools.wraps(function)
        def call(*args: P.args, **kwargs: P.kwargs) -> R:
            if _here or (args and id(args[0]) in _trusted):
                return function(*args, **kwargs)
            answer: R = _children().call(_name(function), args, kwargs, cpu_s)
            return answer

        return call

    return wrap


def apart_by_item(*, cpu_s: float = CPU_S) -> Callable[[Callable[P, Iterator[R]]], Callable[P, Iterator[R]]]:
    """As `apart`, for a generator: each item has its own processor time, and one is made while the last is looked at."""

    def wrap(function: Callable[P, Iterator[R]]) -> Callable[P, Iterator[R]]:
        @functools.wraps(function)
        def call(*args: P.args, **kwargs: P.kwargs) -> Iterator[R]:
            if _here:
                return function(*args, **kwargs)
            return _children().iterate(_name(function), args, kwargs, cpu_s)

        return call

    return wrap


def _name(function: Callable[..., Any]) -> str:
    return f"{function.__module__}:{function.__qualname__}"


class _LostError(Exception):
    """A child has died; how, in words."""


class _Child:
    """One process, and the pipe to it."""

    def __init__(self) -> None:
        env = {"PATH": os.environ.get("PATH", ""), "PYTHONPATH": os.pathsep.join(sys.path), "OPENBLAS_NUM_THREADS": "1"}
        self.process = subprocess.Popen(
            [sys.executable, "-m", "mosaic.apart"], stdin=subprocess.PIPE, stdout=subprocess.PIPE, env=env, close_fds=True
        )
        self.calls, self.used_at = 0, time.monotonic()

    def send(self, message: Any) -> None:
        body = pickle.dumps(message, protocol=5)
        try:
            assert self.process.stdin is not None  # it is a pipe, asked for above
            self.process.stdin.write(_HEAD.pack(_DONE, len(body)) + body)
            self.process.stdin.flush()
        except OSError:
            raise _LostError(self.last_words()) from None

    def receive(self) -> tuple[int, Any]:
        """(kind, content) of an answer."""
        until = time.monotonic() + WALL_S
        kind, length = _HEAD.unpack(self._read(_HEAD.size, until))
        return kind, _Plain(io.BytesIO(self._read(length, until))).load()

    def _read(self, count: int, until: float) -> bytes:
        assert self.process.stdout is not None
        descriptor, out = self.process.stdout.fileno(), bytearray()
        while len(out) < count:
            ready, _, _ = select.select([descriptor], [], [], max(0.0, until - time.monotonic()))
            if not ready:
                self.end()
                raise _LostError("it took too long")
            chunk = os.read(descriptor, min(1 << 20, count - len(out)))
            if not chunk:
                raise _LostError(self.last_words())
            out += chunk
        return bytes(out)

    def last_words(self) -> str:
        """Why it is gone."""
        with contextlib.suppress(subprocess.TimeoutExpired):
            code = self.process.wait(5)
            if code in (-signal.SIGPROF, -signal.SIGXCPU):
                return f"it takes more than {CPU_S:g} s of computing"
            if code == -signal.SIGKILL:
                return f"it takes more than {MEMORY_BYTES // 2**20} MiB of memory"
        return "it ends the program that reads it"

    def end(self) -> None:
        self.process.kill()
        self.process.wait()
        for pipe in (self.process.stdin, self.process.stdout):
            if pipe is not None:
                with contextlib.suppress(OSError):
                    pipe.close()


class _Plain(pickle.Unpickler):
    """Takes what answers hold, and no function that would run something else."""

    KNOWN = frozenset({"frozenset", "set", "bytearray", "complex", "range", "slice", "object"})

    def find_class(self, module: str, name: str) -> Any:
        numbers = module.startswith("numpy") and name in ("_reconstruct", "ndarray", "dtype", "_frombuffer", "scalar")
        own = module.startswith("mosaic.") and isinstance(getattr(importlib.import_module(module), name, None), type)
        if numbers or own or (module == "builtins" and name in self.KNOWN) or (module, name) == ("_codecs", "encode"):
            return super().find_class(module, name)
        raise pickle.UnpicklingError(f"an answer holds {module}.{name}, which is not accepted")


class _Children:
    """The children of this process: as many as work at once, and no more than `CHILDREN`."""

    def __init__(self) -> None:
        self.process_id = os.getpid()
        self._room, self._room_of_items = threading.BoundedSemaphore(CHILDREN), threading.BoundedSemaphore(CHILDREN)
        self._lock = threading.Lock()
        self._idle: list[_Child] = []

    def call(self, name: str, args: tuple[Any, ...], kwargs: dict[str, Any], cpu_s: float) -> Any:
        with self._room:
            child = self._take()
            try:
                child.send((name, args, kwargs, cpu_s))
                answer = child.receive()
            except BaseException as error:
                child.end()
                if isinstance(error, _LostError):
                    raise BadPictureError(_words(args, str(error))) from None
                raise
            self._give_back(child)
        return _result(answer, args)

    def iterate(self, name: str, args: tuple[Any, ...], kwargs: dict[str, Any], cpu_s: float) -> Iterator[Any]:
        with self._room_of_items:  # of its own: what looks at items may call, too
            child, whole = self._take(), False
            try:
                child.send((name, args, kwargs, cpu_s))
                while True:
                    answer = child.receive()
                    if answer[0] != _ITEM:
                        break
                    yield answer[1]
                whole = True
            except _LostError as error:
                raise BadPictureError(_words(args, str(error))) from None
            finally:
                if whole:
                    self._give_back(child)
                else:
                    child.end()
        _result(answer, args)

    def _take(self) -> _Child:
        with self._lock:
            now = time.monotonic()
            for child in [c for c in self._idle if now - c.used_at > IDLE_S or c.process.poll() is not None]:
                self._idle.remove(child)
                child.end()
            found = self._idle.pop() if self._idle else None
        child = found or _Child()
        child.calls += 1
        return child

    def _give_back(self, child: _Child) -> None:
        child.used_at = time.monotonic()
        if child.calls >= CALLS_A_CHILD:
            child.end()
            return
        with self._lock:
            self._idle.append(child)

    def close(self) -> None:
        with self._lock:
            for child in self._idle:
                child.end()
            self._idle.clear()


_all: _Children | None = None
_all_lock = threading.Lock()


def _children() -> _Children:
    """Those of this process: what a fork has copied belongs to its parent."""
    global _all
    with _all_lock:
        if _all is None or _all.process_id != os.getpid():
            _all = _Children()
            atexit.register(_all.close)
        return _all


def _file_name(args: tuple[Any, ...]) -> str:
    """The name that a message begins with: readers are handed bytes and a name."""
    names = [arg for arg in args if isinstance(arg, str) and len(arg) < 200]
    return names[-1] if names else "the file"


def _words(args: tuple[Any, ...], why: str) -> str:
    return f"{_file_name(args)} cannot be read safely: {why}; save it in a simpler form, or smaller"


def _result(answer: tuple[int, Any], args: tuple[Any, ...]) -> Any:
    kind, content = answer
    if kind == _DONE:
        return content
    if kind == _NO_MEMORY:
        raise BadPictureError(_words(args, f"it takes more than {MEMORY_BYTES // 2**20} MiB of memory"))
    if kind == _TOO_LARGE:
        raise BadPictureError(_words(args, f"it unfolds to more than {MOST_ANSWER // 2**20} MiB"))
    class_name, words = content
    known = getattr(errors, class_name, None)
    raise (known if isinstance(known, type) and issubclass(known, MosaicError) else BadPictureError)(words)


# The child's side.


def _serve() -> None:
    global _here
    _here = True
    incoming, outgoing = sys.stdin.buffer, os.fdopen(os.dup(1), "wb")
    os.dup2(2, 1)  # what libraries print does not get between answers
    for module in READ_AHEAD:
        importlib.import_module(module)
    _bound_memory()
    while head := incoming.read(_HEAD.size):
        name, args, kwargs, cpu_s = pickle.loads(incoming.read(_HEAD.unpack(head)[1]))
        _answer(name, args, kwargs, cpu_s, outgoing)
        signal.setitimer(signal.ITIMER_PROF, 0)


def _bound_memory() -> None:
    with open("/proc/self/statm") as told:
        has = int(told.read().split()[0]) * resource.getpagesize()
    resource.setrlimit(resource.RLIMIT_AS, (has + MEMORY_BYTES, has + MEMORY_BYTES))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))


def _answer(name: str, args: tuple[Any, ...], kwargs: dict[str, Any], cpu_s: float, outgoing: io.BufferedWriter) -> None:
    def say(kind: int, content: Any) -> None:
        signal.setitimer(signal.ITIMER_PROF, 0)  # what waits for its reader takes no time
        body = pickle.dumps(content, protocol=5)
        if len(body) > MOST_ANSWER:
            kind, body = _TOO_LARGE, pickle.dumps(None)
        outgoing.write(_HEAD.pack(kind, len(body)))
        outgoing.write(body)
        outgoing.flush()
        signal.setitimer(signal.ITIMER_PROF, cpu_s)

    module, _, path = name.partition(":")
    function = getattr(importlib.import_module(module), path)
    signal.setitimer(signal.ITIMER_PROF, cpu_s)  # it ends the process: native code cannot be asked to stop
    try:
        found = function(*args, **kwargs)
        if isinstance(found, Iterator):
            for item in found:
                say(_ITEM, item)
            found = None
        say(_DONE, found)
    except MosaicError as error:
        say(_FAILED, (type(error).__name__, str(error)))
    except MemoryError:
        found = None
        say(_NO_MEMORY, None)
    except Exception as error:  # readers of foreign files raise whatever those lead them to
        say(_FAILED, ("BadPictureError", f"{_file_name(args)} is damaged and cannot be read ({type(error).__name__})"))


if __name__ == "__main__":
    from mosaic import apart as _module  # the module that others have marked functions with, not this copy of it

    _module._serve()
