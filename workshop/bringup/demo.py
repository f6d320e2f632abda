"""What station 2 lays out in the demo: notes, a measured panel, a program's drawing, drills."""

from typing import Any

from mosaic.cards.registry import CARDS, painted
from mosaic.conversion.program import transmission
from mosaic.device.notes import PatchPhoto, StageNotes, TouchReadings
from mosaic.forms import to_record
from mosaic.virtual.feed import FeedSession
from workshop.bringup.documents import PatchPhotoDocument, StageNotesDocument, TouchReadingsDocument
from workshop.bringup.feed_server import Keeper
from workshop.bringup.models import Feed
from workshop.bringup.services import answer_drill
from workshop.builds.models import Build
from workshop.documents.originals import keep_picture
from workshop.documents.services import add
from workshop.scenario.builds import DRILLS, FED, MEASURED, SLIPWAY_COLORS, STAGES_OF, TOUCH_READINGS, TOUCHED
from workshop.scenario.photo import CORNERS, WHITES, patch_photo


def load(builds: dict[str, Build], person: Any) -> None:
    """Lay it into the demo's builds, by name."""
    for name, stages in STAGES_OF.items():
        notes = to_record({"stages": stages}, StageNotes, "stages")
        add(StageNotesDocument, build=builds[name], name="Stages", record=notes)
    add(TouchReadingsDocument, build=builds[TOUCHED], name="Touch", record=TouchReadings(TOUCH_READINGS))
    original = keep_picture(data=patch_photo(SLIPWAY_COLORS), file_name="slipway-card.jpg", owner=person)
    photo = PatchPhoto(corners=CORNERS, whites=WHITES)
    add(PatchPhotoDocument, build=builds[MEASURED], name="Photo", record=photo, sources=[(original, "slipway-card.jpg")])
    _draw_over_the_feed(builds[FED])
    for made, named in DRILLS:
        answer_drill(owner=person, panel="mono-oled-128x64", made=made, named=named)


def _draw_over_the_feed(build: Build) -> None:
    """What the makers' own program drew last: the counter's letter card, with one byte that was lost on the way."""
    feed = Feed.objects.create(build=build)
    keeper = Keeper(feed, "")
    conversation = FeedSession(lambda token: keeper.panel)
    setting = keeper.setting
    card = painted(CARDS["letter"], setting.passport, setting.turn)
    lines = [f"hello {feed.token}"]
    for sent in (t for part in transmission(card, setting, setting.sending) for t in part.transactions):
        word = {"command": "c", "data": "d", "delay": "delay"}.get(sent.kind, sent.kind)
        more = f" {sent.data.hex()}" if sent.data else f" {sent.wait_ms:g}" if word == "delay" else ""
        lines.append(word + more)
    lines.insert(6, "c A")
    conversation.take("".join(f"{line}\n" for line in lines).encode())
    keeper.keep(conversation, release=True)
