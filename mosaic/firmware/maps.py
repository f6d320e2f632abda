# From values to numbers of a screen, by the rules of docs/values.md. Plain Python: no classes, no other modules, no
# floating point.
# Points are (value, number), in ascending order.


# Straight through the first and the last point, and on beyond; halves are rounded upwards.
def line(value, points):
    x0, y0 = points[0]
    x1, y1 = points[-1]
    span = x1 - x0
    return y0 + (2 * (value - x0) * (y1 - y0) + span) // (2 * span)


# From point to point, held at the ends.
def table(value, points):
    value = min(max(value, points[0][0]), points[-1][0])
    at = 1
    while at + 1 < len(points) and value > points[at][0]:
        at += 1
    return line(value, points[at - 1 : at + 1])


# What the last point at or below the value gives; below them all the first.
def steps(value, points):
    found = points[0][1]
    for at, gives in points:
        if value >= at:
            found = gives
    return found
