"""Identify: what can be seen or read of an unknown panel, and the families that fit."""

import base64
import re
from dataclasses import dataclass
from typing import Any

from django import forms
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from mosaic.conversion.telling_apart import Trial, part
from mosaic.exports.rasters import encode_png
from mosaic.panels.appearance import colors_of
from mosaic.panels.evidence import Evidence, read_words
from mosaic.panels.identify import rank, runner_up
from mosaic.panels.loader import catalogue
from mosaic.panels.passport import Passport
from mosaic.panels.supply import LINK_NAMES
from mosaic.virtual.panel import NO_COLOR
from workshop.documents.pages import upload_of

FAMILIES_SHOWN = 4
FAR_BEHIND = 12.0
"""Points by which the next panel may lag before the bench need not be asked."""
NO_COLOR_SHOWN = (200, 0, 160)  # stands out on any glass


class CluesForm(forms.Form):
    """A seller's words, and what was seen or measured, which counts more."""

    words = forms.CharField(required=False, max_length=20_000, strip=False)
    technology = forms.ChoiceField(
        required=False, choices=[("", "anything"), ("oled", "OLED"), ("tft", "TFT"), ("epaper", "e-paper")]
    )
    colors = forms.ChoiceField(
        required=False,
        choices=[
            ("", "any colours"), ("one", "one colour"), ("two zones", "two colours in two zones"), ("greys", "greys"),
            ("three", "three colours"), ("four", "four colours"), ("six", "six colours"), ("seven", "seven colours"),
            ("many", "thousands of colours"),
        ],
    )  # fmt: skip
    width_px = forms.IntegerField(required=False, min_value=1, max_value=4096)
    height_px = forms.IntegerField(required=False, min_value=1, max_value=4096)
    diagonal_inch = forms.FloatField(required=False, min_value=0.1, max_value=60)
    labels = forms.CharField(required=False, max_length=300)
    ram_width = forms.IntegerField(required=False, min_value=1, max_value=4096)
    ram_height = forms.IntegerField(required=False, min_value=1, max_value=4096)
    commands = forms.CharField(required=False, max_length=300)

    NAMES = {
        "width_px": "Columns", "height_px": "Rows", "diagonal_inch": "Diagonal", "ram_width": "Columns of the RAM",
        "ram_height": "Rows of the RAM", "commands": "Commands", "labels": "Labels", "words": "Words",
    }  # fmt: skip

    def clean_commands(self) -> tuple[int, ...]:
        words = re.split(r"[\s,;]+", self.cleaned_data["commands"].strip())
        plain = [word.lower().removeprefix("0x").removesuffix("h") for word in words if word]
        wrong = [word for word in plain if not re.fullmatch(r"[0-9a-f]{1,2}", word)]
        if wrong:
            raise forms.ValidationError(f"{wrong[0]!r} is no command byte; write them like 2A 2B 0x36.")
        return tuple(int(word, 16) for word in plain)

    def clean_labels(self) -> tuple[str, ...]:
        return tuple(word.upper() for word in re.split(r"[\s,;]+", self.cleaned_data["labels"]) if word)

    def to_evidence(self) -> Evidence:
        """What was stated, over what was read in the words. Fields that are wrong are left out."""
        given = {k: v for k, v in self.cleaned_data.items() if v not in (None, "", ())}
        read = read_words(given.pop("words", ""))
        return read.joined(Evidence(**given))

    def problems(self) -> list[str]:
        return [f"{self.NAMES.get(name, name)}: {' '.join(errors)}" for name, errors in self.errors.items()]


@dataclass(frozen=True)
class Shown:
    """One side of a trial: the panel, its picture as an address, and the words."""

    passport: Passport
    url: str
    words: str


