# A board made of a PC. The panel is a virtual one behind the live feed of the build's page, where it can be touched:
#     python3 live.py HOST:PORT TOKEN
# or what would be sent is written to standard output, for a run of happenings in a file, each "ms what of a b":
#     python3 live.py --play RUN
import socket
import sys
import time

import app
import device
from readings import READINGS

feed = None
played_ms = 0
out = []
kind = "d"
line = bytearray()
touched = None
woken = False
pins, lines_of, told, next_at = {}, {}, {}, {}
by_hand = set()
arrived = b""
started = time.monotonic()


def put(text):
    out.append(text)
    if len(out) > 64:
        flush()


def flush():
    text = "".join(out)
    out.clear()
    if feed is None:
        sys.stdout.write(text)
    elif text:
        feed.sendall(text.encode())


def end_line():
    if line:
        put(kind + " " + line.hex().upper() + "\n")
        line.clear()


def select(is_command):
    global kind
    end_line()
    kind = "c" if is_command else "d"


def write(data):
    line.extend(data)
    if len(line) >= 2048:
        end_line()


def reset():
    end_line()
    put("reset\n")


def delay(ms):
    end_line()
    put("delay " + str(ms) + "\n")
    flush()
    if feed is not None:
        time.sleep(ms / 1000)


def clock():
    return played_ms if feed is None else int((time.monotonic() - started) * 1000)


def hear(wait_s):
    """Lines that have come; waits for some where `wait_s` is not 0."""
    global arrived, touched, woken
    feed.settimeout(max(wait_s, 0.001))
    try:
        some = feed.recv(4096)
    except TimeoutError:
        return []
    if not some:
        print("the feed has ended", file=sys.stderr)
        raise SystemExit(0)
    *whole, arrived = (arrived + some).split(b"\n")
    words = [one.decode("ascii", "replace").split() for one in whole]
    for one in words:
        if one[:1] == ["touch"]:
            touched = (int(one[1]), int(one[2]))
        elif one[:1] == ["lift"]:
            touched = None
        elif one[:1] == ["pin"]:
            pins[int(one[1])] = int(one[2])
        elif one[:1] == ["lines"]:
            lines_of[int(one[1])] = (int(one[2]), int(one[3]))
        elif one[:1] == ["reading"]:
            told[int(one[1])] = int(one[2])
            by_hand.add(int(one[1]))
        elif one[:1] == ["wake"]:
            woken = True
        elif one[:1] == ["?"]:
            print("feed:", *one[1:], file=sys.stderr)
        elif one[:1] == ["no"]:
            print("feed:", *one[1:], file=sys.stderr)
            raise SystemExit(1)
    return words


def input(what, of):
    global woken
    if what == app.BUSY:
        end_line()
        put("busy\n")
        flush()
        while feed is not None and not any(one[:1] == ["idle"] for one in hear(1)):
            pass
        return (0, 0)
    if feed is None:
        return None  # a run that is played hands over its happenings by itself
    if what == app.TOUCH:
        return touched
    if what == app.PIN:
        return (pins[of], 0) if of in pins else None
    if what == app.LINES:
        return lines_of.get(of)
    if what == app.WAKE:
        was, woken = woken, False
        return (0, 0) if was else None
    if of in told:
        return (told.pop(of), 0)
    every, known = READINGS[of]
    if of in by_hand or not known or clock() < next_at.get(of, 0):
        return None
    number = next_at.get(of, 0) // every
    next_at[of] = (number + 1) * every
    return (known[number % len(known)], 0)


def output(what, of, level):
    if feed is not None:
        print(("output", "light", "asleep")[what], of, level, file=sys.stderr)


def play(path):
    global played_ms
    here = sys.modules[__name__]
    device.LEAST_MS = 0
    program = app.begin(here)
    end_line()
    put("# step 0\n")
    with open(path) as run:
        for number, one in enumerate(run, 1):
            played_ms, what, of, a, b = map(int, one.split())
            app.take(program, what, of, a, b)
            app.go_round(program)
            end_line()
            put("# step " + str(number) + "\n")
    flush()


def live(where, token):
    global feed
    host, _, port = where.rpartition(":")
    feed = socket.create_connection((host, int(port)))
    feed.sendall(("hello " + token + "\n").encode())
    hear(3)
    device.touch = lambda x, y: (x, y)  # the page tells pixels
    program = app.begin(sys.modules[__name__], lambda code: print("event", code, file=sys.stderr))
    while True:
        app.go_round(program)
        end_line()
        flush()
        hear(0.01)


if len(sys.argv) == 3 and sys.argv[1] == "--play":
    play(sys.argv[2])
elif len(sys.argv) == 3:
    live(*sys.argv[1:])
else:
    print("python3 live.py HOST:PORT TOKEN, or python3 live.py --play RUN", file=sys.stderr)
    raise SystemExit(2)
