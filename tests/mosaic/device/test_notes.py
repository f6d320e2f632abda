"""Notes of a device: what is written is read again, and nothing beyond what is accepted."""

import msgspec
import pytest

from mosaic.device.notes import PatchPhoto, Readings, StageNotes, Texts, TouchReadings


@pytest.mark.parametrize("kind", [Readings, StageNotes, PatchPhoto, TouchReadings, Texts])
def test_an_empty_note_is_read_again(kind):
    assert msgspec.json.decode(msgspec.json.encode(kind()), type=kind) == kind()
    with pytest.raises(msgspec.ValidationError, match="form"):
        msgspec.json.decode(b'{"form": 2}', type=kind)


@pytest.mark.parametrize(
    ("kind", "accepted", "refused"),
    [
        (PatchPhoto, b'{"reflectance": 1}', b'{"reflectance": 1.01}'),
        (PatchPhoto, b'{"reflectance": 0.01}', b'{"reflectance": 0}'),
        (
            Readings,
            b'{"readings": {"a": {"value": 3, "day": "2026-11-28"}}}',
            b'{"readings": {"a": {"value": 3, "day": "2026-11-281"}}}',
        ),
        (Texts, b'{"lines": "%s"}' % (b"x" * 20_000), b'{"lines": "%s"}' % (b"x" * 20_001)),
        (TouchReadings, b'{"readings": "%s"}' % (b"x" * 20_000), b'{"readings": "%s"}' % (b"x" * 20_001)),
    ],
    ids=["brightest", "darkest", "day", "texts", "touch"],
)
def test_bounds(kind, accepted, refused):
    msgspec.json.decode(accepted, type=kind)
    with pytest.raises(msgspec.ValidationError):
        msgspec.json.decode(refused, type=kind)
