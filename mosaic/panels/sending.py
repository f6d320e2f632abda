"""How a maker's own program hands pictures to the panel, where it does otherwise than the passport says."""

from dataclasses import dataclass, field, replace
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.errors import BadDescriptionError
from mosaic.panels.glass import Count
from mosaic.panels.passport import Passport
from mosaic.pixels.formats import DirectFormat, IndexedFormat
from mosaic.tables import TableStyle

SomeShare = Annotated[float, Meta(gt=0, le=1)]


@dataclass(frozen=True)
class Sending:
    """What is known of the program between the array and the wire. As it stands here, it does nothing wrong.

    Attributes
    ----------
    array : the form in which the program's library takes arrays, where that is not the panel's own; the
        library makes the panel's form of it, and arrays are given out in this one.
    sides_exchanged : it takes an array's width for its height.
    pages_reversed : it begins with the last page.
    left_out_bytes : bytes that it leaves out at an array's start.
    sent_share : share of a frame that it sends.
    window_share : share of the window's width that it sets.
    cell_px : width of the opaque cells in which it draws, each over the right edge of the one before; 0 for none.
    tables : how its compiler keeps constants, as the board says.
    """

    array: IndexedFormat | DirectFormat | None = None
    sides_exchanged: bool = False
    pages_reversed: bool = False
    left_out_bytes: Count = 0
    sent_share: SomeShare = 1.0
    window_share: SomeShare = 1.0
    cell_px: Count = 0
    tables: TableStyle = field(default=TableStyle())
    form: Literal[1] = field(default=1)

    def array_format(self, passport: Passport) -> IndexedFormat | DirectFormat:
        """The form of arrays for this panel.

        Raises
        ------
        BadDescriptionError
            The form kept here does not go with the panel's colours.
        """
        own, form = passport.format, self.array
        if form is None:
            return own
        if isinstance(form, IndexedFormat) and isinstance(own, IndexedFormat) and form.colors == own.colors:
            return form
        if isinstance(form, DirectFormat) and isinstance(own, DirectFormat):
            return form
        raise BadDescriptionError("this form of arrays does not go with the panel's colours", path="$.array")

    def described(self, passport: Passport) -> Passport:
        """The passport with the form of arrays in the place of the panel's own, for writing and reading arrays."""
        form = self.array_format(passport)
        return passport if form == passport.format else replace(passport, format=form)
