"""The wire as CSV, by hand."""

from mosaic.exports.capture import capture_csv
from mosaic.links.spi import SpiLink
from mosaic.panels.sequence import expand
from mosaic.panels.wire import Part


def test_rows_and_times():
    part = Part("p", tuple(expand("reset\ndelay 1200\nc 2A d 00 00 00 EF\nbusy", {})))
    assert capture_csv((part,), SpiLink(8_000_000)) == (
        "kind,bytes,us\nreset,,0\nwait,1200,0\nC,2A,1200000\nD,00 00 00 EF,1200001\nbusy,,1200005\n"
    )


def test_pauses_between_bytes_count():
    part = Part("p", tuple(expand("c 2A d 00 00 00 EF\nbusy", {})))
    assert capture_csv((part,), SpiLink(8_000_000, byte_gap_ns=1000)).endswith("busy,,9\n")  # five bytes, four pauses


def test_long_runs_go_on_in_rows_without_a_time():
    part = Part("p", tuple(expand("d " + "AB " * 33, {})))
    lines = capture_csv((part,), SpiLink(8_000_000)).splitlines()
    assert lines[1] == "D," + " ".join(["AB"] * 32) + ",0"
    assert lines[2] == "D,AB,"
    assert capture_csv((part,)).splitlines()[2] == "D,AB,"
