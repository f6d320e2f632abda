"""One voice: every word of buttons and headings stands in a list that is read through, and what everybody knows keeps its name."""

import re

import pytest

from tests.words import LIST, collected, text

USUAL = {
    "Save": r"(Keep|Store|Preserve)( it| them| as it is)?", "Delete": r"(Delete|Erase|Discard|Bin|Trash) it|Erase|Discard|Trash|Wipe",
    "Undo": r"(Take|Step) back|Revert", "Redo": r"Do again|Step forward", "Download": r"Fetch|Get it|Grab", "Cancel": r"Abort|Dismiss|Never mind",
    "Search": r"Look for|Query", "Edit": r"Edit it|Alter|Amend", "Close": r"Close it|Shut",
}  # fmt: skip
"""What everybody has a word for, and what it is not to be called."""


def test_the_list_is_current():
    assert LIST.read_text() == text(), "read what is new, then: python -m tests.words"


@pytest.mark.parametrize("usual", list(USUAL))
def test_what_everybody_knows_keeps_its_name(usual):
    pattern = re.compile(USUAL[usual])
    assert [words for words in collected()["button"] if pattern.fullmatch(words)] == []


def test_buttons_begin_with_a_capital_or_are_a_file():
    small = {words for words in collected()["button"] if words[0].islower() and not re.search(r"\.\w+$|^(all|wire) ", words)}
    assert small <= {"off", "leave out", "instead", "remove", "by hand"}  # inside of a sentence
