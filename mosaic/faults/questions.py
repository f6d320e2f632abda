"""Symptoms that no rendering shows (nothing at all, snow, flicker, fading): a short path of questions to the cause."""

from dataclasses import dataclass

from mosaic.registry import Registry


@dataclass(frozen=True)
class Cause:
    """Where a path ends: what it is, how to make sure, what mends it, and the page that helps."""

    what: str
    make_sure: str
    mend: str
    page: str = ""


@dataclass(frozen=True)
class Question:
    """A question, and where each answer leads: another question's name, or a cause."""

    slug: str
    text: str
    answers: tuple[tuple[str, "str | Cause"], ...]


POWER = Cause(
    "The panel has no supply", "Measure its supply pin against ground, at the panel: it must be within the passport's range.",
    "Look for a cold joint, a swapped wire, or a regulator that another load pulls down.", "check-sheet",
)  # fmt: skip
LIGHT = Cause(
    "Nobody drives the backlight", "Touch the backlight pin to its supply through the resistor that the module asks for.",
    "Wire it to a pin that the program sets high, or to the supply.", "wiring",
)  # fmt: skip
RESET = Cause(
    "Held in reset, or never reset", "Measure the reset line while the program runs: it must be high after a short low.",
    "Drive reset low for 10 ms, then high, and wait before the first command.", "wiring",
)  # fmt: skip
ADDRESS = Cause(
    "Spoken to at another address",
    "Scan the bus. An address printed on the board in its 8-bit form is twice the one that programs want.",
    "Use the address that answers.", "wiring",
)  # fmt: skip
SELECT = Cause(
    "Select or data/command is on another pin than the program says",
    "Paste the program's pin constants into the pin plan: what differs is marked.", "Correct the constant, or move the wire.",
    "wiring",
)  # fmt: skip
LEVEL = Cause(
    "Levels do not reach the panel", "Measure a data line at the panel while it is high: 0.7 of the panel's rail at least.",
    "Put a level shifter between, or feed both from one rail.", "wiring",
)  # fmt: skip
CLOCK = Cause(
    "The clock is too fast for wires or panel", "Halve the clock twice: if the picture becomes steady, this is it.",
    "Stay below the panel's limit, shorten the wires, run ground beside the clock.", "sheet",
)  # fmt: skip
SLEEP = Cause(
    "Asleep, or not switched on", "Look for the last command of the set-up: display on, after leaving sleep and its pause.",
    "Send the whole set-up after each reset; deep sleep ends by reset only.", "virtual",
)  # fmt: skip
BUSY = Cause(
    "The update is cut short, or never begun",
    "Watch the busy line: it must change after the update command and change back when the picture stands.",
    "Wait for the busy line; give the panel time and a supply that holds.", "virtual",
)  # fmt: skip
RAM_NOISE = Cause(
    "Switched on, but no picture was ever sent", "Snow that stands still is what RAM holds after power-up.",
    "The set-up works. Send a test card next.", "cards",
)  # fmt: skip
SUPPLY_DIPS = Cause(
    "The supply dips when much of the panel lights up",
    "Show a black picture: if it is steady, measure the rail while it is white.",
    "A capacitor of 10 to 100 µF at the panel, thicker wires, or a regulator with more to give.", "check-sheet",
)  # fmt: skip
TEARING = Cause(
    "Drawn while the panel scans", "Slow the drawing down: a seam that wanders across the picture is this.",
    "Begin each frame just behind the panel's scan, or draw into a buffer and send it at once.", "virtual",
)  # fmt: skip
REDRAWN = Cause(
    "Cleared and redrawn for each change", "Look for a clear before every drawing.",
    "Draw into a buffer, or only what has changed.", "virtual",
)  # fmt: skip
NO_CLEANING = Cause(
    "Too many partial updates in a row", "Make one full update: the ghost fades.",
    "One full update after every 5 to 10 partial ones, and at least one in 24 hours (typical).", "virtual",
)  # fmt: skip
COLD = Cause(
    "Cold, or an update cut short", "Let it come to room temperature and update in full.",
    "Cold glass needs more time; stay within the passport's range.", "virtual",
)  # fmt: skip
AGEING = Cause(
    "Pixels that were lit long are ageing", "Show all pixels lit: the places of old pictures stay darker.",
    "Dim, blank, and move what never changes by a pixel now and then.", "sheet",
)  # fmt: skip

ANGLE = Cause(
    "Looked at from its weak side", "Turn the module in hand: the picture is strong from one side and pale from the other.",
    "Mount it the other way up and let the build lie so.", "panel",
)  # fmt: skip

QUESTIONS: Registry[Question] = Registry(
    "question",
    (
        Question("start", "What does the glass do?", (
            ("Nothing at all", "nothing"), ("Snow, or scattered dots", "snow"), ("It flickers or jumps", "flicker"),
            ("The picture fades, or an old one shines through", "fading"),
        )),
        Question("nothing", "Is the supply right, measured at the panel?", (
            ("No, or not measured", POWER), ("Yes", "lit"),
        )),
        Question("lit", "Does the glass give any light, or change in any way, when the program starts?", (
            ("No, it stays dark", "dark"), ("It is lit evenly, but empty", SLEEP), ("It flashes once and stays as it was", BUSY),
        )),
        Question("dark", "Is it a TFT, whose light comes from behind?", (
            ("Yes", LIGHT), ("No", "answers"),
        )),
        Question("answers", "Does it answer? On I2C: is it found by a scan?", (
            ("Not found, or found elsewhere", ADDRESS), ("Found, and still dark", SLEEP),
            ("It is on SPI: nothing can answer", "spi"),
        )),
        Question("spi", "Does the reset line go low and high again when the program starts?", (
            ("No", RESET), ("Yes", "pins"),
        )),
        Question("pins", "Do the pins in the program agree with the wires?", (
            ("No, or not compared", SELECT), ("Yes", LEVEL),
        )),
        Question("snow", "Does the snow stand still?", (
            ("Yes, it stands", RAM_NOISE), ("It changes each time", CLOCK), ("It comes with the picture", CLOCK),
        )),
        Question("flicker", "When does it flicker?", (
            ("When much of the picture is light", SUPPLY_DIPS), ("When something moves", TEARING),
            ("At every change", REDRAWN), ("At random", CLOCK),
        )),
        Question("fading", "What kind of panel is it?", (
            ("E-paper: an old picture shines through", NO_CLEANING), ("E-paper: all is pale", COLD),
            ("OLED: parts have become darker", AGEING), ("TFT: pale from where I look", ANGLE),
        )),
    ),
    lambda question: question.slug,
)  # fmt: skip


def walked(answers: list[int], start: str = "start") -> tuple[list[tuple[Question, int]], Question | Cause]:
    """The questions answered so far with the number of each answer, and where they lead.

    Answers that lead nowhere end the walk there, so that an address made by hand is harmless.
    """
    path: list[tuple[Question, int]] = []
    at: Question | Cause = QUESTIONS[start]
    for answer in answers:
        if isinstance(at, Cause) or not 0 <= answer < len(at.answers):
            break
        path.append((at, answer))
        target = at.answers[answer][1]
        at = target if isinstance(target, Cause) else QUESTIONS[target]
    return path, at
