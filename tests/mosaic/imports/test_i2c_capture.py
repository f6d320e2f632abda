"""Captures of an I2C bus as analysers print them, by hand and against the transmission they were written from."""

from fractions import Fraction

import pytest

from mosaic.conversion.program import Setting, transmission
from mosaic.conversion.replay import replay
from mosaic.errors import BadLinesError
from mosaic.imports.capture import read_capture
from mosaic.links.i2c import I2cLink
from mosaic.panels.geometry import Orientation
from mosaic.panels.loader import catalogue
from mosaic.panels.sending import Sending
from tests.mosaic.virtual.test_virtual import random_picture

ROWS = """time [ms],event,byte,ack
0.120,start,,
0.120,address write,3C,ACK
0.145,data,00,ACK
0.170,data,AE,ACK
0.195,stop,,
0.2,start,,
0.2,address write,0x3C,ACK
0.225,data,40,ACK
0.25,data,12,ACK
0.275,data,FF,ACK
0.3,stop,,
"""
LINES = "# one line a transaction\n0.000120 S 3C W A 00 A AE A P\n0.000200s [S] 3C+W A 40 A 12 A FF A [P]\n"
EIGHT_BITS = "start\n78 ack\n80 ack AE ack\nC0 ack 12 ack\n40 ack FF ack\nstop\n"


@pytest.mark.parametrize("text", [ROWS, LINES, EIGHT_BITS])
def test_start_address_control_byte_and_bytes(text):
    command, data = read_capture(text).sent
    assert (command.transaction.kind, command.transaction.data) == ("command", b"\xae")
    assert (data.transaction.kind, data.transaction.data) == ("data", b"\x12\xff")


def test_times_are_those_of_the_starts():
    assert [sent.at_s for sent in read_capture(ROWS).sent] == [Fraction(120, 10**6), Fraction(200, 10**6)]
    assert read_capture(LINES).duration_s == Fraction(80, 10**6)
    assert read_capture(EIGHT_BITS).duration_s is None


def test_other_devices_of_the_bus_and_reads_are_left_out_and_said():
    text = "S 3C W A 00 A AE A P\nS 68 W A 00 A P\nSr 68 R A 21 A 22 N P\nS 3C W A 00 A AF A P\n"
    capture = read_capture(text)
    assert [sent.transaction.data for sent in capture.sent] == [b"\xae", b"\xaf"]
    assert [str(said) for said in capture.remarks] == ["line 2: left out: 2 transactions to other addresses (68)"]


def test_an_address_that_nothing_acknowledges_is_said():
    (said,) = read_capture("S 3D W N P\nS 3D W A 00 A AE A P\n").remarks
    assert said.line == 1
    assert "3D" in said.words


@pytest.mark.parametrize(
    ("text", "line", "words"),
    [
        ("S 3C W A 00 A AE A P\n3C A\n", 2, "stands before any start"),
        ("S 3C W A 00 A AE A P\nS 3C W A 00 A ZZ A P\n", 2, "'ZZ' is neither a byte nor"),
        ("S 3C W A 01 A AE A P\n", 1, "01 is no control byte"),
        ("S 3C W A P\n", 1, "nothing was sent"),
        ("start\naddress 68 R\ndata 11\nstop\n", 1, "nothing was sent"),
    ],
)
def test_damage_is_told_by_its_line(text, line, words):
    with pytest.raises(BadLinesError) as told:
        read_capture(text)
    assert told.value.problems[0].line == line
    assert words in told.value.problems[0].words


def test_a_whole_frame_of_an_i2c_panel_plays_to_its_glass():
    """The bytes of a transmission, each transaction printed as its line with sixteen bytes of data at most."""
    panel = catalogue()["mono-oled-128x64"]
    turn = Orientation(panel.rotation)
    pixels = random_picture(panel, turn)
    lines = []
    for part in transmission(pixels, Setting(panel, turn), Sending()):
        for sent in part.transactions:
            control = "00" if sent.kind == "command" else "40"
            for at in range(0, len(sent.data), 16):
                body = " ".join(f"{byte:02X} A" for byte in sent.data[at : at + 16])
                lines.append(f"S 3C W A {control} A {body} P")
    link = I2cLink(400_000, transaction_bytes=17)
    result = replay(read_capture("\n".join(lines)), panel, turn, link)
    assert (result.shown == pixels).all()
    assert result.misuse == ()
