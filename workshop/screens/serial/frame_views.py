"""Frames: the template as the manual says it; a value's frame byte by byte; pasted bytes decoded."""

import re
from dataclasses import replace
from typing import Any

from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError, MosaicError
from mosaic.forms import from_record, to_record
from mosaic.serial.frames import Fault, Message, Reader, annotated, encode
from mosaic.serial.line import byte_ms
from mosaic.serial.memory import Entry, packed, unpacked
from mosaic.serial.template import ACTS, TEMPLATES, Template
from mosaic.values.courses import typical
from mosaic.values.value import Value
from workshop.answers import go_to
from workshop.builds.models import Build
from workshop.documents.pages import base_of
from workshop.screens.documents import design_of
from workshop.screens.serial.pages import context_of, own_serial
from workshop.screens.serial.services import plan_of, save_plan

MOST_PASTED = 60_000
MOST_SHOWN = 200
CHECKS = (
    ("none", "no check", {}), ("sum", "sum of the bytes", {"kind": "sum"}), ("xor", "exclusive-or of the bytes", {"kind": "xor"}),
    ("crc8", "CRC-8, polynomial 07", {"kind": "crc8", "polynomial": 7}),
    ("a001", "CRC-16, A001 reflected, from FFFF", {"kind": "crc16", "polynomial": 0xA001, "start": 0xFFFF, "reflected": True}),
    ("a001-0", "CRC-16, A001 reflected, from 0000", {"kind": "crc16", "polynomial": 0xA001, "reflected": True}),
    ("1021", "CRC-16, 1021, from FFFF", {"kind": "crc16", "polynomial": 0x1021, "start": 0xFFFF}),
    ("1021-0", "CRC-16, 1021, from 0000", {"kind": "crc16", "polynomial": 0x1021}),
    ("own", "one with its own figures", {}),
)  # fmt: skip


def check_slug(template: Template) -> str:
    """Which of the offered checks a template has."""
    told = from_record(template.check)
    for slug, _, figures in CHECKS[:-1]:
        usual = {"kind": "none", "polynomial": 0, "start": 0, "final": 0, "reflected": False, **figures}
        if all(told[name] == value for name, value in usual.items()):
            return slug
    return "own"


def fields_of(template: Template) -> dict[str, str]:
    """The fields of the page for a template."""
    check = template.check
    return {
        "name": template.name, "framing": template.framing, "header": template.header, "length_bytes": str(template.length_bytes),
        "counts": template.counts, "address_bytes": str(template.address_bytes), "order": template.order,
        "terminator": template.terminator, "escape": f"{template.escape:02X}" if template.escape >= 0 else "",
        "escape_xor": f"{template.escape_xor:02X}", "between": template.between, "words": template.words,
        "check": check_slug(template), "polynomial": f"{check.polynomial:04X}", "start": f"{check.start:04X}",
        "final": f"{check.final:04X}", "reflected": "1" if check.reflected else "", "check_order": check.order,
        "from_header": "1" if check.from_header else "",
        **{f"code_{act}": f"{template.codes.of(act):02X}" if template.codes.of(act) >= 0 else "" for act in ACTS},
    }  # fmt: skip


def _hex(posted: QueryDict, field: str, what: str, usual: int, most: int = 0xFF) -> int:
    typed = posted.get(field, "").strip()
    if not typed:
        return usual
    try:
        number = int(typed, 16)
    except ValueError:
        number = -1
    if not 0 <= number <= most:
        raise BadValueError(f"{what} is {typed[:20]!r}; 00 to {most:X}, in hexadecimal, is accepted")
    return number


def _digits(posted: QueryDict, field: str) -> str:
    return re.sub(r"\s", "", posted.get(field, ""))


