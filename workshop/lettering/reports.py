"""From a lettering's row and a plan to everything a page shows of it, kept under a key of all it depends on."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from mosaic.device.device import Device
from mosaic.errors import BadValueError, MosaicError
from mosaic.exports.rasters import encode_png
from mosaic.findings import Finding
from mosaic.findings.rules import lettering_findings
from mosaic.findings.subjects import LetteringSubject
from mosaic.forms import from_record
from mosaic.lettering.glyph import Lettering as Glyphs
from mosaic.lettering.making import Made, Sources, make
from mosaic.lettering.measure import pitch_mm
from mosaic.lettering.packing import Packed, order_of, pack
from mosaic.lettering.plan import LetteringPlan
from mosaic.lettering.shades import lay_out, on_panel, seen_mask, valid_color
from mosaic.lettering.texts import FieldText, parse_texts, widest
from mosaic.panels.appearance import colors_of
from workshop.documents import shelf
from workshop.documents.keys import digest, panel_part
from workshop.documents.models import Original
from workshop.lettering.cells import cells_by_name
from workshop.lettering.documents import Lettering
from workshop.lettering.specimens import colored
from workshop.memory import ByteCache

MIB = 1024 * 1024
USUAL_SAMPLE = "Slip, gate & tide 06:42 -12.5 °C 1013 hPa The quick boat turns at half ebb; jib, oars & vests fix"
_reports = ByteCache("letterings", 48 * MIB)
_fonts = ByteCache("fonts", 24 * MIB)


@dataclass(frozen=True, eq=False)
class Report:
    """One lettering under one plan."""

    key: str
    plan: LetteringPlan
    made: Made
    packed: Packed
    findings: tuple[Finding, ...]
    texts: tuple[FieldText, ...]

    @property
    def glyphs(self) -> Glyphs:
        return self.made.lettering


def fields_of(written: str) -> tuple[FieldText, ...]:
    """The texts of a build; they were checked when they were kept."""
    try:
        return parse_texts(written)
    except BadValueError:
        return ()


def font_of(lettering: Lettering) -> tuple[bytes, str] | None:
    """(bytes, name) of the lettering's own font."""
    key = lettering.original_id
    if key is None:
        return None

    def read() -> bytes:
        return bytes(Original.objects.values_list("data", flat=True).get(pk=key))

    return _fonts.get_or_make(key, read, len), lettering.file_name


def drawn_of(lettering: Lettering, plan: LetteringPlan) -> dict[str, int]:
    """The strips and figures whose cells a plan uses: their references, and the revision of each."""
    refs = sorted({use.source for use in plan.pictures})
    rows = [shelf.named(lettering.build, ref) for ref in refs]
    return {row.ref: row.head_id or 0 for row in rows if row is not None}


def report_key(lettering: Lettering, plan: LetteringPlan, device: Device, texts: str, drawn: dict[str, int]) -> str:
    """Key of everything that is shown of a lettering."""
    of_device = [*panel_part(device), device.viewing_distance_mm, device.sending.array_format(device.passport).describe()]
    return digest("lettering", from_record(plan), lettering.original_id, lettering.name, texts, drawn, *of_device)


def settled(plan: LetteringPlan, device: Device) -> LetteringPlan:
    """The plan with colours that this panel has."""
    ink, ground = device_colors(plan, device)
    return plan if (ink, ground) == (plan.ink, plan.ground) else plan.with_changes(ink=ink, ground=ground)


def device_colors(plan: LetteringPlan, device: Device) -> tuple[int, int]:
    """(ink, ground) on this panel; those kept for another panel fall back to its first two."""
    passport = device.passport
    return valid_color(passport, plan.ink, 0), valid_color(passport, plan.ground, 1)


