# How one screen follows another, by the rules of docs/behaviour.md. Plain Python: no classes. Needs draw.py, which is given.
# change: 0 at once, 1 wiped in, 2 slid in. side: 0 left, 1 right, 2 up, 3 down. Boxes are (x, y, w, h), as the reader sees them.
#
# For each step 1..steps: b = strip(change, side, step, steps, width, height); part = draw.within(surface, *b); the new screen is
# drawn on part, or, where it slides, on moved(draw, part, side, b, width, height); then b is sent.
CUT, WIPE, SLIDE = 0, 1, 2
LEFT, RIGHT, UP, DOWN = 0, 1, 2, 3


def strip(change, side, step, steps, width, height):
    """What is drawn and sent in a step: of a wipe the next strip, of a slide all that has come in so far."""
    length = width if side <= RIGHT else height
    before, now = (length * (step - 1) // steps if change == WIPE else 0), length * step // steps
    low = length - now if side in (LEFT, UP) else before
    return (low, 0, now - before, height) if side <= RIGHT else (0, low, width, now - before)


def moved(draw, to, side, b, width, height):
    """A surface on which the whole new screen is drawn, and of which the part that has come in lands in box b."""
    dx = b[0] if side == LEFT else b[2] - width if side == RIGHT else 0
    dy = b[1] if side == UP else b[3] - height if side == DOWN else 0
    return draw.direct(lambda x, y, w, h, c: draw.fill(to, x + dx, y + dy, w, h, c), width, height, 0, width, height)