def understood(evidence: Evidence) -> list[str]:
    """The clues in words, so that a maker sees what was taken from the text."""
    e = evidence
    pairs = [
        {"oled": "OLED", "tft": "TFT", "epaper": "e-paper"}.get(e.technology, ""),
        {"one": "one colour", "many": "thousands of colours", "greys": "greys", "two zones": "two zones"}.get(
            e.colors, f"{e.colors} colours" if e.colors else ""
        ),
        f"{e.width_px} × {e.height_px} pixels" if e.width_px else "",
        f"{e.diagonal_inch:g} inch" if e.diagonal_inch else "",
        {"rect": "", "round": "round", "rounded": "rounded corners", "": ""}[e.shape],
        "see-through" if e.transparent else "",
        "" if e.bare is None else "bare glass" if e.bare else "module",
        "" if e.touch is None else "touch" if e.touch else "no touch",
        "draws by itself" if e.draws_itself else "",
        f"{e.bits} bits a pixel" if e.bits else "",
        " and ".join(LINK_NAMES[kind] for kind in e.links),
        f"labels {' '.join(e.labels)}" if e.labels else "",
        f"RAM {e.ram_width} × {e.ram_height}" if e.ram_height else f"{e.ram_width} RAM columns" if e.ram_width else "",
        "commands " + " ".join(f"{c:02X}" for c in e.commands) if e.commands else "",
    ]
    return [words for words in pairs if words]


def identify(request: HttpRequest) -> HttpResponse:
    """The page; htmx asks for the ranking alone. Nothing is kept, so clues travel in the address or a post."""
    clues = {k: v for k, v in (request.POST or request.GET).items() if k != "original"}
    form = CluesForm(clues or None)
    context: dict[str, Any] = {"form": form, "upload": upload_of(request)}
    if form.is_bound:
        form.is_valid()
        context |= _ranked(form)
    template = "panels/partials/ranked.html" if request.htmx else "panels/identify.html"
    return render(request, template, context, status=422 if form.is_bound and form.errors and not request.htmx else 200)


def _ranked(form: CluesForm) -> dict[str, Any]:
    evidence = form.to_evidence()
    if evidence == Evidence():
        return {"understood": []}
    families = rank(evidence, list(catalogue().values()))
    first, second = families[0].best, runner_up(families)
    return {
        "understood": understood(evidence),
        "families": families[:FAMILIES_SHOWN],
        "more": len(families) - FAMILIES_SHOWN,
        "far_behind": first.points - second.points > FAR_BEHIND,
        **_told_apart(first.passport, second.passport),
    }


def _told_apart(a: Passport, b: Passport) -> dict[str, Any]:
    """What to try on the bench to part the two likeliest."""
    trial = part(a, b)
    sides = (Shown(a, _picture(a, trial.first), trial.first_words), Shown(b, _picture(b, trial.second), trial.second_words))
    return {"trial": trial, "sides": sides, "differences": _differences(a, b, trial)}


def _picture(passport: Passport, pixels) -> str:
    """A PNG as an address, in the panel's colours; numbers that are no colour stand out."""
    if pixels.ndim == 2:
        holes = pixels == NO_COLOR
        rgb = colors_of(pixels * ~holes, passport, passport.rotation).copy()
        rgb[holes] = NO_COLOR_SHOWN
    else:
        rgb = pixels
    return "data:image/png;base64," + base64.b64encode(encode_png(rgb, level=6)).decode()


def _differences(a: Passport, b: Passport, trial: Trial) -> list[str]:
    """What a ruler or the eye tells, where no transmission does."""
    found = []
    if abs(a.glass.width_mm - b.glass.width_mm) > 0.5 or abs(a.glass.height_mm - b.glass.height_mm) > 0.5:
        found.append(
            f"Measure the glass that lights up: {a.glass.width_mm:g} × {a.glass.height_mm:g} mm is the first,"
            f" {b.glass.width_mm:g} × {b.glass.height_mm:g} mm the second."
        )
    if a.glass.shape != b.glass.shape:
        found.append(f"Look at its shape: the first is {a.glass.shape}, the second {b.glass.shape}.")
    if len(a.module.pins) != len(b.module.pins):
        found.append(f"Count its pins: {len(a.module.pins)} or {len(b.module.pins)}.")
    return found
