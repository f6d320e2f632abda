"""The words of the field, as this application uses them."""

from dataclasses import dataclass

from django.utils.text import slugify


@dataclass(frozen=True)
class Term:
    """A word and what is meant by it; `article` of the field guide says more."""

    word: str
    meaning: str
    article: str = ""

    @property
    def slug(self) -> str:
        return slugify(self.word)


TERMS: tuple[Term, ...] = (
    Term("Array", "Bytes of a picture or a lettering as a constant of the program.", "array-or-file"),
    Term("Bezel", "The frame of a housing; it may hide rows at the edge of the glass."),
    Term("Bounce", "A contact that opens and closes several times within some milliseconds when it is pressed."),
    Term("Busy line", "A line by which an e-paper says that it is still refreshing."),
    Term("Byte order", "Which of the bytes of a word is sent first.", "byte-orders"),
    Term("Capital height", "The height of an H. What can be read at a distance follows from it."),
    Term(
        "Computed, typical, measured",
        "Where a figure comes from: worked out exactly, taken from parts of its kind, or read off a meter.",
    ),
    Term("Controller", "The chip on a panel that keeps a picture and drives the glass."),
    Term("Data/command line", "A line that says whether the bytes on the bus are a command or its data."),
    Term(
        "Dithering",
        "Spreading dots of the colours that there are, so that the eye sees one that there is not.",
        "dither-or-threshold",
    ),
    Term("DMA", "Hardware that sends bytes from memory while the processor does something else.", "hardware-or-software-bus"),
    Term("Error diffusion", "Dithering that hands the error of each pixel on to its neighbours.", "dither-or-threshold"),
    Term("Flash", "Memory that keeps the program, pictures and letterings without power.", "array-or-file"),
    Term("Frame", "One whole picture for the glass, as bytes.", "buffer-or-page"),
    Term("Full update", "A refresh of e-paper that drives each pixel through black and white.", "clean-each-or-tenth"),
    Term("Ghost", "What is left to be seen of a former picture on e-paper.", "clean-each-or-tenth"),
    Term("Glyph", "The picture of one character in one size."),
    Term("Hand-over", "Everything of a build as files, with a program that draws it."),
    Term("Hysteresis", "A band is left at another value than it is entered, so that a reading near its limit does not flicker."),
    Term("I2C", "A bus of two wires, with addresses; 9 clocks a byte."),
    Term("Ink, ground", "The two usual colours of a panel: letters are drawn in ink, and what lies beneath them is ground."),
    Term("Kerning", "Moving pairs of letters together or apart."),
    Term("Level shifter", "A part between two parts with different supply voltages."),
    Term("Offset", "Where the glass begins in the memory of its controller."),
    Term(
        "Ordered dithering",
        "Dithering by a small pattern of thresholds; it stands still from frame to frame.",
        "dither-or-threshold",
    ),
    Term(
        "Page",
        "Of a controller: eight rows that share bytes. Of a buffer: a part of the glass that is drawn at a time.",
        "buffer-or-page",
    ),
    Term("Palette", "The colours that a panel has."),
    Term("Panel", "Glass with its controller on a module."),
    Term("Partial update", "A refresh of e-paper that moves only the pixels that change.", "clean-each-or-tenth"),
    Term("Passport", "All that is known of a panel: size, memory, commands, colours, currents."),
    Term(
        "Perceived error",
        "How far a result is from the picture after the eye has blended its pixels, in CIELAB.",
        "dither-or-threshold",
    ),
    Term("Pull-up", "A resistor that holds a line high while nobody pulls it low."),
    Term("Quiescent current", "What a regulator takes for itself."),
    Term("RAM", "Memory of the board for buffers, stack and heap.", "buffer-or-page"),
    Term("Refresh", "Showing what is in the controller's memory; on e-paper it takes up to half a minute."),
    Term("Rotation", "How the panel lies, in steps of 90°."),
    Term("Sequence", "Commands, data and pauses that set a panel up or send a picture."),
    Term("SPI", "A bus of a clock, data and a select line for each part; 8 clocks a byte."),
    Term("Stand-in", "A course of made-up readings for a value, until a sensor is there."),
    Term("State", "A screen with certain readings: typical, lowest, widest, none at all."),
    Term("Strap", "A bridge of solder or a resistor that chooses address or bus."),
    Term("Tearing", "A frame that is half the former and half the new one, because it was sent while the glass was scanned."),
    Term("Threshold", "Each pixel becomes the nearest colour.", "dither-or-threshold"),
    Term("Virtual panel", "A model of controller and glass, which takes the same bytes as a real one."),
    Term("Window", "A part of the glass that is sent by itself.", "opaque-or-transparent"),
)

BY_WORD = {term.word.lower(): term for term in TERMS}