def template_from(posted: QueryDict, kept: Template) -> Template:
    """A template as it was filled in, or one of the project's own.

    Raises
    ------
    BadValueError, BadDescriptionError
        Something of it cannot be.
    """
    if posted.get("take"):
        if posted["take"] not in TEMPLATES:
            raise BadValueError("no template of this name comes along; choose one of those offered")
        return TEMPLATES[posted["take"]]
    slug = posted.get("check", check_slug(kept))
    figures = next((told for name, _, told in CHECKS if name == slug), None)
    if figures is None:
        raise BadValueError(f"{slug[:20]!r} is no check; choose one of those offered")
    if slug == "own":
        figures = {
            "kind": "crc8" if _hex(posted, "polynomial", "the polynomial", 0, 0xFFFF) <= 0xFF else "crc16",
            "polynomial": _hex(posted, "polynomial", "the polynomial", 0, 0xFFFF),
            "start": _hex(posted, "start", "the start", 0, 0xFFFF), "final": _hex(posted, "final", "the end", 0, 0xFFFF),
            "reflected": "reflected" in posted,
        }  # fmt: skip
    plain: dict[str, Any] = {
        **from_record(kept),
        **{name: posted[name] for name in ("framing", "counts", "order", "between", "words") if name in posted},
        "name": posted.get("name", "").strip()[:40] or kept.name,
        **{name: " ".join(re.findall("..", _digits(posted, name).upper())) for name in ("header", "terminator")},
        **{name: 2 if posted.get(name) == "2" else 1 for name in ("length_bytes", "address_bytes")},
        "escape": _hex(posted, "escape", "the escape", -1),
        "escape_xor": _hex(posted, "escape_xor", "what is exclusive-ored", 0x20),
        "codes": {act: _hex(posted, f"code_{act}", f"the code of {act}", -1) for act in ACTS},
        "check": {**figures, "order": posted.get("check_order", kept.check.order), "from_header": "from_header" in posted},
    }  # fmt: skip
    for name in ("header", "terminator"):
        digits = _digits(posted, name)
        if len(digits) % 2 or re.search("[^0-9A-Fa-f]", digits):
            raise BadValueError(f"the {name} is {digits[:20]!r}; bytes in hexadecimal, such as A5 5A, are accepted")
    return to_record(plain, Template, "the template")


def _try(build: Build, typed: QueryDict, template: Template, baud: int) -> dict[str, Any]:
    """A frame of what was chosen and typed, byte by byte."""
    plan, values = plan_of(build), design_of(build).values
    placed = {value.id: (entry, value) for value in values if (entry := plan.memory.entry(value.id))}
    what = typed.get("what") or next(iter(placed), "page")
    said = typed.get("reading", "").strip()
    try:
        if what in placed:
            message, said = _of_value(*placed[what], said, plan, template)
        elif what.startswith("read-") and what[5:] in placed:
            entry = placed[what[5:]][0]
            message = Message("read", entry.start, bytes([entry.size]))
        else:
            number = int(said) if said.isdecimal() and len(said) < 6 else 1
            said = str(number)
            wide = what in ("page", "touch")
            if what not in ("page", "touch", "light", "sound") or number > (0xFFFF if wide else 0xFF):
                raise BadValueError(f"{number} is too large for {what[:10]}; one byte holds up to 255, two up to 65535")
            message = Message(what, 0, number.to_bytes(2 if wide else 1, template.byte_order))  # type: ignore[arg-type]
        frame = encode(message, template)
    except MosaicError as error:
        return {"what": what, "reading": said, "placed": placed.values(), "frame_wrong": str(error)}
    parts = [(one, frame[one.begin : one.end].hex(" ").upper()) for one in annotated(message, template)]
    return {
        "what": what, "reading": said, "placed": placed.values(), "parts": parts, "size": len(frame),
        "frame_ms": len(frame) * byte_ms(baud, parity=plan.parity),
        "as_text": frame.decode("ascii", "replace") if template.framing == "text" else "",
    }  # fmt: skip


