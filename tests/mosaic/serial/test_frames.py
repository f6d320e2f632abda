"""Frames: published check values, made and read again, resynchronised; the same in core, C and Python."""

import ctypes
import random
import subprocess
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.firmware import line as python
from mosaic.serial.checks import Check
from mosaic.serial.code import c_template, python_template
from mosaic.serial.frames import FAULTS, Fault, Message, Reader, annotated, encode
from mosaic.serial.template import ACTS, ADDRESSED, MARKED, MOST_DATA, PACKETS, TEMPLATES, Codes, Template
from tests.mosaic.drawing.test_three_renderers import SOURCES, WARNINGS

TEXT = TEMPLATES["lines of text"]
NINE = b"123456789"
CRC_A001, CRC_1021 = Check("crc16", 0xA001, reflected=True), Check("crc16", 0x1021)


@pytest.mark.parametrize(
    ("check", "value"),
    [
        (Check("crc8", 0x07), 0xF4), (CRC_A001, 0xBB3D), (replace(CRC_A001, start=0xFFFF), 0x4B37),
        (replace(CRC_1021, start=0xFFFF), 0x29B1), (CRC_1021, 0x31C3), (Check("sum"), 0xDD), (Check("xor"), 0x31), (Check(), 0),
    ],
)  # fmt: skip
def test_published_check_values(check, value):
    assert check.of(NINE) == value


def test_the_sum_of_the_nine_is_1dd():
    assert sum(NINE) == 0x1DD


# Byte by byte

PLAIN = Template(header="5A A5", codes=Codes(write=0x82, read=0x83))


def test_a_frame_of_eight_bytes_by_hand():
    """Header, length 5, write, address 1000h, the number 300: 5A A5 05 82 10 00 01 2C."""
    frame = encode(Message("write", 0x1000, b"\x01\x2c"), PLAIN)
    assert frame.hex(" ") == "5a a5 05 82 10 00 01 2c"
    parts = [
        (one.name, frame[one.begin : one.end].hex(), one.words) for one in annotated(Message("write", 0x1000, b"\x01\x2c"), PLAIN)
    ]
    assert parts == [
        ("header", "5aa5", ""), ("length", "05", "5"), ("code", "82", "write"), ("address", "1000", "1000h"), ("payload", "012c", ""),
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("counts", "length"),
    [("what follows", 7), ("what follows without the check", 5), ("the whole frame", 10), ("the payload", 2)],
)
def test_what_a_length_counts(counts, length):
    template = replace(PLAIN, counts=counts, check=CRC_A001, order="low first", address_bytes=2)
    frame = encode(Message("write", 0x1000, b"\x01\x2c"), template)
    assert frame[2] == length
    assert frame[4:6] == b"\x00\x10"
    assert Reader(template).feed(frame) == [Message("write", 0x1000, b"\x01\x2c")]


def test_an_end_mark_is_escaped_and_a_check_goes_in_before():
    """Code 31, address 7Fh low first, nothing; exclusive-or of 31 7F 00 is 4E; 7F stands as 7D 5F."""
    frame = encode(Message("write", 0x007F), MARKED)
    assert frame.hex(" ") == "31 7d 5f 00 4e 7f"
    assert Reader(MARKED).feed(frame) == [Message("write", 0x7F)]


def test_a_line_of_text():
    checked = replace(TEXT, check=Check("sum"))
    assert encode(Message("write", 4096, b"\x01\x2c"), TEXT) == b"set=4096=012C\n"
    assert encode(Message("page", data=b"\x00\x03"), TEXT) == b"page=0003\n"
    assert encode(Message("page", data=b"\x00\x03"), checked) == f"page=0003*{sum(b'page=0003') & 255:02X}\n".encode()


# There and back


@st.composite
def templates(draw):
    framing = draw(st.sampled_from(["length", "terminator", "text"]))
    kind = draw(st.sampled_from(["none", "sum", "xor", "crc8", "crc16"]))
    check = Check(
        kind, draw(st.integers(1, 0xFF if kind == "crc8" else 0xFFFF)), draw(st.integers(0, 0xFF if kind == "crc8" else 0xFFFF)),
        draw(st.sampled_from([0, 0xFF])), draw(st.booleans()), draw(st.sampled_from(["high first", "low first"])), draw(st.booleans()),
    )  # fmt: skip
    codes = draw(st.lists(st.integers(0, 255), min_size=7, max_size=7, unique=True))
    tail = draw(st.sampled_from(["0D 0A", "7F", "FF FF FF"]))
    return Template(
        "mine", framing, draw(st.sampled_from(["A5 5A", "AA"] if framing != "terminator" else ["", "7E", "02"])),
        draw(st.sampled_from([1, 2])),
        draw(st.sampled_from(["what follows", "what follows without the check", "the whole frame", "the payload"])),
        Codes(*codes), draw(st.sampled_from([1, 2])), draw(st.sampled_from(["high first", "low first"])), check, tail,
        0x7D, draw(st.sampled_from([0x20, 0x80])), draw(st.sampled_from(["=", ":", "--"])),
    )  # fmt: skip


