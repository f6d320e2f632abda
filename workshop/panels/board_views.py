"""Boards: what they have, their pins with roles and cautions, and a maker's own with his names for them."""

from dataclasses import dataclass
from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from mosaic.boards.board import Board, board_to_plain
from mosaic.errors import BadValueError, MosaicError
from mosaic.links.kinds import KINDS
from workshop.errors import ConflictError
from workshop.panels import services
from workshop.panels.description_form import Blank, DescriptionForm, revision_from
from workshop.panels.files import json_file
from workshop.panels.parts import BoardEntry, board_entries, board_or_404
from workshop.removal import tell_removed

ROW = 24

_FIXED = (
    Blank("name", "name", "text"),
    Blank("flash_bytes", "flash", "bytes"),
    Blank("ram_bytes", "RAM", "bytes"),
    Blank("external_ram_bytes", "external RAM", "bytes"),
    Blank("external_ram_mb_s", "speed of the external RAM, MB/s", "number"),
    Blank("program_bytes", "flash of a usual program", "bytes"),
    Blank("reserve_bytes", "RAM for stack, heap and libraries", "bytes"),
    Blank("logic_v", "logic, V", "number"),
    Blank("regulator_ma", "regulator, mA", "number"),
    Blank("cpu_mhz", "processor clock, MHz", "number"),
    Blank("active_ma", "current awake, mA", "number"),
    Blank("sleep_ua", "current asleep, µA", "number"),
    Blank("max_i2c_hz", "fastest I2C clock", "Hz"),
    Blank("max_spi_hz", "fastest SPI clock", "Hz"),
    Blank("max_qspi_hz", "fastest quad SPI clock", "Hz"),
    Blank("max_parallel_hz", "write cycles of a parallel bus", "Hz"),
    Blank("max_rgb_hz", "fastest RGB pixel clock", "Hz"),
    Blank("max_uart_hz", "fastest serial port, bits a second", "whole"),
    Blank("constants_in_ram", "constants are copied to RAM", "flag"),
    Blank("i2c_single_commands", "each command byte in a transaction of its own", "flag"),
    Blank("i2c_transaction_bytes", "size of an I2C transaction", "bytes"),
    Blank("tables.stored", "qualifier of tables in flash", "text"),
    Blank("tables.read", "function that reads a byte of one", "text"),
    Blank("tables.include", "header of both", "text"),
    Blank("notes", "notes", "long"),
)


@dataclass(frozen=True)
class PinLine:
    """A pin in the drawing: its place, side, name, roles and caution."""

    number: int
    y: int
    side: str
    name: str
    roles: str
    caution: str
    kind: str


def pin_lines(board: Board) -> list[PinLine]:
    """Pins in two rows, as they lie on the board."""
    counts = {"left": 0, "right": 0}
    lines = []
    for number, pin in enumerate(board.pins):
        y = 34 + ROW * counts[pin.side]
        counts[pin.side] += 1
        kind = "power" if "power" in pin.roles else "ground" if "ground" in pin.roles else "careful" if pin.caution else "io"
        roles = ", ".join(role for role in pin.roles if role not in ("gpio",) or len(pin.roles) == 1)
        lines.append(PinLine(number, y, pin.side, pin.name, roles, pin.caution, kind))
    return lines


def board_form(plain: dict[str, Any], typed: dict[str, str] | None = None) -> DescriptionForm:
    """The form over a board's plain values: figures, and the name and caution of each pin."""
    blanks = list(_FIXED)
    for number in range(len(plain.get("pins", ()))):
        blanks.append(Blank(f"pins[{number}].name", f"name of pin {number + 1}", "text"))
        blanks.append(Blank(f"pins[{number}].caution", f"caution of pin {number + 1}", "text"))
    return DescriptionForm(tuple(blanks), plain, typed or {})


def _context(entry: BoardEntry) -> dict[str, Any]:
    lines = pin_lines(entry.board)
    return {
        "entry": entry,
        "board": entry.board,
        "own": entry.own,
        "pins": lines,
        "height": max((line.y for line in lines), default=60) + 40,
        "links": [(kind.name, kind.clock_name, entry.board.max_clock_hz(kind.slug)) for kind in KINDS.values()],
        "free_ram": entry.board.ram_bytes - entry.board.reserve_bytes,
        "free_flash": entry.board.flash_bytes - entry.board.program_bytes,
    }


def boards(request: HttpRequest) -> HttpResponse:
    """Every board, a maker's own first."""
    return render(request, "panels/boards.html", {"entries": board_entries(request.user)})


def board(request: HttpRequest, ref: str) -> HttpResponse:
    """One board: its figures and its pins."""
    return render(request, "panels/board.html", _context(board_or_404(request.user, ref)))


@require_POST
def make_board_mine(request: HttpRequest, ref: str) -> HttpResponse:
    """A copy to rename the pins of."""
    row = services.make_board_mine(owner=request.user, entry=board_or_404(request.user, ref))
    messages.success(request, "This board is yours now: name its pins as they are printed on yours.")
    return redirect("board-edit", row.ref)


def edit_board(request: HttpRequest, ref: str) -> HttpResponse:
    """One's own board with blanks to fill in."""
    entry = board_or_404(request.user, ref)
    if entry.own is None:
        raise BadValueError("boards of the catalogue are read-only; make it yours first")
    form, status = board_form(entry.own.board), 200
    if request.method == "POST":
        form = board_form(entry.own.board, {k: v for k, v in request.POST.items() if k != "csrfmiddlewaretoken"})
        try:
            services.change_board(row=entry.own, plain=form.filled(), revision=revision_from(request.POST.get("revision", "")))
        except MosaicError as error:
            form.refuse(error)
            status = 409 if isinstance(error, ConflictError) else 422
            entry.own.revision = getattr(error, "head", None) or entry.own.revision
        else:
            messages.success(request, "Saved. Builds that use it keep their snapshot, and are told of the difference.")
            return redirect("board", ref)
    return render(request, "panels/board_edit.html", {**_context(entry), "form": form}, status=status)


def board_json(request: HttpRequest, ref: str) -> HttpResponse:
    """The board as a file."""
    entry = board_or_404(request.user, ref)
    return json_file(board_to_plain(entry.board), f"{entry.ref}.board.json")


@require_POST
def remove_board(request: HttpRequest, ref: str) -> HttpResponse:
    """Take one's own board away; builds keep their snapshots of it."""
    entry = board_or_404(request.user, ref)
    if entry.own is None:
        raise BadValueError("boards of the catalogue are read-only")
    entry.own.remove()
    tell_removed(request, entry.own, "Builds that use it keep their snapshot.")
    return redirect("boards")
