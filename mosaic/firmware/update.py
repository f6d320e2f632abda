# What has to be drawn and sent anew from one state to the next, by the rules of docs/updates.md. Plain Python: no classes, no
# other modules.
# Surfaces are those of draw.py.
# A link: (grid_x, grid_y, offset_x, offset_y, whole, setup, bits), as in update.h. Windows are (x, y, w, h), where bytes lie.
CLIP = 17


def snapped(link, width, rows, x, y, right, bottom):
    grid_x, grid_y, offset_x, offset_y, whole = link[:5]
    if whole:
        return 0, 0, width, rows
    x = max(0, (x + offset_x) // grid_x * grid_x - offset_x)
    y = max(0, (y + offset_y) // grid_y * grid_y - offset_y)
    right = min(width, -(-(right + offset_x) // grid_x) * grid_x - offset_x)
    bottom = min(rows, -(-(bottom + offset_y) // grid_y) * grid_y - offset_y)
    return x, y, right - x, bottom - y


def both(a, b):
    x, y = min(a[0], b[0]), min(a[1], b[1])
    return x, y, max(a[0] + a[2], b[0] + b[2]) - x, max(a[1] + a[3], b[1] + b[3]) - y


def cost(link, box):
    return link[5] + box[2] * box[3] * link[6] // 8


def merge(link, boxes, must):
    """Merge the two windows that save most, in place; where nothing is saved, only if it has to be. Gives whether it did."""
    best = None
    for i in range(len(boxes)):
        for j in range(i + 1, len(boxes)):
            saved = cost(link, boxes[i]) + cost(link, boxes[j]) - cost(link, both(boxes[i], boxes[j]))
            if best is None or saved > best[0]:
                best = saved, i, j
    if best is None or (best[0] < 0 and not must):
        return False
    _, i, j = best
    boxes[i] = both(boxes[i], boxes[j])
    del boxes[j]
    return True


def drawn(surface, element, values, number):
    """(left, top, right, bottom, the runs) of what an element draws; None where that is nothing."""
    found = []
    notes = surface[:]
    notes[0] = lambda x, y, w, h, c: found.append((x, y, w, h, c))
    element(notes, values, number)
    if not found:
        return None
    left, top = min(run[0] for run in found), min(run[1] for run in found)
    return left, top, max(run[0] + run[2] for run in found), max(run[1] + run[3] for run in found), found


def boxes(surface, link, element, elements, before, now, room=16):
    """The windows that differ between two states. The surface is one without a buffer; nothing is sent to it."""
    out = [(0, 0, 0, 0)][:0]
    for number in range(elements):
        old, new = drawn(surface, element, before, number), drawn(surface, element, now, number)
        if old == new:
            continue
        for one in (old, new):
            if one is None:
                continue
            if len(out) == room:
                merge(link, out, True)
            out.append(snapped(link, surface[1], surface[2], one[0], one[1], one[2], one[3]))
    while merge(link, out, False):
        pass
    return out


def within(surface, box):
    """The same surface, of which only a window can be drawn on."""
    return [*surface[:CLIP], (box[0], box[1], box[0] + box[2], box[1] + box[3])]