def _of_value(entry: Entry, value: Value, said: str, plan: Any, template: Template) -> tuple[Message, str]:
    reading = value.raw_of(said) if said else typical(value)
    if reading is None:
        reading = value.bounds[0] if value.is_number else ""
    data = packed(entry, value, reading, plan.memory, template.order)
    return Message("write", entry.start, data), said or value.plain(reading)


def decoded(build: Build, pasted: str, template: Template) -> list[tuple[str, str, bool]]:
    """What pasted bytes are: (what, in words, whether it is a fault).

    Raises
    ------
    BadValueError
        They are no bytes.
    """
    if template.framing == "text" and not re.fullmatch(r"[0-9A-Fa-f\s]*", pasted):
        data = (pasted if pasted.endswith("\n") else pasted + "\n").replace("\r\n", "\n").encode()
    else:
        plain = re.sub(r"0x|[,;:\s]", "", pasted)
        if len(plain) % 2 or re.search("[^0-9A-Fa-f]", plain):
            raise BadValueError("these are no bytes in hexadecimal, two digits each; A5 5A 05 is accepted, also 0xA5, 0x5A")
        data = bytes.fromhex(plain)
    plan, values = plan_of(build), {value.id: value for value in design_of(build).values}
    reader = Reader(template)
    found = []
    for one in [*reader.feed(data), *reader.finish()]:
        if isinstance(one, Fault):
            found.append((f"{one.kind} at byte {one.place}", one.words, True))
        else:
            found.append(_said(one, plan, values, template))
    return found


def _said(one: Message, plan: Any, values: dict[str, Value], template: Template) -> tuple[str, str, bool]:
    if one.act in ("write", "answer"):
        told = []
        for entry in plan.memory.at(one.address):
            value = values.get(entry.value)
            if value is None:
                continue
            if len(one.data) != entry.size:
                return one.act, f"{value.name}, of {entry.size} bytes, and {len(one.data)} came", True
            reading = unpacked(entry, value, one.data, plan.memory, template.order)
            told.append(f"{value.name} = {value.plain(reading)} {value.unit}".strip())
        words = ", ".join(told) or f"nothing has the address {one.address:04X}h: {one.data.hex(' ').upper()}"
        return one.act, words, not told
    if one.act == "read":
        known = [values[entry.value].name for entry in plan.memory.at(one.address) if entry.value in values]
        return one.act, ", ".join(known) or f"nothing has the address {one.address:04X}h", not known
    return one.act, str(int.from_bytes(one.data, template.byte_order)), False


def _page(request: HttpRequest, build: Build, wrong: MosaicError | None = None, typed: QueryDict | None = None) -> HttpResponse:
    overview, context = context_of(build, "serial-frames", wrong)
    template = plan_of(build).template
    context |= {
        "v": typed if typed is not None else fields_of(template), "template": template, "checks": CHECKS, "acts": ACTS,
        "codes": [(act, (typed or fields_of(template)).get(f"code_{act}", "")) for act in ACTS], "offered": list(TEMPLATES),
        **_try(build, request.GET, template, overview.device.clock_hz),
    }  # fmt: skip
    pasted = request.GET.get("pasted", "")[:MOST_PASTED]
    if pasted.strip():
        context["pasted"] = pasted
        try:
            found = decoded(build, pasted, template)
            context |= {"found": found[:MOST_SHOWN], "more": max(0, len(found) - MOST_SHOWN)}
        except MosaicError as error:
            context["pasted_wrong"] = str(error)
    return render(request, "screens/serial/frames.html", context, status=422 if wrong or "pasted_wrong" in context else 200)


def frames(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    return _page(request, own_serial(request, build_id))


@require_POST
def keep(request: HttpRequest, build_id: int) -> HttpResponse:
    """Keep the template."""
    build = own_serial(request, build_id)
    try:
        template = template_from(request.POST, plan_of(build).template)
    except MosaicError as error:
        return _page(request, build, error, request.POST)
    save_plan(build, replace(plan_of(build), template=template), base_of(request))
    return go_to(request, reverse("serial-frames", args=[build.pk]))
