"""Whether a passport can be driven: from reset through its set-up to a test picture on the virtual panel."""

from mosaic.conversion.pipeline import pack
from mosaic.conversion.telling_apart import framed_f
from mosaic.errors import BadDescriptionError, MosaicError, UnknownNameError
from mosaic.panels.geometry import Turn
from mosaic.panels.passport import Passport
from mosaic.panels.wire import frame_parts, setup_part
from mosaic.virtual.panel import FAMILIES, Proof, prove


def drive(passport: Passport, turn: Turn | None = None) -> Proof:
    """Send set-up and a framed F as the passport says, and compare the glass with what was meant.

    Raises
    ------
    BadDescriptionError
        The passport cannot be carried out at all: an unknown family, a value that does not fit
        its bytes, more planes than the controller has.
    """
    turn = passport.rotation if turn is None else turn
    try:
        FAMILIES[passport.controller.family]
    except UnknownNameError as error:
        raise BadDescriptionError(str(error), path="$.controller.family") from None
    meant = framed_f(passport, turn)
    try:
        packed = pack(meant, passport, turn)
        setup, frame = setup_part(passport, turn), frame_parts(passport, turn, packed)
    except MosaicError as error:
        raise BadDescriptionError(str(error), path="$.sequences") from error
    try:
        return prove(passport, turn, setup, frame, meant, len(packed))
    except (ValueError, IndexError, LookupError, ZeroDivisionError) as error:
        # The stand-in for the controller trips over sizes that no such controller has.
        text = f"a {passport.controller.family} controller cannot have this glass, RAM and format together"
        raise BadDescriptionError(text, path="$.controller.family") from error
