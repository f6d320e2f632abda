# The device as a program: inputs in, screens drawn and sent, outputs set. Plain Python: no classes.
# A board is a module or anything with seven functions: select(is_command), write(bytes), reset(), delay(ms), clock() in ms,
# input(what, of) giving None or (a, b), and output(what, of, level); board.py says more.
import behave
import behaviour
import change
import device
import draw
import panel
import update

TOUCH, PIN, LINES, READING, WAKE, BUSY = 0, 1, 2, 3, 4, 5
LEVEL, LIGHT, SLEEP = 0, 1, 2


def begin(board, event=None):
    """The panel is set up and shows the first screen. event(code) is called for events of the behaviour."""
    app = {
        "board": board, "event": event, "values": {}, "before": {}, "buf": bytearray(panel.BUFFER), "updates": 0,
        "refresh": False, "drawn": False, "drawn_at": 0, "pins": {}, "lines": {},
    }  # fmt: skip
    panel.begin(board)
    app["state"] = behave.behave_begin(behaviour.DEVICE, board.clock())
    device.begin(app["values"])
    follow(app, app["state"]["effects"])
    behaviour.values_into(app["state"], app["values"])
    send_all(app)
    app["before"] = copied(app["values"])
    app["drawn"], app["drawn_at"] = True, board.clock()
    return app


def copied(values):
    """Values at a moment; past readings are lists of their own."""
    return {name: value[:] if isinstance(value, list) else value for name, value in values.items()}


def paint(app, on, values, coming):
    """The screen on a surface; coming: (side, strip) of a screen that slides in."""
    screen = app["state"]["screen"]
    device.paint(screen, on, values)
    if coming:
        side, strip = coming
        part = draw.within(on, *strip)
        device.paint(screen, change.moved(draw, part, side, strip, panel.SEEN_WIDTH, panel.SEEN_HEIGHT), values)


def send(app, box, values, coming=None, as_before=False):
    """Draws a window band by band and sends it, for each of the panel's planes."""
    board, buf = app["board"], app["buf"]
    for plane in range(1 if as_before else panel.PLANES):
        panel.open_window(board, plane, box, as_before)
        top, bottom = box[1], box[1] + box[3]
        while top < bottom:
            rows = min(panel.BAND, bottom - top)
            part = (box[0], top, box[2], rows)
            band = panel.surface(buf, top, rows)
            paint(app, update.within(band, part), values, coming)
            panel.put(board, band, plane, part, top + rows >= bottom)
            top += rows
        panel.close_window(board, plane, box, as_before)


def send_all(app):
    box = (0, 0, panel.WIDTH, panel.HEIGHT)
    if panel.BEGINS_ANEW and app["drawn"]:
        panel.begin(app["board"])
    send(app, box, app["values"])
    panel.show(app["board"], box)
    app["updates"], app["refresh"] = 0, False


def come_in(app, how, side, steps):
    """A new screen, at once or step by step."""
    if how != change.CUT and steps > 1 and not panel.SHOWS:
        for number in range(1, steps):
            strip = change.strip(how, side, number, steps, panel.SEEN_WIDTH, panel.SEEN_HEIGHT)
            box = panel.box_of(strip)
            if box[2] > 0 and box[3] > 0:
                send(app, box, app["values"], (side, strip) if how == change.SLIDE else None)
    send_all(app)


def send_changes(app):
    """The windows in which two moments of one screen differ; a panel that shows on command is shown one about them all."""
    boxes = device.changes(app["state"]["screen"], app["before"], app["values"])
    if not boxes:
        return
    if not panel.SHOWS:
        for box in boxes:
            send(app, box, app["values"])
        return
    if device.CLEAN_EACH or (device.CLEAN_AFTER and app["updates"] >= device.CLEAN_AFTER):
        send_all(app)
        return
    box = boxes[0]
    for one in boxes[1:]:
        box = update.both(box, one)
    if panel.BEGINS_ANEW:
        panel.begin(app["board"])
    if panel.SHOWS_PARTS:
        send(app, box, app["before"], None, True)
    send(app, box, app["values"])
    if panel.SHOWS_PARTS:
        panel.show_part(app["board"], box)
    else:
        panel.show(app["board"], box)
    app["updates"] += 1


def follow(app, effects):
    """What the last step has brought about."""
    shows = None
    for what, of, level, how, side, steps in effects:
        if what == 0:
            shows = (how, side, steps)
        elif what == 1:
            if app["event"]:
                app["event"](of)
        elif what == 2:
            app["board"].output(LEVEL, of, level)
        elif what == 3:
            app["board"].output(LIGHT, 0, level)
        elif what == 4:
            app["refresh"] = True
        else:
            app["board"].output(SLEEP, 0, 0)
    if shows and app["drawn"]:
        behaviour.values_into(app["state"], app["values"])
        come_in(app, *shows)
        app["before"] = copied(app["values"])
        app["drawn_at"] = app["board"].clock()


def take(app, what, of, a, b):
    """One input; what: behave.TOUCH, with pixels, behave.PIN, ..."""
    effects = behave.behave_step(behaviour.DEVICE, app["state"], app["board"].clock(), what, of, a, b)
    if what == behave.READING:
        device.remember(app["values"], of, a)
    follow(app, effects)


def catch_up(app):
    """Sends what has changed since the last drawing, not more often than the schedule says."""
    now = app["board"].clock()
    if device.LEAST_MS and now - app["drawn_at"] < device.LEAST_MS and not app["refresh"]:
        return
    behaviour.values_into(app["state"], app["values"])
    if app["refresh"]:
        send_all(app)
    else:
        send_changes(app)
    app["before"] = copied(app["values"])
    app["drawn_at"] = now


def go_round(app):
    """Once round: reads every input, does what follows and sends what has changed. Call it at least every 20 ms."""
    board = app["board"]
    if board.input(WAKE, 0):
        take(app, behave.WAKE, 0, 0, 0)
    felt = board.input(TOUCH, 0)
    if felt:
        x, y = device.touch(*felt)
        take(app, behave.TOUCH, 0, x, y)
    for number in range(device.BUTTONS):
        read = board.input(PIN, number)
        if read and app["pins"].get(number) != read[0]:
            app["pins"][number] = read[0]
            take(app, behave.PIN, number, read[0], 0)
    for number in range(device.ENCODERS):
        read = board.input(LINES, number)
        if read and app["lines"].get(number) != read:
            app["lines"][number] = read
            take(app, behave.LINES, number, read[0], read[1])
    for number in range(device.VALUES):
        read = board.input(READING, number)
        if read:
            take(app, behave.READING, number, read[0], 0)
    take(app, behave.TIME, 0, 0, 0)
    catch_up(app)