messages = st.builds(
    lambda act, address, data: Message(act, address if act in ADDRESSED else 0, data),
    st.sampled_from(ACTS), st.integers(0, 255), st.binary(max_size=40),
)  # fmt: skip


@given(templates(), st.lists(messages, min_size=1, max_size=6), st.integers(1, 30))
@settings(max_examples=200)
def test_made_and_read_are_inverse(template, sent, size):
    data = b"".join(encode(one, template) for one in sent)
    reader, found = Reader(template), []
    for at in range(0, len(data), size):
        found += reader.feed(data[at : at + size])
    assert found == sent
    assert (reader.frames, reader.skipped, reader.finish()) == (len(sent), 0, [])
    for one in sent:
        assert [part.begin for part in annotated(one, template)][1:] == [part.end for part in annotated(one, template)][:-1]


@pytest.mark.parametrize("template", [PACKETS, MARKED, replace(TEXT, check=Check("crc8", 7)), replace(MARKED, header="02")])
def test_every_undamaged_frame_is_taken_and_every_damaged_one_is_counted(template):
    """5 % of the bytes are wrong: frames without a wrong byte are all taken, as far as the framing tells them from the others."""
    dice = random.Random(7)
    sent = [Message("write", dice.randrange(4096), dice.randbytes(dice.choice([2, 4, 16]))) for _ in range(400)]
    stream, whole = bytearray(), []
    before_is_whole = True
    for one in sent:
        frame = bytearray(encode(one, template))
        hit = [at for at in range(len(frame)) if dice.random() < 0.05]
        for at in hit:
            frame[at] ^= dice.randrange(1, 256)
        # Where frames have no header, a lost end mark takes the frame behind it along.
        alone = template.framing == "length" or (template.framing == "terminator" and template.head) or before_is_whole
        if not hit and alone:
            whole.append(one)
        before_is_whole = not hit
        stream += frame
    reader = Reader(template)
    taken = [one for one in [*reader.feed(bytes(stream)), *reader.finish()] if isinstance(one, Message)]
    position = 0
    for one in whole:
        assert one in taken[position:]
        position = taken.index(one, position) + 1
    assert len(taken) <= len(sent)
    assert sum(reader.counts.values()) > 0
    assert reader.skipped + sum(len(encode(one, template)) for one in taken) == len(stream)


@pytest.mark.parametrize(
    ("template", "data", "kind"),
    [
        (PLAIN, b"xyz" + encode(Message("read", 1, b"\x02"), PLAIN), "garbage"), (PLAIN, b"\x5a\xa5\x00", "length"),
        (PACKETS, encode(Message("read", 1), PACKETS)[:-1] + b"\x00", "check"), (PLAIN, b"\x5a\xa5\x01\x99", "code"),
        (PLAIN, b"\x5a\xa5\x02\x82\x01", "short"), (MARKED, b"\x31\x7d\x41\x7f", "escape"), (MARKED, b"\x31\x7f", "short"),
        (MARKED, b"\x00" * 600, "long"), (TEXT, b"set=99999=00\n", "field"), (TEXT, b"set=1=0\n", "field"), (TEXT, b"put=1\n", "code"),
        (TEXT, b"\xff\n", "garbage"), (TEXT, b"a" * 800, "long"), (replace(TEXT, check=Check("sum")), b"page=0003\n", "check"),
    ],
)  # fmt: skip
def test_each_fault_is_named_with_its_place(template, data, kind):
    faults = [one for one in Reader(template).feed(data) if isinstance(one, Fault)]
    assert faults[0].kind == kind
    assert faults[0].place == 0


def test_two_frames_run_together_and_a_cut_one():
    """The end of the first is lost; the second is found behind it, by its header."""
    first, second = Message("write", 1, b"\x00\x01"), Message("write", 2, b"\x00\x02")
    stream = encode(first, PACKETS)[:-3] + encode(second, PACKETS)
    reader = Reader(PACKETS)
    found = [*reader.feed(stream), *reader.finish()]
    assert [one for one in found if isinstance(one, Message)] == [second]
    reader = Reader(PACKETS)
    assert reader.feed(encode(first, PACKETS)[:-1]) == []
    assert reader.finish()[0].kind == "cut"


def test_half_a_mebibyte_of_noise_does_not_stop_it():
    dice = random.Random(3)
    for template in (PACKETS, MARKED, TEXT):
        reader = Reader(template)
        reader.feed(dice.randbytes(65_536))
        reader.finish()
        end = {"terminator": template.tail, "text": b"\n"}.get(template.framing, b"")
        assert reader.feed(end + encode(Message("page", data=b"\x00\x01"), template))[-1] == Message("page", data=b"\x00\x01")


