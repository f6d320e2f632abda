"""Values that follow the bands of another one: what says which band it is in, and what blinks with it."""

from dataclasses import replace

from mosaic.errors import BadValueError
from mosaic.screens.screen import Design, new_id
from mosaic.values.value import Origin, Value


def with_value(design: Design, value: Value) -> Design:
    """The design with a value in place of the one with its id, or as the last."""
    if design.value(value.id) is None:
        return replace(design, values=(*design.values, value))
    return replace(design, values=tuple(value if one.id == value.id else one for one in design.values))


def words_of(value: Value) -> tuple[str, ...]:
    """What the bands of a value are called."""
    return tuple(band.word or f"band {number + 1}" for number, band in enumerate(value.bands.bands))


def following(design: Design, ident: str) -> Design:
    """The design after a value's bands have changed: what says which band it is in has their words, two at least."""
    value = design.value(ident)
    if value is None:
        return design
    words = (*words_of(value), "-", "--")[: max(2, len(value.bands.bands))]
    for other in design.values:
        if other.origin.by == "band" and other.origin.of == ident:
            design = with_value(design, replace(other, words=words))
    return design


def saying(design: Design, value: Value) -> Design:
    """The design with a value that says which band another one is in.

    Raises
    ------
    BadValueError
        There are fewer than two bands.
    """
    if any(one.origin.by == "band" and one.origin.of == value.id for one in design.values):
        return design
    words = words_of(value)
    if len(words) < 2:
        raise BadValueError("one band has nothing to tell apart; make two or more")
    said = Value(_free_id(design), _free_name(design, f"{value.name} band"), "word", words=words, origin=Origin("band", value.id))
    return with_value(design, said)


def blinking(design: Design, value: Value) -> Design:
    """The design with a value that blinks as the band of another one has it."""
    if any(one.origin.by == "blink" and one.origin.of == value.id for one in design.values):
        return design
    name = _free_name(design, f"{value.name} blink")
    return with_value(design, Value(_free_id(design), name, "yes/no", origin=Origin("blink", value.id)))


def _free_id(design: Design) -> str:
    taken = [value.id for value in design.values] + [style.id for style in design.styles]
    return new_id({*taken, *(part.id for part in design.parts), *(moment.id for moment in design.moments)}, "v")


def _free_name(design: Design, name: str) -> str:
    taken = {value.name.lower() for value in design.values}
    return next(one for one in (name[:40], *(f"{name[:36]} {n}" for n in range(2, 99))) if one.lower() not in taken)
