"""Forms of arrays that programs take, to choose from: those that hold every pixel of a panel's own form."""

import msgspec

from mosaic.pixels.formats import ByteOrder, DirectFormat, IndexedFormat

Form = IndexedFormat | DirectFormat
AS_PANEL = "panel"
_INDEXED = {
    "rows-high": ("rows, first pixel high", "row", "msb", "rows"),
    "rows-low": ("rows, first pixel low", "row", "lsb", "rows"),
    "pages-low": ("pages, top pixel low", "column", "lsb", "pages"),
    "pages-high": ("pages, top pixel high", "column", "msb", "pages"),
    "columns-high": ("columns, top pixel high", "column", "msb", "columns"),
    "columns-low": ("columns, top pixel low", "column", "lsb", "columns"),
}
_DIRECT: dict[str, tuple[str, int, ByteOrder]] = {
    "words-high": ("16 bits, high byte first", 16, "big"),
    "words-low": ("16 bits, low byte first", 16, "little"),
    "bytes-888": ("24 bits, a byte a channel", 24, "big"),
}


def array_forms(own: Form) -> dict[str, tuple[str, Form]]:
    """(words, form) by a short name, the panel's own first as "panel"; forms with fewer bits than it are left out.

    >>> list(array_forms(DirectFormat(18)))
    ['panel', 'bytes-888']
    """
    forms: dict[str, tuple[str, Form]] = {AS_PANEL: ("as the panel wants", own)}
    if isinstance(own, IndexedFormat):
        for name, (words, along, first, follow) in _INDEXED.items():
            form = msgspec.structs.replace(own, along=along, first=first, follow=follow, align_bits=8)
            forms[name] = (words, form)
    else:
        for name, (words, bits, order) in _DIRECT.items():
            if bits >= own.bits:
                forms[name] = (words, DirectFormat(bits, byte_order=order))
    return {name: (words, form) for name, (words, form) in forms.items() if name == AS_PANEL or form != own}


def form_name(own: Form, taken: Form | None) -> str:
    """The short name of the form in use; "other" where it is none of those to choose from."""
    if taken is None or taken == own:
        return AS_PANEL
    return next((name for name, (_, form) in array_forms(own).items() if form == taken), "other")
