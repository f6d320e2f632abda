"""The stepping stones: eight cut stones, each with a shard that breaks off when it has findings."""

from dataclasses import dataclass

SHAPES = {
    1: ("5,13 15,3 34,4 41,15 38,33 22,38 7,32", ""),
    2: ("4,9 20,2 39,8 41,25 31,37 11,36 3,24", ""),
    3: ("6,6 23.3,3.5 39,28.9 39,29 27,38 9,35 2,20", "26.9,1.3 30.6,.8 43.6,8.8 42.6,26.7"),
    4: ("9,4 22.8,2.7 38,27.2 36,34 18,38 4,29", "26.4,.5 34.6,-.2 44.6,14.8 41.6,25"),
    5: ("3,16 13,4 33,3 42,19 35,35 15,37", ""),
    6: ("6,8 22,3 23.1,3.2 38.5,28.1 30,38 12,35 2,25", "26.7,1 41.6,3.8 45.6,21.8 42.1,25.9"),
    7: ("10,3 30,4 41,13 40,30 24,38 6,34 3,17", ""),
    8: ("4,12 18,3 37,6 41,22 33,36 14,38 3,28", ""),
}
WHOLE = {
    3: "6,6 30,2.4 40,9 39,29 27,38 9,35 2,20",
    4: "9,4 34,2 42,14 36,34 18,38 4,29",
    6: "6,8 22,3 40,6 42,22 30,38 12,35 2,25",
}


@dataclass(frozen=True)
class Stone:
    """One stone of the path."""

    number: int
    name: str
    url: str
    state: str
    words: str
    words_class: str
    here: bool
    body: str
    shard: str


def stone(number: int, name: str, url: str, *, must: int, worth: int, begun: bool, here: bool) -> Stone:
    """A stone with its state told by shape and words."""
    found = must + worth
    words = "done" if begun else "not begun"
    if found:
        words = f"{found} finding{'s' if found > 1 else ''}"
    if must:
        words = f"{must} must fix" if must == found else f"{found}, {must} must fix"
    if here:
        words = f"here, {words}" if found else "here"
    state = "is-found" if found else "is-done" if begun else "is-blank"
    cut = (number - 1) % len(SHAPES) + 1  # there are eight cuts; a ninth stone is cut as the first
    broken, shard = SHAPES[cut]
    body, shard = (broken, shard) if found else (WHOLE.get(cut, broken), "")
    words_class = "n-over" if must else "n-tight" if worth else ""
    return Stone(number, name, url, state, words, words_class, here, body, shard)
