"""Choose: several panels for one purpose, side by side, before any is bought."""

from dataclasses import dataclass, fields
from decimal import Decimal, InvalidOperation
from typing import Any

from django import forms
from django.contrib import messages
from django.core.paginator import Paginator
from django.db import transaction
from django.forms import model_to_dict
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.boards.board import catalogue as board_shelf
from mosaic.device.device import Supply
from mosaic.errors import BadValueError
from mosaic.links.kinds import KINDS
from mosaic.panels.geometry import Orientation, seen_size_mm
from mosaic.refresh.choosing import Candidate, Purpose, candidate_of
from workshop.errors import message_of
from workshop.look.blanks import InSentences
from workshop.look.conflicts import differing, is_stale
from workshop.panels.bench import Exhibit, lay_out
from workshop.panels.models import Comparison
from workshop.panels.parts import BoardEntry, PanelEntry, board_entries, board_of, panel_choices, panel_of, panels_of
from workshop.panels.views import screen_address
from workshop.removal import tell_removed

MOST_PANELS = 6
COMPARISONS_A_PAGE = 20
LARGEST_PRICE = Decimal(1_000_000)


class PurposeForm(InSentences, forms.ModelForm):
    """What the panels are wanted for. `revision` tells two tabs apart."""

    revision = forms.IntegerField(widget=forms.HiddenInput())

    class Meta:
        model = Comparison
        fields = [
            "name", "board", "supply_kind", "cell_v", "capacity_mah", "viewing_distance_mm", "light_lux", "update_interval_s",
            "on_hours_per_day",
        ]  # fmt: skip
        labels = {
            "name": "Purpose", "board": "Board", "supply_kind": "Supply", "cell_v": "Voltage of the cell, V",
            "capacity_mah": "Capacity of the cell, mAh", "viewing_distance_mm": "Viewing distance, mm",
            "light_lux": "Light of the place, lux", "update_interval_s": "Time between updates, s",
            "on_hours_per_day": "Hours awake per day",
        }  # fmt: skip

    def __init__(self, *args: Any, boards: list[BoardEntry], **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["board"] = forms.ChoiceField(label="Board", choices=[(entry.ref, entry.board.name) for entry in boards])
        self.set_into_sentences()


@dataclass(frozen=True)
class Column:
    """One panel of a comparison, with its price as typed."""

    entry: PanelEntry
    candidate: Candidate
    link_name: str
    price: str
    number: int

    @property
    def glass_mm(self) -> tuple[float, float]:
        """Width and height of the glass before the reader."""
        return seen_size_mm(self.entry.passport, self.entry.passport.rotation)


def purpose_of(comparison: Comparison, user) -> Purpose:
    entry = board_of(user, comparison.board)
    board = entry.board if entry else next(iter(board_shelf().values()))
    supply = Supply(comparison.supply_kind, comparison.cell_v, comparison.capacity_mah)
    own = {f.name for f in fields(Purpose)} - {"board", "supply"}
    return Purpose(board, supply=supply, **{name: getattr(comparison, name) for name in own})


def _own(request: HttpRequest, comparison_id: int) -> Comparison:
    try:
        return request.user.comparisons.get(pk=comparison_id)
    except Comparison.DoesNotExist:
        raise Http404("no such comparison") from None


def comparisons(request: HttpRequest) -> HttpResponse:
    """All comparisons of this maker, and a new one."""
    page = Paginator(request.user.comparisons.all(), COMPARISONS_A_PAGE).get_page(request.GET.get("page"))
    return render(request, "panels/comparisons.html", {"page": page})


@require_POST
def start(request: HttpRequest) -> HttpResponse:
    """A comparison for a purpose, with nothing in it yet."""
    name = request.POST.get("name", "").strip()[:80]
    if not name:
        raise BadValueError("a comparison needs a purpose; for example: tide board on the slipway")
    first = request.POST.get("panel", "")
    panels = [first] if first and panel_of(request.user, first) else []
    made = Comparison.objects.create(owner=request.user, name=name, board=next(iter(board_shelf())), panels=panels)
    return redirect("comparison", made.pk)


def _columns(comparison: Comparison, user) -> list[Column]:
    purpose = purpose_of(comparison, user)
    columns = []
    for number, (ref, entry) in enumerate(panels_of(user, comparison.panels).items()):
        candidate = candidate_of(entry.passport, purpose)
        owned = entry.passport.owned
        own_price = f"{owned.price:g} {owned.currency}".strip() if owned.price is not None else ""
        link = KINDS[candidate.device.link_kind].name if candidate.device else ""
        columns.append(Column(entry, candidate, link, comparison.prices.get(ref, own_price), number))
    return columns


def _context(request: HttpRequest, comparison: Comparison, form: PurposeForm | None = None) -> dict[str, Any]:
    boards = board_entries(request.user)
    columns = _columns(comparison, request.user)
    exhibits = [
        Exhibit(
            c.number, c.entry.passport.name, c.entry.passport, c.entry.passport.rotation,
            screen_address(c.entry, Orientation(c.entry.passport.rotation)), reverse("panel", args=[c.entry.ref]),
        )
        for c in columns
    ]  # fmt: skip
    return {
        "comparison": comparison,
        "form": form or PurposeForm(instance=comparison, initial={"revision": comparison.revision}, boards=boards),
        "columns": columns,
        "bench": lay_out(exhibits),
        "choices": panel_choices(request.user),
        "most": MOST_PANELS,
        "on_cell": comparison.supply_kind == "cell",
    }


def comparison(request: HttpRequest, comparison_id: int) -> HttpResponse:
    """The panels side by side; a post keeps what was changed of the purpose, prices and panels."""
    chosen = _own(request, comparison_id)
    if request.method != "POST":
        return render(request, "panels/choose.html", _context(request, chosen))
    with transaction.atomic():
        row = Comparison.objects.select_for_update().get(pk=chosen.pk)
        before = model_to_dict(row)
        form = PurposeForm(request.POST, instance=row, boards=board_entries(request.user))
        problems = [] if form.is_valid() else form.problems()
        prices, wrong = _prices(request, chosen)
        problems += wrong
        if problems:
            return _once_more(request, chosen, form, 422, problems=problems)
        if is_stale(form, before["revision"]):
            address = reverse("comparison", args=[chosen.pk])
            return _once_more(request, chosen, form, 409, differing=differing(form, before), theirs_url=address)
        kept = form.save(commit=False)
        kept.prices, kept.revision = prices, before["revision"] + 1
        try:
            kept.panels = _panels(request, kept)
        except BadValueError as error:
            messages.error(request, message_of(error))
        kept.save()
    if not request.htmx:
        return redirect("comparison", kept.pk)
    return render(request, _template(request), _context(request, kept))


def _once_more(request: HttpRequest, chosen: Comparison, form: PurposeForm, status: int, **told: Any) -> HttpResponse:
    """The page with what was typed, and what stands in the way of keeping it."""
    chosen.prices = {**chosen.prices, **{k: v[:40] for k, v in _typed_prices(request, chosen).items()}}
    context = {**_context(request, chosen, form), **told}
    return render(request, _template(request), context, status=200 if request.htmx else status)


def _template(request: HttpRequest) -> str:
    return "panels/partials/compared.html" if request.htmx else "panels/choose.html"


def _typed_prices(request: HttpRequest, chosen: Comparison) -> dict[str, str]:
    return {ref: request.POST[f"price-{ref}"].strip() for ref in chosen.panels if f"price-{ref}" in request.POST}


def _prices(request: HttpRequest, chosen: Comparison) -> tuple[dict[str, str], list[str]]:
    """Prices as typed: a number and, if a maker likes, a currency behind it."""
    prices, wrong = dict(chosen.prices), []
    for ref, text in _typed_prices(request, chosen).items():
        number = text.split(" ", 1)[0].replace(",", ".")
        try:
            if text and not 0 <= Decimal(number) <= LARGEST_PRICE:
                raise InvalidOperation
        except InvalidOperation:
            wrong.append(f"Price {text[:40]!r} is no amount; write it like 12.50 or 12.50 EUR.")
            continue
        prices[ref] = text[:40]
    return prices, wrong


def _panels(request: HttpRequest, kept: Comparison) -> list[str]:
    """The panels after one was added.

    Raises
    ------
    BadValueError
        There are too many, or none is named so.
    """
    panels = list(kept.panels)
    ref = request.POST.get("with", "").strip()
    if not ref or ref in panels:
        return panels
    if panel_of(request.user, ref) is None:
        raise BadValueError(f"there is no panel named {ref[:60]!r}; choose one of the list")
    if len(panels) >= MOST_PANELS:
        raise BadValueError(f"{MOST_PANELS} panels lie side by side at most; take one out first")
    return [*panels, ref]


@require_POST
def take_out(request: HttpRequest, comparison_id: int) -> HttpResponse:
    """One panel less; whatever else another tab has changed stays."""
    with transaction.atomic():
        chosen = _own(request, comparison_id)
        chosen = Comparison.objects.select_for_update().get(pk=chosen.pk)
        chosen.panels = [ref for ref in chosen.panels if ref != request.POST.get("without")]
        chosen.revision += 1
        chosen.save(update_fields=["panels", "revision"])
    return redirect("comparison", chosen.pk)


@require_POST
def remove_comparison(request: HttpRequest, comparison_id: int) -> HttpResponse:
    """Take a comparison away; panels and builds are not touched."""
    row = _own(request, comparison_id)
    row.remove()
    tell_removed(request, row)
    return redirect("comparisons")
