"""Texts that elements show, in the notation of texts with values."""

from mosaic.screens.kinds import KINDS
from mosaic.screens.screen import Element


def texts_in(element: Element) -> list[str]:
    """The lines of an element, and the numbers at its ticks.

    >>> texts_in(Element("e1", "text", text="Tide {m}")), texts_in(Element("e2", "needle", low=-5, high=40, labels=True))
    (['Tide {{m}'], ['{-5..40}'])
    """
    found = []
    blanks = KINDS[element.kind].blanks
    if "text" in blanks:
        found += [line.replace("{", "{{") for line in element.text.splitlines() if line.strip()]
    if "labels" in blanks and element.labels:
        found.append(f"{{{min(element.low, element.high)}..{max(element.low, element.high)}}}")
    return found
