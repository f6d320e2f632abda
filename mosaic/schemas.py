"""The published JSON Schemas of everything that is saved: `python -m mosaic.schemas` writes them anew."""

import json
from pathlib import Path
from typing import Any

import msgspec

from mosaic.animation.making import AnimationPlan
from mosaic.behaviour.behaviour import Behaviour
from mosaic.behaviour.recording import Recording
from mosaic.boards.board import Board
from mosaic.build_file import BuildRecord
from mosaic.device.notes import PatchPhoto, Readings, StageNotes, Texts, TouchReadings
from mosaic.device.setup_card import SetupCard
from mosaic.documents import DocumentFile
from mosaic.handover.layout import FileLayout
from mosaic.handover.manifest import Manifest
from mosaic.hosted.page import HostPage
from mosaic.lettering.plan import LetteringPlan
from mosaic.measured.calibration import Calibration
from mosaic.panels.passport import Passport
from mosaic.panels.sending import Sending
from mosaic.reduce.recipe import Recipe
from mosaic.refresh.day.program import Program
from mosaic.refresh.energy.plan import EnergyPlan
from mosaic.refresh.measuring.record import Benchmark
from mosaic.refresh.paper.ghost import GhostModel
from mosaic.refresh.wear.remedies import WearPlan
from mosaic.screens.screen import Design, Screen
from mosaic.segments.figure import FigurePlan
from mosaic.serial.plan import SerialPlan
from mosaic.strips.cutting import StripPlan
from mosaic.wiring.plan import PinPlan

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "formats"
RECORDS: dict[str, type] = {
    "passport": Passport, "board": Board, "recipe": Recipe, "wiring": PinPlan, "setup-card": SetupCard, "sending": Sending,
    "animation": AnimationPlan, "strip": StripPlan, "figure": FigurePlan, "lettering": LetteringPlan,
    "readings": Readings, "stages": StageNotes, "patches": PatchPhoto, "touch": TouchReadings, "texts": Texts,
    "screen": Screen, "design": Design, "behaviour": Behaviour,
    "recording": Recording, "host-page": HostPage, "schedule": Program, "benchmark": Benchmark, "energy": EnergyPlan,
    "layout": FileLayout, "calibration": Calibration, "build-file": BuildRecord,
    "manifest": Manifest, "serial": SerialPlan, "ghost": GhostModel, "wear": WearPlan,
    "documents": DocumentFile,
}  # fmt: skip


def schema_of(name: str) -> dict[str, Any]:
    """The schema of one record; unknown fields are refused, as the program refuses them."""
    schema = msgspec.json.schema(RECORDS[name])
    for part in schema.get("$defs", {}).values():
        if part.get("type") == "object":
            part["additionalProperties"] = False
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": name, **schema}


def text_of(name: str) -> str:
    """The schema as it is written to its file."""
    return json.dumps(schema_of(name), indent=2) + "\n"


if __name__ == "__main__":
    for record in RECORDS:
        (FOLDER / f"{record}.schema.json").write_text(text_of(record))
