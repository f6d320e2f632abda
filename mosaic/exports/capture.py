"""What goes over the wire as CSV: one row for each thing sent, in the notation that captures are read in.

::

    kind,bytes,us
    reset,,0
    wait,120,0
    C,2A,120000
    D,00 00 00 EF,120001

`kind` is C (command), D (data), reset, wait (milliseconds in the second column) or busy; `us` is the time at
which it begins, in microseconds from the start, and may be left out.
"""

import csv
import io
from dataclasses import replace
from fractions import Fraction

from mosaic.links import Link
from mosaic.links.i2c import I2cLink
from mosaic.panels.sequence import Transaction
from mosaic.panels.wire import Part

HEAD = ("kind", "bytes", "us")
BYTES_A_ROW = 32


def capture_csv(parts: tuple[Part, ...], link: Link | None = None) -> str:
    """The rows of a transmission; times are those of bytes and pauses on a link, without waiting for busy."""
    # A capture holds one transaction a row: each is timed as one.
    link = replace(link, grouped=False) if isinstance(link, I2cLink) else link
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(HEAD)
    start = Fraction(0)
    for part in parts:
        done: list[Transaction] = []
        for transaction in part.transactions:
            us = "" if link is None else str(round((start + _wire_s(done, link)) * 1_000_000))
            for row in _rows(transaction):
                writer.writerow((*row, us))
                us = ""
            done.append(transaction)
        start += _wire_s(done, link) if link is not None else 0
    return out.getvalue()


def _wire_s(done: list[Transaction], link: Link) -> Fraction:
    """Seconds that these take on the wire, with the pauses that were sent among them."""
    sent = tuple(done)
    pauses = sum((Fraction(t.wait_ms) for t in sent), Fraction(0)) / 1000
    return Fraction(link.clocks(sent), link.clock_hz) + link.gaps_s(sent) + pauses


def _rows(transaction: Transaction) -> list[tuple[str, str]]:
    if transaction.kind == "delay":
        return [("wait", f"{transaction.wait_ms:g}")]
    if transaction.kind in ("reset", "busy"):
        return [(transaction.kind, "")]
    data, kind = transaction.data, transaction.kind[0].upper()
    return [(kind, data[at : at + BYTES_A_ROW].hex(" ").upper()) for at in range(0, len(data), BYTES_A_ROW)]
