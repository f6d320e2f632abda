"""Forms of builds: choosing parts for a new one, and the sheet that says what is asked of it."""

from typing import Any

from django import forms

from mosaic.boards import board as boards
from mosaic.panels import loader as panels
from workshop.builds.models import Build


def panel_choices() -> list[tuple[str, str]]:
    return [(p.slug, p.name) for p in panels.catalogue().values()]


def board_choices() -> list[tuple[str, str]]:
    return [
        (b.slug, f"{b.name}: {b.flash_bytes // 1024:,} KiB flash, {b.ram_bytes // 1024:,} KiB RAM")
        for b in boards.catalogue().values()
    ]


class NewBuildForm(forms.Form):
    """Name, panel, board and link of a new build."""

    name = forms.CharField(max_length=80, label="Name of the build", widget=forms.TextInput(attrs={"autocomplete": "off"}))
    panel = forms.ChoiceField(choices=panel_choices, label="Panel")
    board = forms.ChoiceField(choices=board_choices, label="Board")
    link_kind = forms.ChoiceField(choices=[("spi", "SPI"), ("i2c", "I2C")], label="Link")
    original = forms.CharField(required=False, widget=forms.HiddenInput())

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        if {"panel", "link_kind"} <= data.keys():
            kinds = [option.kind for option in panels.catalogue()[data["panel"]].links]
            if data["link_kind"] not in kinds:
                offered = " or ".join(kind.upper() for kind in kinds)
                self.add_error("link_kind", f"This panel has no {data['link_kind'].upper()}; it offers {offered}.")
        return data


def _short(value: Any) -> Any:
    """A number as a maker would write it: 900 and not 900.0."""
    return f"{value:g}" if isinstance(value, float) and abs(value) < 1e6 else value


class SheetForm(forms.ModelForm):
    """The build's sheet. `revision` tells two tabs apart."""

    revision = forms.IntegerField(widget=forms.HiddenInput())

    class Meta:
        model = Build
        fields = [
            "name", "place", "rotation", "clock_hz", "buffer_bands", "supply_kind", "cell_v", "capacity_mah",
            "viewing_distance_mm", "light_lux", "update_interval_s", "on_hours_per_day", "frame_time_limit_ms",
            "energy_limit_mwh",
        ]  # fmt: skip
        labels = {
            "place": "Place",
            "rotation": "Rotation, clockwise",
            "clock_hz": "Clock of the link, Hz",
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
        }

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for name, field in self.fields.items():
            field.widget.attrs["aria-label"] = field.label
            field.widget.attrs["class"] = "fm-blank" + (" fm-blank--text" if name in ("name", "place") else "")
            if isinstance(field, forms.FloatField):
                field.widget = forms.TextInput(attrs={**field.widget.attrs, "inputmode": "decimal", "size": 6})
                self.initial[name] = _short(self.initial.get(name))

    def problems(self) -> list[str]:
        """What is wrong, a sentence a field, in the fields' own names."""
        return [f"{self.fields[name].label}: {' '.join(errors)}" for name, errors in self.errors.items()]

    def clean_clock_hz(self) -> int:
        clock = self.cleaned_data["clock_hz"]
        device = self.instance.to_device()
        highest = boards.highest_clock_hz(device.board, device.passport.link(device.link_kind))
        if clock > highest:
            raise forms.ValidationError(f"{clock:,} Hz is above what board and panel allow together: up to {highest:,} Hz.")
        return clock

    def clean_revision(self) -> int:
        """Another tab may have saved since this form was laid out."""
        revision = self.cleaned_data["revision"]
        current = Build.objects.values_list("revision", flat=True).get(pk=self.instance.pk)
        if revision != current:
            raise forms.ValidationError(
                "This build was changed in another tab since; nothing was overwritten. Compare, then save again."
            )
        return revision

    def save(self, commit: bool = True) -> Build:
        self.instance.revision = self.cleaned_data["revision"] + 1
        return super().save(commit)
