"""Findings on the set-up card: parts that do not fit, edits made for another version, versions left open."""

from mosaic.device.setup_card import PartKind, SetupCard
from mosaic.findings import Finding, Severity
from mosaic.findings.memory import kib
from mosaic.findings.subjects import DeviceSubject


def _finding(id_: str, severity: Severity, what: str, why: str) -> Finding:
    return Finding(f"setup-card.{id_}", severity, "Set-up", what, why)


def memory_parts_too_large(subject: DeviceSubject) -> list[Finding]:
    """The parts of the memory split are larger than the flash."""
    card, flash = subject.device.setup_card, subject.device.board.flash_bytes
    if card is None or card.memory_bytes <= flash:
        return []
    what = f"The parts take {kib(card.memory_bytes)}, the flash has {kib(flash)}"
    return [_finding("parts-too-large", "must fix", what, "The board refuses the split, or the last part is overwritten.")]


def program_larger_than_its_part(subject: DeviceSubject) -> list[Finding]:
    """Program and pictures do not fit the part that is set aside for them; an update slot has to hold as much."""
    card, flash = subject.device.setup_card, subject.budget("flash")
    used = flash.value - flash.in_files
    found = []
    why_of: dict[PartKind, str] = {
        "program": "Loading stops at the end of the part (typical sizes).",
        "update slot": "An update over the air cannot be taken (typical sizes).",
    }
    for kind, why in why_of.items():
        size = card.size_of(kind) if card else 0
        if size and used > size:
            what = f"The program with its arrays takes {kib(used)}, the {kind} has {kib(size)}"
            found.append(_finding(f"{kind.replace(' ', '-')}-too-small", "must fix", what, why))
    return found


def files_larger_than_their_part(subject: DeviceSubject) -> list[Finding]:
    """What is kept as files does not fit the part of the flash that is set aside for files."""
    card, needed = subject.device.setup_card, subject.budget("flash").in_files
    if card is None or not card.memory or not needed or needed <= card.size_of("files"):
        return []
    size = card.size_of("files")
    room = f"the part for files has {kib(size)}" if size else "no part of the flash is set aside for files"
    why = "Files are cut off or missing, and their pictures stay blank. Make the part larger, or keep some of it as arrays."
    return [_finding("files-too-large", "must fix", f"Files take {kib(needed)}, {room}", why)]


def edits_made_for_another_version(subject: DeviceSubject) -> list[Finding]:
    """A library's file was edited in a version that is no longer the one in use."""
    card = subject.device.setup_card or SetupCard()
    found = []
    for edit in card.edits:
        tool = card.tool(edit.library)
        if tool and edit.version and tool.version and edit.version != tool.version:
            what = f"An edit in {edit.library} was made for {edit.version}; {tool.version} is in use"
            why = f"The new version has its own {edit.path or 'file'}: line {edit.line} is as it was before."
            found.append(_finding("edit-lost", "must fix", what, why))
    return found


def versions_left_open(subject: DeviceSubject) -> list[Finding]:
    """Tools without an exact version."""
    open_ = [tool.name for tool in (subject.device.setup_card or SetupCard()).tools if not tool.version]
    if not open_:
        return []
    why = "In a year it will be another one, and nobody knows what has changed."
    return [_finding("version-open", "worth fixing", f"No version is noted for {', '.join(open_)}", why)]
