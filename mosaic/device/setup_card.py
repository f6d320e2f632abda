"""The set-up card: what has to be right on the maker's computer and on the board for a build to load and run."""

from dataclasses import dataclass, field
from typing import Annotated, Literal

from msgspec import Meta

Words = Annotated[str, Meta(max_length=2000)]
Line = Annotated[int, Meta(ge=0)]
PartKind = Literal["program", "files", "update slot", "other"]


@dataclass(frozen=True)
class Tool:
    """A tool or library: its exact version, and where it is kept."""

    name: Words
    version: Words = ""
    kept_in: Words = ""


@dataclass(frozen=True)
class Option:
    """An option of the board's settings."""

    name: Words
    value: Words = ""


@dataclass(frozen=True)
class MemoryPart:
    """A part of the flash."""

    name: Words
    kind: PartKind = "program"
    size_bytes: Annotated[int, Meta(ge=0)] = 0


@dataclass(frozen=True)
class Edit:
    """A change made inside a library's file, and the version it was made for."""

    library: Words
    version: Words = ""
    path: Words = ""
    line: Line = 0
    before: Words = ""
    after: Words = ""
    why: Words = ""


@dataclass(frozen=True)
class Trial:
    """A day on which it worked, or did not."""

    day: Annotated[str, Meta(pattern=r"^\d{4}-\d{2}-\d{2}$", description="a day such as 2026-05-31")]
    worked: bool = True
    words: Words = ""


@dataclass(frozen=True)
class SetupCard:
    """Everything of it; `loading` says how the board is brought into the mode in which it takes a program."""

    tools: tuple[Tool, ...] = ()
    options: tuple[Option, ...] = ()
    memory: tuple[MemoryPart, ...] = ()
    edits: tuple[Edit, ...] = ()
    loading: Words = ""
    trials: tuple[Trial, ...] = ()
    form: Literal[1] = field(default=1)

    @property
    def memory_bytes(self) -> int:
        return sum(part.size_bytes for part in self.memory)

    def size_of(self, kind: PartKind) -> int:
        return sum(part.size_bytes for part in self.memory if part.kind == kind)

    def tool(self, name: str) -> Tool | None:
        """The tool of this name, however it is written."""
        return next((tool for tool in self.tools if tool.name.strip().lower() == name.strip().lower()), None)


@dataclass(frozen=True)
class Clash:
    """Two cards that want different versions of one tool in one place."""

    tool: str
    kept_in: str
    wanted: str
    other: str
    other_wants: str


def clashes(card: SetupCard, others: dict[str, SetupCard]) -> list[Clash]:
    """Where other builds' cards, by their names, want another version of a tool kept in the same place.

    >>> a, b = SetupCard((Tool("compiler", "1.0", "home"),)), SetupCard((Tool("Compiler", "2.0", "home"),))
    >>> [(c.tool, c.wanted, c.other_wants) for c in clashes(a, {"Barometer": b})]
    [('compiler', '1.0', '2.0')]
    """
    found = []
    for tool in card.tools:
        for name, other in others.items():
            same = other.tool(tool.name)
            if same and tool.version and same.version and tool.kept_in == same.kept_in and tool.version != same.version:
                found.append(Clash(tool.name, tool.kept_in, tool.version, name, same.version))
    return found