def test_what_cannot_be_a_template():
    for wrong in (
        lambda: Template(codes=Codes(write=1, read=1)), lambda: Template(framing="terminator", terminator=""),
        lambda: Template(framing="text", words="a b"), lambda: Template(framing="text", between="x"),
    ):  # fmt: skip
        with pytest.raises(BadDescriptionError):
            wrong()
    with pytest.raises(BadValueError, match="no frame to light"):
        encode(Message("light", data=b"\x01"), replace(PLAIN, codes=Codes(light=-1)))
    with pytest.raises(BadValueError, match="does not fit 1 byte;"):
        encode(Message("read", 256), replace(PLAIN, address_bytes=1))
    with pytest.raises(BadValueError, match="too long"):
        encode(Message("write", 1, bytes(MOST_DATA + 1)), PLAIN)
    assert PACKETS.problems() == MARKED.problems() == []
    assert len(Template(framing="terminator").problems()) == 2


# Three runtimes


class CMessage(ctypes.Structure):
    _fields_ = [
        ("act", ctypes.c_uint8),
        ("size", ctypes.c_uint8),
        ("address", ctypes.c_uint16),
        ("data", ctypes.c_uint8 * MOST_DATA),
    ]


class CReader(ctypes.Structure):
    _fields_ = [
        ("t", ctypes.c_void_p), ("message", CMessage), ("frames", ctypes.c_uint32), ("skipped", ctypes.c_uint32),
        ("faults", ctypes.c_uint32 * len(FAULTS)), ("held", ctypes.c_uint16), ("lost", ctypes.c_uint8), ("rest", ctypes.c_uint8 * 752),
    ]  # fmt: skip


def c_library(folder, template: Template):
    """The runtime with one template, compiled without a warning."""
    source = folder / "panel.c"
    source.write_text(
        f'#include "line.h"\n{c_template(template)}\nconst line_template *given(void) {{ return &panel_template; }}\n'
    )
    out = folder / "line.so"
    words = [
        "gcc",
        "-std=c99",
        "-O1",
        "-shared",
        "-fPIC",
        *WARNINGS,
        f"-I{SOURCES}",
        str(SOURCES / "line.c"),
        str(source),
        "-o",
        str(out),
    ]
    subprocess.run(words, check=True)
    library = ctypes.CDLL(str(out))
    library.given.restype = ctypes.c_void_p
    return library


TEMPLATES_TRIED = [
    PACKETS, MARKED, TEXT, replace(TEXT, check=Check("crc16", 0x1021, 0xFFFF, order="high first"), between="--"),
    replace(PACKETS, counts="the payload", length_bytes=2, order="low first", check=Check("sum", from_header=True)),
    replace(PACKETS, counts="the whole frame", address_bytes=1, check=Check("crc8", 0x07, 0x12, 0xFF)),
    replace(PACKETS, counts="what follows without the check", check=Check()),
    replace(MARKED, header="02", terminator="0D 0A", check=Check("crc16", 0xA001, 0xFFFF, reflected=True, from_header=True)),
]  # fmt: skip


@pytest.mark.parametrize("number", range(len(TEMPLATES_TRIED)))
def test_core_c_and_python_make_and_read_the_same(tmp_path, number):
    template, dice = TEMPLATES_TRIED[number], random.Random(number)
    library = c_library(tmp_path, template)
    given = ctypes.c_void_p(library.given())
    told: dict = {}
    exec(python_template(template), told)
    stream = bytearray()
    for _ in range(300):
        act = dice.choice(ACTS)
        address = dice.randrange(256) if act in ADDRESSED else 0
        data = dice.randbytes(dice.choice([0, 1, 2, 4, 60]))
        meant = encode(Message(act, address, data), template)
        out = (ctypes.c_uint8 * 752)()
        size = library.line_frame(given, ACTS.index(act), address, data, len(data), out)
        assert bytes(out[:size]) == meant
        assert python.frame(told["TEMPLATE"], act, address, data) == meant
        stream += meant
        if dice.random() < 0.2:
            stream[-dice.randrange(1, len(meant) + 1)] ^= dice.randrange(1, 256)
        if dice.random() < 0.02:
            stream += dice.randbytes(dice.choice([3, 900]))
    core, plain, c = Reader(template), python.begin(told["TEMPLATE"]), CReader()
    library.line_begin(ctypes.byref(c), given)
    by_core = [one for one in core.feed(bytes(stream)) if isinstance(one, Message)]
    by_python = python.take(plain, stream)
    by_c = []

    def taken():
        m = c.message
        by_c.append(Message(ACTS[m.act], m.address, bytes(m.data[: m.size])))

    for byte in stream:
        more = library.line_take(ctypes.byref(c), byte)
        while more:
            taken()
            more = library.line_next(ctypes.byref(c))
    by_core += [one for one in core.finish() if isinstance(one, Message)]
    by_python += python.rest(plain)
    while library.line_rest(ctypes.byref(c)):
        taken()
    assert by_c == by_core == [Message(*one) for one in by_python]
    counts = {kind: core.counts.get(kind, 0) for kind in FAULTS}
    assert dict(zip(FAULTS, c.faults, strict=True)) == counts == plain["faults"]
    assert (c.frames, c.skipped) == (core.frames, core.skipped) == (plain["frames"], plain["skipped"])
    assert len(by_core) > 200
