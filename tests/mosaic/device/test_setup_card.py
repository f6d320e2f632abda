"""Set-up cards: parts that fit, edits for a version, clashes between builds."""

from dataclasses import replace

import pytest

from mosaic.device.budget import Content, Need, budgets
from mosaic.device.setup_card import Edit, MemoryPart, SetupCard, Tool, clashes
from mosaic.errors import BadDescriptionError
from mosaic.findings.rules import device_findings
from mosaic.findings.subjects import DeviceSubject
from mosaic.forms import from_record, to_record

MIB = 1024 * 1024
CARD = SetupCard(
    tools=(Tool("build tool", "3.2.1", "home"), Tool("display library", "1.4.0", "project")),
    memory=(
        MemoryPart("app", "program", 200_000),
        MemoryPart("update", "update slot", 200_000),
        MemoryPart("files", "files", 100_000),
    ),
    edits=(Edit("Display Library", "1.4.0", "setup.h", 42, "#define W 128", "#define W 132", "the RAM is wider"),),
)


def found(device, card):
    made = replace(device, setup_card=card)
    findings = device_findings(DeviceSubject(made, budgets(made, Content((Need("arrays", "pictures", 30_000),), (), 0.2))))
    return {f.id.removeprefix("setup-card."): f for f in findings if f.id.startswith("setup-card.")}


# The low-power board: 524,288 bytes of flash; a usual program takes 122,880, the pictures here 30,000.
BROKEN = {
    "parts-too-large": replace(CARD, memory=(*CARD.memory, MemoryPart("more", "other", 24_289))),
    "program-too-small": replace(CARD, memory=(MemoryPart("app", "program", 152_879),)),
    "update-slot-too-small": replace(CARD, memory=(MemoryPart("update", "update slot", 152_879),)),
    "edit-lost": replace(CARD, tools=(Tool("display library", "1.5.0"),)),
    "version-open": replace(CARD, tools=(Tool("display library"),)),
}


def test_a_good_card_and_none_are_left_alone(tide_board):
    assert not found(tide_board, CARD)
    assert not found(tide_board, None)
    assert not found(tide_board, replace(CARD, memory=(MemoryPart("all", "program", 524_288),)))


@pytest.mark.parametrize("id_", BROKEN)
def test_what_is_wrong_is_told(tide_board, id_):
    assert set(found(tide_board, BROKEN[id_])) == {id_}


def test_words(tide_board):
    assert "was made for 1.4.0; 1.5.0 is in use" in found(tide_board, BROKEN["edit-lost"])["edit-lost"].what
    assert "149.3 KiB" in found(tide_board, BROKEN["program-too-small"])["program-too-small"].what  # 152,880 bytes


def test_clashes_are_in_one_place_and_of_two_versions():
    def card(version, kept_in):
        return SetupCard((Tool("Build tool", version, kept_in),))

    others = {"a": card("3.2.1", "home"), "b": card("3.3.0", "home"), "c": card("3.3.0", "project"), "d": card("", "home")}
    assert [(c.other, c.other_wants) for c in clashes(CARD, others)] == [("b", "3.3.0")]


def test_there_and_back_and_days():
    assert to_record(from_record(CARD), SetupCard, "card") == CARD
    with pytest.raises(BadDescriptionError, match="a day such as"):
        to_record({"trials": [{"day": "yesterday"}]}, SetupCard, "card")
