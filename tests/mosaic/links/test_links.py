"""Wire time against figures worked out by hand."""

from fractions import Fraction

import pytest

from mosaic.errors import BadValueError
from mosaic.links.i2c import I2cLink
from mosaic.links.spi import SpiLink
from mosaic.panels.sequence import Transaction


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
    # gaps inside: 0 + 3 + 1; switches: at the start and from command to data.
    assert link.gaps_s(sent) == Fraction(4 * 1000 + 2 * 500, 10**9)


@pytest.mark.parametrize("make", [lambda: I2cLink(0), lambda: SpiLink(-5), lambda: I2cLink(400_000, 1)])
def test_refusals(make):
    with pytest.raises(BadValueError):
        make()
