# Yours: this file is written once and never again. The seven functions that a program of this build asks of its board; pins.py
# has the numbers of the pins, app.py the names of what is read and set.


def select(is_command):
    """A transaction with the panel begins, a command or data; the one before ends."""


def write(data):
    """Bytes of it, as they go over the link."""


def reset():
    """The panel's reset line: low for 10 ms, high, and 10 ms more."""


def delay(ms):
    """Wait."""


def clock():
    """Milliseconds since the start."""
    return 0


def input(what, of):
    """None where there is nothing, else (a, b): TOUCH as the touch panel reads it, PIN a level, LINES two levels, READING a new
    reading of a value, WAKE after a sleep, BUSY whether the panel is busy."""
    return None


def output(what, of, level):
    """LEVEL of the pin of an output, LIGHT in percent, SLEEP until something wakes the board."""
