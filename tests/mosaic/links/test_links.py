"""Wire time against figures worked out by hand."""

from fractions import Fraction

import pytest

from mosaic.errors import BadValueError
from mosaic.links import total_s, wire_steps
from mosaic.links.i2c import I2cLink
from mosaic.links.kinds import KINDS
from mosaic.links.parallel import ParallelLink
from mosaic.links.qspi import QspiLink
from mosaic.links.rgb import RgbLink
from mosaic.links.spi import SpiLink
from mosaic.links.uart import UartLink
from mosaic.panels.sequence import Transaction, expand
from mosaic.panels.wire import Part


def data(*sizes: int) -> tuple[Transaction, ...]:
    return tuple(Transaction("data", bytes(size)) for size in sizes)


@pytest.mark.parametrize(
    ("limit", "count", "clocks", "ms"),
    [
        # (1024 + 2) x 9 + 2
        (None, 1, 9236, 23.09),
        # 31 data bytes each: (1024 + 34 x 2) x 9 + 34 x 2
        (32, 34, 9896, 24.74),
        # 127 each: ceil(1024 / 127) = 9; (1024 + 18) x 9 + 18
        (128, 9, 9396, 23.49),
    ],
)
def test_a_page_frame_over_i2c(limit, count, clocks, ms):
    link = I2cLink(400_000, limit)
    assert link.transactions_for(1024) == count
    assert link.clocks(data(1024)) == clocks
    assert clocks / 400 == ms


def test_each_transaction_pays_for_itself():
    # Three bytes one by one: 3 x ((1 + 2) x 9 + 2); waits cost no clocks.
    assert I2cLink(100_000).clocks((*data(1, 1, 1), Transaction("delay", wait_ms=5))) == 87
    assert I2cLink(100_000, start_stop_clocks=10).clocks(data(1)) == 37


def test_a_tft_frame_over_spi():
    link = SpiLink(40_000_000)
    seconds = Fraction(link.clocks(data(153_600)), link.clock_hz)
    assert float(seconds * 1000) == 30.72
    # 11 window bytes more: 32.54 frames a second at most.
    assert 32.5 < 1 / float(Fraction(link.clocks(data(153_600, 11)), link.clock_hz)) < 32.6


def test_three_wires_send_nine_bits():
    assert SpiLink(1_000_000, wires=3).clocks(data(10)) == 90


def test_gaps_and_switches():
    link = SpiLink(1_000_000, byte_gap_ns=1000, switch_ns=500)
    sent = (Transaction("command", b"\x2a"), Transaction("data", bytes(4)), Transaction("data", bytes(2)))
    # Seven bytes have six gaps between them; switches: at the start and from command to data.
    assert link.gaps_s(sent) == Fraction(6 * 1000 + 2 * 500, 10**9)
    # With a byte before each of the three runs there are ten.
    assert SpiLink(1_000_000, byte_gap_ns=1000, prefix_bytes=1).gaps_s(sent) == Fraction(9 * 1000, 10**9)
    assert link.gaps_s(data(1)) == Fraction(500, 10**9)


def test_commands_of_a_run_share_a_transaction_or_do_not():
    """Three one-byte commands of a page and its 128 bytes: (3 + 2) x 9 + 2 and (128 + 2) x 9 + 2, or three times 29."""
    sent = (*(Transaction("command", bytes([byte])) for byte in (0xB0, 0x00, 0x10)), Transaction("data", bytes(128)))
    assert I2cLink(400_000).clocks(sent) == 47 + 1172
    assert I2cLink(400_000, single_commands=True).clocks(sent) == 87 + 1172
    together = (Transaction("command", b"\xb0\x00\x10"), Transaction("data", bytes(128)))
    assert I2cLink(400_000).clocks(together) == 47 + 1172
    # Commands with operands stand alone: two windows of three bytes are 47 each.
    assert I2cLink(400_000).clocks((together[0], together[0])) == 94
    assert I2cLink(400_000, grouped=False).clocks(sent) == 87 + 1172
    assert I2cLink(400_000, single_commands=True).clocks(together) == 87 + 1172


@pytest.mark.parametrize("make", [lambda: I2cLink(0), lambda: SpiLink(-5), lambda: I2cLink(400_000, 1)])
def test_refusals(make):
    with pytest.raises(BadValueError):
        make()


