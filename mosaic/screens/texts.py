"""Texts that elements show, in the notation of texts with bounds, as station 4 measures them."""

from mosaic.screens.kinds import KINDS
from mosaic.screens.kit import text_of
from mosaic.screens.screen import Element
from mosaic.screens.words import Values, in_bounds


def texts_in(element: Element, values: Values) -> list[str]:
    """The lines of an element, values in them by their bounds, and the numbers at its ticks.

    >>> texts_in(Element("e1", "text", text="Tide {m}"), {})
    ['Tide {{m}']
    >>> texts_in(Element("e2", "needle", low=-5, high=40, labels=True), {})
    ['{-5..40}']
    """
    found = []
    blanks = KINDS[element.kind].blanks
    if "text" in blanks or element.kind == "value":
        found += [text for line in text_of(element).splitlines() if line.strip() for text in in_bounds(line, values)]
    if "labels" in blanks and element.labels:
        found.append(f"{{{min(element.low, element.high)}..{max(element.low, element.high)}}}")
    return found
