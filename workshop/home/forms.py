"""Forms of builds: choosing parts for a new one, and the sheet that says what is asked of it."""

from typing import Any

from django import forms

from mosaic.boards import board as boards
from mosaic.device.bands import check_bands
from mosaic.links.kinds import KINDS
from mosaic.quantities import in_words
from workshop.builds.models import Build
from workshop.home.origins import Origin
from workshop.look.blanks import InSentences, QuantityField
from workshop.panels.parts import BoardEntry, PanelEntry, board_of, panel_of


class NewBuildForm(forms.Form):
    """Name, and either what comes along from an origin, or panel, board and link chosen here."""

    name = forms.CharField(max_length=80, label="Name of the build", widget=forms.TextInput(attrs={"autocomplete": "off"}))
    panel = forms.CharField(required=False, max_length=80, label="Panel")
    board = forms.CharField(required=False, max_length=80, label="Board")
    link_kind = forms.CharField(required=False, max_length=12, label="Link")
    original = forms.CharField(required=False, widget=forms.HiddenInput())
    along_parts = forms.BooleanField(required=False)
    along_wishes = forms.BooleanField(required=False)
    along_contents = forms.BooleanField(required=False)

    def __init__(self, *args: Any, user, origin: Origin | None = None, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.user, self.origin = user, origin

    @property
    def takes_parts_along(self) -> bool:
        return self.origin is not None and bool(self.data.get("along_parts", not self.is_bound))

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        if self.origin is not None and data.get("along_parts"):
            return data
        panel = panel_of(self.user, data.get("panel", ""))
        board = board_of(self.user, data.get("board", ""))
        if panel is None:
            self.add_error(
                "panel", "Choose a panel of the shelf." if not data.get("panel") else "This panel is not on the shelf."
            )
        if board is None:
            self.add_error("board", "Choose a board." if not data.get("board") else "This board is not on the shelf.")
        if panel and board:
            self._check_link(data, panel, board)
        return data

    def _check_link(self, data: dict[str, Any], panel: PanelEntry, board: BoardEntry) -> None:
        """The link has to be one that both ends have; left open, it is the first of those."""
        shared = [option.kind for option in boards.shared_links(board.board, panel.passport.links)]
        own = " or ".join(KINDS[option.kind].name for option in panel.passport.links)
        if not shared:
            self.add_error("board", f"This board has no {own}, which is all this panel offers. Choose another board.")
        elif not data.get("link_kind"):
            data["link_kind"] = shared[0]
        elif data["link_kind"] not in shared:
            name = KINDS[data["link_kind"]].name if data["link_kind"] in KINDS else data["link_kind"]
            offered = " or ".join(KINDS[kind].name for kind in shared)
            self.add_error("link_kind", f"This panel on this board has no {name}; it offers {offered}.")

    def parts(self) -> dict[str, str] | None:
        """Panel, board and link as chosen; None where they come along."""
        if self.origin is not None and self.cleaned_data["along_parts"]:
            return None
        return {name: self.cleaned_data[name] for name in ("panel", "board", "link_kind")}


class SheetForm(InSentences, forms.ModelForm):
    """The build's sheet. `revision` tells two tabs apart."""

    TEXTS = ("name", "place")

    revision = forms.IntegerField(widget=forms.HiddenInput())
    clock_hz = QuantityField(unit="Hz", least=1000, most=200_000_000, label="Clock of the link")

    class Meta:
        model = Build
        fields = [
            "name", "place", "rotation", "clock_hz", "buffer_bands", "supply_kind", "cell_v", "capacity_mah",
            "viewing_distance_mm", "light_lux", "update_interval_s", "on_hours_per_day", "frame_time_limit_ms",
            "energy_limit_mwh", "kept_as",
        ]  # fmt: skip
        labels = {
            "place": "Place",
            "rotation": "Rotation, clockwise",
            "buffer_bands": "Bands a frame is drawn in",
            "supply_kind": "Supply",
            "cell_v": "Voltage of the cell, V",
            "capacity_mah": "Capacity of the cell, mAh",
            "viewing_distance_mm": "Viewing distance, mm",
            "light_lux": "Light of the place, lux",
            "update_interval_s": "Time between updates, s",
            "on_hours_per_day": "Hours awake per day",
            "frame_time_limit_ms": "Limit for frame time, ms",
            "energy_limit_mwh": "Limit for energy per day, mWh",
            "kept_as": "How bytes are kept",
        }

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.set_into_sentences()

    def clean_clock_hz(self) -> int:
        clock = self.cleaned_data["clock_hz"]
        device = self.instance.to_device()
        highest = boards.highest_clock_hz(device.board, device.passport.link(device.link_kind))
        if clock > highest:
            raise forms.ValidationError(
                f"{in_words(clock, 'Hz')} is above what board and panel allow together: up to {in_words(highest, 'Hz')}."
            )
        return clock

    def clean_buffer_bands(self) -> int:
        bands = self.cleaned_data["buffer_bands"]
        wrong = check_bands(self.instance.to_device().passport, bands)
        if wrong:
            raise forms.ValidationError(f"{wrong[:1].upper()}{wrong[1:]}.")
        return bands

    def save(self, commit: bool = True) -> Build:
        self.instance.revision = self.cleaned_data["revision"] + 1
        return super().save(commit)