class TestOtherLinks:
    """Clocks worked by hand for a command byte, four operands, and a row of pixels."""

    sent = tuple(expand("c 2A d 00 00 00 EF\nc 2C d {plane}", {"plane": bytes(480)}))

    @pytest.mark.parametrize(
        ("link", "clocks", "milliseconds"),
        [
            (UartLink(115_200), 4_860, 42.1875),  # 486 bytes of 10 bits
            (UartLink(115_200, parity=True), 5_346, 46.40625),
            (UartLink(115_200, reply_ms=5), 4_860, 52.1875),  # two messages, each answered in 5 ms
            (ParallelLink(10_000_000), 486, 0.0486),
            (ParallelLink(10_000_000, 16), 246, 0.0246),  # pixels two bytes a cycle
            (QspiLink(40_000_000), 1_008, 0.0252),  # 6 bytes of 8 clocks, 480 of 2
            (QspiLink(40_000_000, select_ns=500), 1_008, 0.0262),
            (SpiLink(8_000_000, prefix_bytes=1), 3_920, 0.49),  # four runs, a byte before each
            (SpiLink(9_000_000, wires=3), 4_374, 0.486),
            (RgbLink(29_232_000, 928 * 525), 487_200, 16.6667),  # one scan whatever the bytes: 60 a second
        ],
    )
    def test_time(self, link, clocks, milliseconds):
        (step,) = wire_steps((Part("row", self.sent),), link)
        assert step.clocks == clocks
        assert float(step.time_s * 1000) == pytest.approx(milliseconds, rel=1e-5)

    def test_one_header_of_four_lines_is_one_pause(self):
        """A command, two runs of operands: one selection of 500 ns."""
        sent = (Transaction("command", b"\x2a"), Transaction("data", bytes(4)), Transaction("data", bytes(2)))
        assert QspiLink(40_000_000, select_ns=500).gaps_s(sent) == Fraction(500, 10**9)

    @pytest.mark.parametrize("make", [UartLink, ParallelLink, QspiLink, SpiLink, I2cLink, lambda clock: RgbLink(clock, 1)])
    def test_the_slowest_clock(self, make):
        assert make(1).clock_hz == 1
        with pytest.raises(BadValueError, match="above 0"):
            make(0)

    def test_a_scan_of_nothing(self):
        with pytest.raises(BadValueError, match="totals above 0"):
            RgbLink(1_000_000, 0)

    def test_every_kind_is_named_and_made(self):
        for kind in KINDS.values():
            settings = {"total_pixels": 100} if kind.slug == "rgb" else {}
            assert kind.make(1_000_000, **settings).clock_hz == 1_000_000
            assert kind.name

    def test_kinds_count_as_their_links_do(self):
        clocks = {
            "spi": 3_888, "spi3": 4_374, "spi-flagged": 3_920, "qspi": 1_008, "parallel8": 486, "parallel16": 246, "uart": 4_860,
        }  # fmt: skip
        assert {slug: KINDS[slug].make(1_000_000).clocks(self.sent) for slug in clocks} == clocks

    def test_a_sum_of_steps(self):
        assert total_s(()) == 0
        both = wire_steps((Part("row", self.sent), Part("row", self.sent)), SpiLink(1_000_000))
        assert total_s(both) == Fraction(2 * 3_888, 10**6)


@pytest.mark.parametrize(
    ("count", "transactions", "clocks"),
    # Of 32 bytes one is the control byte: 31 are left. (count + 2 x transactions) x 9 + 2 x transactions
    [(1, 1, 29), (30, 1, 290), (31, 1, 299), (32, 2, 328), (62, 2, 598), (63, 3, 627)],
)
def test_i2c_at_exact_multiples(count, transactions, clocks):
    link = I2cLink(400_000, 32)
    assert link.transactions_for(count) == transactions
    assert link.clocks(data(count)) == clocks
    assert I2cLink(400_000).transactions_for(count) == 1


def test_the_least_limits_and_the_default_of_start_and_stop():
    assert I2cLink(1, 2).transactions_for(3) == 3
    assert (I2cLink(1).clocks(data(1)), SpiLink(1).clocks(data(1)), ParallelLink(1).clocks(data(1))) == (29, 8, 1)
    assert I2cLink(1).gaps_s(data(1)) == ParallelLink(1).gaps_s(data(1)) == 0


@pytest.mark.parametrize(("count", "cycles"), [(1, 1), (2, 1), (3, 2), (4, 2), (5, 3)])
def test_odd_bytes_of_pixels_take_a_whole_cycle_of_16_lines(count, cycles):
    (pixels,) = (t for t in expand("c 2C d {plane}", {"plane": bytes(count)}) if t.is_pixels)
    assert ParallelLink(1_000_000, 16).clocks((pixels,)) == cycles
    assert ParallelLink(1_000_000, 8).clocks((pixels,)) == count
    # What is no pixels goes a byte a cycle.
    assert ParallelLink(1_000_000, 16).clocks(data(count)) == count


def test_nothing_sent_costs_nothing():
    waits = (Transaction("delay", wait_ms=5), Transaction("busy"))
    for link in (
        SpiLink(1_000_000, switch_ns=500, prefix_bytes=1),
        I2cLink(100_000),
        ParallelLink(1),
        UartLink(9600, reply_ms=5),
    ):
        assert (link.clocks(waits), link.gaps_s(waits)) == (0, 0)


@pytest.mark.parametrize(("width", "clocks"), [({}, 3), ({"width_bits": 8}, 3), ({"width_bits": 16}, 2)])
def test_cycles_of_three_bytes_of_pixels(width, clocks):
    assert ParallelLink(1_000_000, **width).clocks((Transaction("data", bytes(3), is_pixels=True),)) == clocks
