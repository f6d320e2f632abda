"""What a hand-over consists of, as JSON: each file with its sum, what it is made of, and how it was checked."""

from dataclasses import dataclass
from typing import Annotated, Literal

from msgspec import Meta

Role = Literal["generated", "runtime", "yours", "data", "preview"]
"""Generated files are written again each time; the runtime is the same for every build; yours is written once and never again;
data goes to a partition or a card; previews are for people."""
Text = Annotated[str, Meta(max_length=400)]
Sum = Annotated[str, Meta(pattern="^[0-9a-f]{64}$")]


@dataclass(frozen=True)
class ListedFile:
    """A file: where it stands, what it is, its size in bytes and its SHA-256, what it is made of, and how it was checked.

    `checked` is "" where it was not, and `note` then says why.
    """

    path: Text
    role: Role
    size: Annotated[int, Meta(ge=0)]
    sha256: Sum
    of: tuple[Text, ...] = ()
    checked: Text = ""
    note: Text = ""


@dataclass(frozen=True)
class ListedDocument:
    """A document of the build: its reference, kind, name, the form of its description, and the SHA-256 of that."""

    ref: Text
    kind: Text
    name: Text
    form: int
    sha256: Sum


@dataclass(frozen=True)
class Left:
    """Something that no files could be made of, and why."""

    ref: Text
    name: Text
    why: Annotated[str, Meta(max_length=1000)]


@dataclass(frozen=True)
class Manifest:
    """A hand-over. `build_sha256` is that of the build file; `again` the command that makes the same bytes of it."""

    build: Text
    panel: Text
    board: Text
    build_sha256: Sum
    files: tuple[ListedFile, ...]
    documents: tuple[ListedDocument, ...] = ()
    left: tuple[Left, ...] = ()
    again: Text = "mosaic hand-over BUILD.zip --out DIR"
    passport_form: int = 1
    form: Literal[1] = 1
