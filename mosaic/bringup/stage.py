"""What a stage of bringing up is."""

from dataclasses import dataclass


def _plain(value: float | None) -> str:
    return "" if value is None else f"{value:.3g}" if value < 1000 else f"{value:,.0f}"


@dataclass(frozen=True)
class Measure:
    """A reading that is taken at a stage, and between which values it should lie; None is no bound on that side."""

    label: str
    unit: str
    low: float | None
    high: float | None
    basis: str = "computed"

    def holds(self, reading: float) -> bool:
        return (self.low is None or reading >= self.low) and (self.high is None or reading <= self.high)

    @property
    def expected(self) -> str:
        """In words.

        >>> Measure("rail", "V", 3.135, 3.465).expected, Measure("frame", "ms", None, 25.0).expected
        ('3.13 to 3.46 V', 'at most 25 ms')
        """
        low, high = _plain(self.low), _plain(self.high)
        if self.low == self.high:
            return f"{low} {self.unit}".strip()
        if self.low is None:
            return f"at most {high} {self.unit}"
        return f"at least {low} {self.unit}" if self.high is None else f"{low} to {high} {self.unit}"


@dataclass(frozen=True)
class Suspect:
    """What may be wrong if a stage does not show what it should: in words, with a fault's name or a question's."""

    words: str
    fault: str = ""
    question: str = ""
    page: str = ""


@dataclass(frozen=True)
class Stage:
    """A stage.

    Attributes
    ----------
    asks : the question it answers
    send : what to send, one sentence each
    see : what must be seen on the bench
    measure : the reading to take; None where eyes are enough
    suspects : what to look at if it is not so
    proves : what is known once it holds; the next stage builds on it
    shows : what the virtual panel is to show beside it: "off", "set-up", a test card's name, "picture" or "part"
    skipped : why this panel has no such stage, or ""
    """

    slug: str
    name: str
    asks: str
    send: tuple[str, ...]
    see: tuple[str, ...]
    measure: Measure | None
    suspects: tuple[Suspect, ...]
    proves: str
    shows: str
    skipped: str = ""