def report_of(lettering: Lettering, plan: LetteringPlan, device: Device, texts: str) -> Report:
    """Everything of one lettering under one plan.

    Raises
    ------
    MosaicError
        The plan cannot be carried out.
    """
    plan = settled(plan, device)
    drawn = drawn_of(lettering, plan)
    key = report_key(lettering, plan, device, texts, drawn)

    def make_report() -> Report:
        fields = fields_of(texts)
        cells = cells_by_name(lettering.build, device, list(drawn))
        made = make(plan, Sources(pitch_mm(device)[1], font_of(lettering), fields, cells, device.viewing_distance_mm))
        named = Glyphs(
            lettering.name, made.lettering.glyphs, made.lettering.ascent, made.lettering.descent, made.lettering.bits,
            made.lettering.kerning, made.lettering.capital, made.lettering.x_height,
        )  # fmt: skip
        packed = pack(named, plan.box, order_of(plan.order, device.sending.array_format(device.passport)), plan.compression)
        found = lettering_findings(LetteringSubject(device, plan, made, packed, fields))
        return Report(key, plan, made, packed, tuple(found), fields)

    return _reports.get_or_make(key, make_report, lambda r: 2000 * len(r.glyphs.glyphs) + 4 * len(r.packed.pixels))


def lettering_figures(lettering: Lettering, device: Device, texts: str) -> dict[str, Any]:
    """Flash and findings of a saved lettering, kept with it as long as nothing they depend on changes."""
    plan = lettering.record
    key = report_key(lettering, settled(plan, device), device, texts, drawn_of(lettering, plan))
    if lettering.derived_key != key:
        lettering.derived_key, lettering.derived = key, figures(lettering, plan, device, texts)
        Lettering.objects.filter(pk=lettering.pk).update(derived_key=key, derived=lettering.derived)
    return lettering.derived


def figures(lettering: Lettering, plan: LetteringPlan, device: Device, texts: str) -> dict[str, Any]:
    """What budgets and stones need of a lettering under a plan; one that cannot be made is a finding."""
    try:
        report = report_of(lettering, plan, device, texts)
    except MosaicError as error:
        finding = Finding(
            "lettering.cannot-be-made", "must fix", "Lettering", f"{lettering.name} cannot be made: {error}",
            "Nothing of it can be drawn until it is changed.",
        )  # fmt: skip
        return {"flash_bytes": 0, "glyphs": 0, "line": 0, "findings": [from_record(finding)]}
    return {
        "flash_bytes": report.packed.flash_bytes, "glyphs": len(report.glyphs.glyphs), "line": report.glyphs.line_height,
        "findings": [from_record(finding) for finding in report.findings],
    }  # fmt: skip


def shown_lines(report: Report) -> tuple[list[str], bool]:
    """What is laid on the panel, and whether it may be broken into lines: a sample typed by hand, the build's texts at
    their widest, or words that hold about all letters."""
    if report.plan.sample:
        return report.plan.sample.splitlines(), False
    known = report.glyphs.by_code
    lines = [widest(text, report.glyphs)[0] for text in report.texts]
    if any(ord(character) in known for line in lines for character in line.replace(" ", "")):
        return lines, False
    words = [word for word in USUAL_SAMPLE.split() if all(ord(c) in known for c in word)]
    return [" ".join(words) if words else "".join(chr(code) for code in known)], True


def glass_png(report: Report, device: Device) -> bytes:
    """Lines of the lettering on the whole glass, in the panel's colours."""
    lines, breaks = shown_lines(report)
    levels = lay_out(report.glyphs, seen_mask(device.passport, device.turn), lines, breaks=breaks)
    return png_on_glass(levels, report, device)


def png_on_glass(levels: np.ndarray, report: Report, device: Device) -> bytes:
    """(H, W) levels of the whole glass as a PNG of what is seen."""
    pixels = on_panel(levels, report.glyphs, device.passport, report.plan.ink, report.plan.ground)
    return encode_png(colors_of(pixels, device.passport, device.turn), level=1)


def strip_png(levels: np.ndarray, report: Report, device: Device) -> bytes:
    """(H, W) levels of any size as a PNG in the panel's colours; zones belong to places on the glass and are left out."""
    return colored(levels, report.glyphs, device, report.plan.ink, report.plan.ground)
