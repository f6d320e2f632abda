"""Budgets restated from the files themselves: flash by part, files on their partition or card, RAM by what the program holds."""

from dataclasses import dataclass
from math import ceil
from typing import Literal

from mosaic.handover.making import HandOver
from mosaic.handover.panel_code import band_rows, is_direct
from mosaic.handover.proof import Proof
from mosaic.panels.windows import host_size

Basis = Literal["computed", "typical", "measured"]
PARTITION_BLOCK, CARD_CLUSTER = 4096, 32_768
"""Bytes in which a small flash file system and a card give out room; typical."""


@dataclass(frozen=True)
class SizePart:
    """A part: what it is, how many bytes it takes, and how that is known."""

    name: str
    bytes: int
    basis: Basis


@dataclass(frozen=True)
class DataFile:
    """A file for a partition or a card: its bytes, and the room it takes on either."""

    path: str
    bytes: int

    @property
    def on_partition(self) -> int:
        return ceil(self.bytes / PARTITION_BLOCK) * PARTITION_BLOCK

    @property
    def on_card(self) -> int:
        return ceil(self.bytes / CARD_CLUSTER) * CARD_CLUSTER


@dataclass(frozen=True)
class Sizes:
    """All of them. `partition_bytes` : of the set-up card's part for files; 0 where it says none."""

    flash: tuple[SizePart, ...]
    ram: tuple[SizePart, ...]
    files: tuple[DataFile, ...]
    partition_bytes: int

    @property
    def flash_bytes(self) -> int:
        return sum(part.bytes for part in self.flash)

    @property
    def ram_bytes(self) -> int:
        return sum(part.bytes for part in self.ram)

    @property
    def files_on_partition(self) -> int:
        return sum(one.on_partition for one in self.files)

    @property
    def files_fit(self) -> bool:
        return not self.partition_bytes or self.files_on_partition <= self.partition_bytes


def sizes_of(made: HandOver, proof: Proof) -> Sizes:
    """What was handed over, added up. Compiled sizes are those of the machine that compiled it."""
    project = made.project
    arrays = 0
    for part in project.of("picture"):
        if project.place(part) != "file" and not any(left.ref == part.ref for left in made.left):
            result = project.picture(part)
            arrays += len(result.stored) + len(result.mask or b"")
    letters = sum(
        project.packed(part).flash_bytes
        for part in project.of("lettering")
        if not any(left.ref == part.ref for left in made.left)
    )
    flash = [SizePart("pictures as arrays", arrays, "computed"), SizePart("letterings as arrays", letters, "computed")]
    screens = {one.path.removeprefix("src/") for one in made.files if one.of and one.of[0].startswith("screen-")}
    ram: list[SizePart] = []
    if proof.code_bytes:
        of_screens = sum(text + data for name, text, data, _ in proof.code_bytes if name in screens)
        rest = sum(text + data for name, text, data, _ in proof.code_bytes if name not in screens)
        flash += [
            SizePart("screens, with their letters and pictures", of_screens, "measured"),
            SizePart("runtime and behaviour", rest, "measured"),
        ]  # fmt: skip
    if made.has_program:
        buffer = _buffer_bytes(made)
        ram.append(SizePart("buffer to draw in", buffer, "computed"))
        if proof.code_bytes:
            held = sum(data + bss for _, _, data, bss in proof.code_bytes) - buffer
            ram.append(SizePart("values, behaviour and runtime", max(0, held), "measured"))
    files = tuple(DataFile(one.path, len(one.data)) for one in made.files if one.role == "data")
    card = project.device.setup_card
    return Sizes(tuple(part for part in flash if part.bytes), tuple(ram), files, card.size_of("files") if card else 0)


def _buffer_bytes(made: HandOver) -> int:
    device = made.project.device
    if is_direct(device):
        return 1
    width, _ = host_size(device.passport, device.turn)
    return int(device.passport.format.frame_bytes(width, band_rows(device)))
