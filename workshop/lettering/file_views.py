"""Packing: what each way of keeping a lettering costs, glyph by glyph, and its files."""

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render

from mosaic.forms import from_record
from mosaic.lettering.files import WRITERS, written, zip_of
from mosaic.lettering.packing import FIELDS, ORDERS, WAYS, pack, reads_back
from mosaic.lettering.shades import shade_count
from mosaic.source_text import identifier
from workshop.answers import attachment
from workshop.lettering.documents import texts_of
from workshop.lettering.forms import BOXES, BYTE_ORDERS, COMPRESSIONS_OF_GLYPHS
from workshop.lettering.pages import called, one_context, own
from workshop.lettering.reports import Report, report_of

READER_BYTES = "450 to 600"
"""Code of the reader in C, compiled for size, typical; it is not in the sums."""
TITLES = {
    "h": "C99 arrays with their index and a reader", "py": "Python bytes, an index and functions that draw",
    "bdf": "a bitmap font that other programs read", "png": "a sheet of all glyphs", "json": "metrics, and where each glyph lies",
}  # fmt: skip
MEDIA = {"h": "text/x-c", "py": "text/x-python", "bdf": "application/x-font-bdf", "png": "image/png", "json": "application/json"}


def packing(request: HttpRequest, build_id: int, lettering_id: int) -> HttpResponse:
    """Every way of packing, and every glyph's bytes."""
    build, shown = own(request, build_id, lettering_id)
    context = one_context(build, shown, "lettering-packing")
    report = context["report"]
    if report is None:
        return render(request, "lettering/packing.html", context)
    ways = _ways(report)
    flash = next(budget for budget in context["budgets"] if budget.slug == "flash")
    return render(
        request, "lettering/packing.html",
        {
            **context, "ways": ways, "least": min(way["flash"] for way in ways), "depths": _depths(context, report),
            "reads_back": reads_back(report.packed), "reader_bytes": READER_BYTES, "flash": flash,
            "share": report.packed.flash_bytes / flash.limit * 100 if flash.limit else None,
            "rows": _rows(report), "titles": TITLES, "endings": [(ending, TITLES[ending]) for ending in WRITERS],
        },
    )  # fmt: skip


def _ways(report: Report) -> list[dict[str, Any]]:
    plan, found = report.plan, []
    for box, direction, compression in WAYS:
        order = report.packed.order if ORDERS[direction][0] == report.packed.along else direction
        packed, kept = pack(report.glyphs, box, order, compression), dict(COMPRESSIONS_OF_GLYPHS)[compression]
        found.append(
            {
                "box": dict(BOXES)[box], "order": dict(BYTE_ORDERS)[order], "compression": kept,
                "pixels": len(packed.pixels), "index": packed.index_bytes, "kerning": packed.kerning_bytes,
                "flash": packed.flash_bytes,
                "here": (box, order, compression) == (plan.box, report.packed.order, plan.compression),
                "changes": {"box": box, "order": order, "compression": compression},
            }
        )  # fmt: skip
    return found


def _depths(context: dict[str, Any], report: Report) -> list[dict[str, Any]]:
    """Bytes at one, two and four bits a pixel, and how many of the levels this panel shows."""
    plan, found = report.plan, []
    for bits in (1, 2, 4):
        other = report_of(context["lettering"], plan.with_changes(bits=bits), context["device"], texts_of(context["build"]))
        count = shade_count(context["device"].passport, plan.ink, plan.ground, bits)
        found.append(
            {"bits": bits, "levels": 1 << bits, "shown": count, "flash": other.packed.flash_bytes, "here": bits == plan.bits,
             "changes": {"bits": bits}}
        )  # fmt: skip
    return found


def _rows(report: Report) -> list[dict[str, Any]]:
    """Every glyph's bytes, the largest first."""
    packed, rows = report.packed, []
    for i, glyph in enumerate(report.glyphs.glyphs):
        shown, name = called(report.plan, glyph.code)
        fields = {field: packed.index[field][i] for field in FIELDS}
        told = {"code": glyph.code, "hex": f"U+{glyph.code:04X}", "character": shown, "name": name}
        rows.append({**told, **fields, "bytes": packed.sizes[i], "shared": packed.shared[i]})
    return sorted(rows, key=lambda row: (-row["bytes"], row["code"]))


def take(request: HttpRequest, build_id: int, lettering_id: int, ending: str) -> HttpResponse:
    """One file, or all of them."""
    build, shown = own(request, build_id, lettering_id)
    device = build.to_device()
    report, tables = report_of(shown, shown.record, device, texts_of(build)), device.board.tables
    if ending == "zip":
        data, media = zip_of(report.packed, from_record(report.plan), tables), "application/zip"
    elif ending in WRITERS:
        data, media = written(report.packed, ending, tables), MEDIA[ending]
    else:
        raise Http404("no such kind of file")
    return attachment(data, f"{identifier(shown.name)}.{ending}", media)
