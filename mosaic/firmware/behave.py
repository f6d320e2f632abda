# What a device does, by the rules of docs/behaviour.md. Plain Python for small interpreters: lists and whole numbers only.
#
# A device `d` is a dict of lists of numbers, written for a build. A state `s` is a dict that `behave_begin` gives. Then
# `behave_step(d, s, now, what, of, a, b)` is called with the milliseconds of a clock and what has happened; it gives a list of
# effects (what, of, level, change, side, steps). After it s["screen"] is the screen to show, s["values"][n][0] what a value is,
# and s["values"][n][1] whether that is known (0), absent (1) or old (2).

TIME, TOUCH, PIN, LINES, READING, WAKE = 0, 1, 2, 3, 4, 5  # what happens
SCREEN, EVENT, OUTPUT, LIGHT, REFRESH, SLEEP = 0, 1, 2, 3, 4, 5  # what is done
KNOWN, ABSENT, STALE = 0, 1, 2
PRESS, RELEASE, HOLD, SWIPE = 0, 1, 2, 3
BUTTON_DOWN, BUTTON_UP, BUTTON_HELD, TURN_UP, TURN_DOWN = 7, 8, 9, 10, 11
AFTER, EVERY, QUIET, BAND, OLD, BACK, WRONG, START, WOKEN = 12, 13, 14, 15, 16, 17, 18, 19, 20
BY_SOURCE, BY_BAND, BY_BLINK, BY_RULES = 0, 1, 2, 3
NONE, GONE = -1, -2
MOST_BACK, MOST_WAITING, MOST_HANDLED, MOST_EFFECTS = 8, 32, 100, 24
TURNS = (0, -1, 1, 0, 1, 0, 0, -1, -1, 0, 0, 1, 0, 1, -1, 0)
CLOCK = 0xFFFFFFFF  # clocks come round after 49 days

# Fields of values, of what is known of them, of rules and of timers.
V_LOW, V_HIGH, V_BY, V_OF, V_ON, V_OFF, V_AGE, V_FIRST, V_LAG, V_HOLD, V_MEAN, V_BANDS, V_COUNT = (
    0,
    1,
    2,
    3,
    4,
    5,
    6,
    7,
    8,
    9,
    10,
    11,
    12,
)
K_RAW, K_IS, K_AT, K_BAND, K_SINCE, K_READ = 0, 1, 2, 3, 4, 5
R_WHEN, R_ON, R_BAND, R_MS, R_SCREEN, R_ACTS, R_COUNT = 0, 1, 2, 3, 4, 5, 6


def elapsed(now, then):
    return (now - then) & CLOCK


def notice(s, when, of, other):
    if len(s["waiting"]) == MOST_WAITING:
        s["lost"] += 1
    else:
        s["waiting"].append((when, of, other))


def do(s, what, of, level, change, side, steps):
    if len(s["effects"]) == MOST_EFFECTS:
        s["lost"] += 1
    else:
        s["effects"].append((what, of, level, change, side, steps))


def counts(rule, screen):
    return rule[R_SCREEN] == NONE or rule[R_SCREEN] == screen


def hit(d, s, x, y):
    found = NONE
    for number, (screen, left, top, width, height) in enumerate(d["areas"]):
        if (screen == NONE or screen == s["screen"]) and left <= x < left + width and top <= y < top + height:
            found = number
    return found


def begin_timers(d, s):
    for number, rule in enumerate(d["rules"]):
        if AFTER <= rule[R_WHEN] <= QUIET and rule[R_SCREEN] != NONE and rule[R_SCREEN] == s["screen"]:
            s["timers"][number] = [s["now"], 0]


def show(d, s, screen, action):
    s["screen"] = screen
    s["ignored"] = s["run"] > 0
    begin_timers(d, s)
    do(s, SCREEN, screen, 0, action[4], action[5], action[6] if action[4] else 0)


def band_of(d, value, raw):
    for number in range(value[V_COUNT]):
        band = d["bands"][value[V_BANDS] + number]
        if (band[0] is None or raw >= band[0]) and (band[1] is None or raw < band[1]):
            return number
    return NONE


def next_band(d, value, now, raw):
    if now != NONE:
        band = d["bands"][value[V_BANDS] + now]
        if (band[0] is None or raw >= band[0] - value[V_LAG]) and (band[1] is None or raw < band[1]):
            return now
    return band_of(d, value, raw)


def mean(readings):
    total, count = sum(readings), len(readings)
    found = (2 * abs(total) + count) // (2 * count)
    return found if total >= 0 else -found


def set_band(d, s, number, band):
    known = s["values"][number]
    if known[K_BAND] == band:
        return
    known[K_BAND] = band
    known[K_SINCE] = s["now"]
    for other, value in enumerate(d["values"]):
        if value[V_BY] == BY_BAND and value[V_OF] == number:
            told = s["values"][other]
            told[K_RAW], told[K_IS], told[K_AT] = (0, ABSENT, s["now"]) if band == NONE else (band, KNOWN, s["now"])
    if band != NONE:
        notice(s, BAND, number, band)


def settle(d, s, number):
    value, known = d["values"][number], s["values"][number]
    if not known[K_READ]:
        return
    wanted = next_band(d, value, known[K_BAND], mean(known[K_READ]))
    if wanted != known[K_BAND] and (known[K_BAND] == NONE or elapsed(s["now"], known[K_SINCE]) >= value[V_HOLD]):
        set_band(d, s, number, wanted)


def read(d, s, number, raw):
    value, known = d["values"][number], s["values"][number]
    if value[V_BY] in (BY_BAND, BY_BLINK):
        return
    if known[K_IS] == STALE:
        notice(s, BACK, number, 0)
    known[K_RAW], known[K_IS], known[K_AT] = raw, KNOWN, s["now"]
    if value[V_COUNT]:
        known[K_READ].append(raw)
        if len(known[K_READ]) > value[V_MEAN]:
            known[K_READ].pop(0)
        settle(d, s, number)


def set_pin(d, s, number):
    output, on = d["outputs"][number], s["outputs"][number][0]
    do(s, OUTPUT, number, on ^ output[0], 0, 0, 0)
    if output[2] >= 0:
        read(d, s, output[2], on)


def switch(d, s, number, on):
    if s["outputs"][number][0] != on:
        s["outputs"][number] = [on, s["now"], 0]
        set_pin(d, s, number)


def change_value(d, s, number, do_, by, wrap):
    value, known = d["values"][number], s["values"][number]
    low, high = value[V_LOW], value[V_HIGH]
    if do_ == 2:
        raw = by
    elif do_ == 4:
        raw = low if known[K_IS] != ABSENT and known[K_RAW] != low else high
    elif known[K_IS] == ABSENT:
        return
    else:
        raw = known[K_RAW] + by
        if wrap and raw > high:
            raw = low
        elif wrap and raw < low:
            raw = high
    read(d, s, number, min(max(raw, low), high))


def act(d, s, action):
    do_, to, by, wrap = action[0], action[1], action[2], action[3]
    if do_ == 0:
        if to >= 0 and to != s["screen"]:
            if action[7]:
                s["back"].append(s["screen"])
                if len(s["back"]) > MOST_BACK:
                    s["back"].pop(0)
            show(d, s, to, action)
    elif do_ == 1:
        if s["back"]:
            show(d, s, s["back"].pop(), action)
    elif do_ in (2, 3, 4):
        if to >= 0:
            change_value(d, s, to, do_, by, wrap)
    elif do_ == 5:
        if to >= 0:
            do(s, EVENT, to, 0, 0, 0, 0)
    elif do_ == 6:
        if to >= 0:
            switch(d, s, to, 1 - s["outputs"][to][0] if by == 2 else int(by != 0))
    elif do_ == 7:
        s["light"] = by
        do(s, LIGHT, 0, by, 0, 0, 0)
    elif do_ == 8:
        do(s, REFRESH, 0, 0, 0, 0, 0)
    elif not s["asleep"]:
        s["asleep"] = 1
        s["ignored"] = s["run"] > 0
        do(s, SLEEP, 0, 0, 0, 0, 0)


def run_matching(d, s, when, on, band):
    screen, ran = s["screen"], 0
    for rule in d["rules"]:
        if rule[R_WHEN] == when and rule[R_ON] == on and counts(rule, screen) and (when != BAND or rule[R_BAND] == band):
            run(d, s, rule)
            ran = 1
    return ran


def run(d, s, rule):
    for number in range(rule[R_COUNT]):
        act(d, s, d["actions"][rule[R_ACTS] + number])


def drain(d, s):
    while s["waiting"]:
        when, of, other = s["waiting"].pop(0)
        if s["handled"] == MOST_HANDLED:
            s["lost"] += 1 + len(s["waiting"])
            s["waiting"] = []
            return
        s["handled"] += 1
        if when == BAND:
            band = d["bands"][d["values"][of][V_BANDS] + other]
            for number in range(len(d["outputs"])):
                if (band[3] | band[4]) >> number & 1:
                    switch(d, s, number, band[3] >> number & 1)
        if s["asleep"] and when != WOKEN:
            continue
        if when in (HOLD, BUTTON_HELD) or AFTER <= when <= QUIET:
            if counts(d["rules"][of], s["screen"]):
                run(d, s, d["rules"][of])
        elif when <= 6:
            if of == NONE or not run_matching(d, s, when, of, 0):
                run_matching(d, s, when, NONE, 0)
        else:
            run_matching(d, s, when, of, other)


def heard(d, s):
    s["last_input"] = s["now"]
    for number, rule in enumerate(d["rules"]):
        if rule[R_WHEN] == QUIET:
            s["timers"][number][1] = 0


def wake(d, s):
    s["asleep"] = 0
    heard(d, s)
    for number, rule in enumerate(d["rules"]):
        if AFTER <= rule[R_WHEN] <= QUIET:
            s["timers"][number][0] = s["now"]
    begin_timers(d, s)
    notice(s, WOKEN, NONE, 0)


def no_finger(s):
    s["places"], s["run"], s["down"], s["held"], s["ignored"] = [], 0, 0, 0, 0


def lifted(d, s):
    feel, lasted = d["touch"], elapsed(s["last"], s["at"])
    down, ignored, held, area = s["down"], s["ignored"], s["held"], s["area"]
    no_finger(s)
    if not down:
        return
    heard(d, s)
    if ignored or held or lasted > feel[5]:
        return
    x, y = s["place"]
    dx, dy = x - s["start"][0], y - s["start"][1]
    along, across = max(abs(dx), abs(dy)), min(abs(dx), abs(dy))
    if along >= feel[2] and along >= 2 * across:
        if lasted <= feel[3]:
            way = (0 if dx < 0 else 1) if abs(dx) > abs(dy) else (2 if dy < 0 else 3)
            notice(s, SWIPE + way, area, 0)
    elif hit(d, s, x, y) == area:
        notice(s, RELEASE, area, 0)


def time_finger(d, s):
    if s["run"] and elapsed(s["now"], s["last"]) > d["touch"][1]:
        lifted(d, s)
        return
    if not s["down"] or s["ignored"] or s["far"] > d["touch"][4]:
        return
    own = NONE
    for rule in d["rules"]:
        if rule[R_WHEN] == HOLD and rule[R_ON] == s["area"] and counts(rule, s["screen"]):
            own = s["area"]
    for number, rule in enumerate(d["rules"]):
        mine = rule[R_WHEN] == HOLD and rule[R_ON] == own and counts(rule, s["screen"]) and not s["timers"][number][1]
        if mine and elapsed(s["now"], s["at"]) >= rule[R_MS]:
            s["timers"][number][1] = 1
            s["held"] = 1
            notice(s, HOLD, number, 0)


def time_button(d, s, number):
    b = s["buttons"][number]  # level, since, down, at, held, ignored
    if b[0] != b[2] and elapsed(s["now"], b[1]) >= d["buttons"][number][1]:
        heard(d, s)
        if b[0]:
            b[2], b[3], b[4] = 1, s["now"], 0
            for at, rule in enumerate(d["rules"]):
                if rule[R_WHEN] == BUTTON_HELD and rule[R_ON] == number:
                    s["timers"][at] = [0, 0]
            if not b[5]:
                notice(s, BUTTON_DOWN, number, 0)
        else:
            if not b[4] and not b[5]:
                notice(s, BUTTON_UP, number, 0)
            b[2], b[5] = 0, 0
    if b[2] and not b[5]:
        for at, rule in enumerate(d["rules"]):
            mine = rule[R_WHEN] == BUTTON_HELD and rule[R_ON] == number and not s["timers"][at][1]
            if mine and elapsed(s["now"], b[3]) >= rule[R_MS] and counts(rule, s["screen"]):
                s["timers"][at][1] = 1
                b[4] = 1
                notice(s, BUTTON_HELD, at, 0)


def is_lit(d, s, value):
    if value[V_OF] < 0:
        return int(s["now"] % (value[V_ON] + value[V_OFF]) < value[V_ON])
    of, band = d["values"][value[V_OF]], s["values"][value[V_OF]][K_BAND]
    rate = d["bands"][of[V_BANDS] + band][2] if band != NONE else 0
    return int(not rate or s["now"] % rate < rate // 2)


def time_output(d, s, number):
    _, _, _, reads, reads_from, within = d["outputs"][number]
    state = s["outputs"][number]
    if reads < 0 or s["values"][reads][K_IS] != KNOWN or elapsed(s["now"], state[1]) < within:
        return
    if int(s["values"][reads][K_RAW] >= reads_from) == state[0]:
        state[2] = 0
    elif not state[2]:
        state[2] = 1
        notice(s, WRONG, number, 0)


def time_rule(d, s, number):
    rule, timer = d["rules"][number], s["timers"][number]
    if not AFTER <= rule[R_WHEN] <= QUIET or not counts(rule, s["screen"]):
        return
    waited = elapsed(s["now"], timer[0])
    if rule[R_WHEN] == QUIET:
        waited = min(waited, elapsed(s["now"], s["last_input"]))
    if waited < rule[R_MS] or timer[1]:
        return
    if rule[R_WHEN] == EVERY:
        since = (timer[0] + rule[R_MS]) & CLOCK
        timer[0] = since if elapsed(s["now"], since) < rule[R_MS] else s["now"]
    else:
        timer[1] = 1
    notice(s, rule[R_WHEN], number, 0)


def pass_time(d, s):
    time_finger(d, s)
    for number in range(len(d["buttons"])):
        time_button(d, s, number)
    for number, value in enumerate(d["values"]):
        known = s["values"][number]
        if value[V_BY] == BY_SOURCE and known[K_IS] == KNOWN and value[V_AGE] and elapsed(s["now"], known[K_AT]) > value[V_AGE]:
            known[K_IS] = STALE
            notice(s, OLD, number, 0)
            known[K_READ] = []
            set_band(d, s, number, NONE)
    for number, value in enumerate(d["values"]):
        if value[V_COUNT]:
            settle(d, s, number)
    for number, value in enumerate(d["values"]):
        if value[V_BY] == BY_BLINK:
            s["values"][number][:3] = [is_lit(d, s, value), KNOWN, s["now"]]
    for number in range(len(d["outputs"])):
        time_output(d, s, number)
    if not s["asleep"]:
        for number in range(len(d["rules"])):
            time_rule(d, s, number)
    drain(d, s)


def touched(d, s, x, y):
    if s["asleep"] and not s["run"]:  # one that lies on the glass still does not wake what it has sent to sleep
        wake(d, s)
        s["ignored"] = 1
    s["places"] = (s["places"] + [(x, y)])[-3:]
    s["run"] = min(3, s["run"] + 1)
    s["last"] = s["now"]
    if len(s["places"]) == 3:
        x, y = sorted(p[0] for p in s["places"])[1], sorted(p[1] for p in s["places"])[1]
    if s["down"]:
        s["place"] = (x, y)
        s["far"] = max(s["far"], abs(x - s["start"][0]), abs(y - s["start"][1]))
    elif s["run"] >= d["touch"][0]:
        s["down"], s["start"], s["place"], s["at"], s["far"] = 1, (x, y), (x, y), s["now"], 0
        s["area"] = hit(d, s, x, y)
        heard(d, s)
        for number, rule in enumerate(d["rules"]):
            if rule[R_WHEN] == HOLD:
                s["timers"][number] = [0, 0]
        if not s["ignored"]:
            notice(s, PRESS, s["area"], 0)


def turned(d, s, of, lines):
    last, count = s["encoders"][of]
    move = TURNS[last * 4 + lines] if last >= 0 else 0
    count += move
    if s["asleep"] and move:
        wake(d, s)
        count = 0
    if abs(count) >= d["encoders"][of]:
        heard(d, s)
        notice(s, TURN_UP if count > 0 else TURN_DOWN, of, 0)
        count = 0
    s["encoders"][of] = [lines, count]


def take(d, s, what, of, a, b):
    if what == TOUCH:
        touched(d, s, a, b)
    elif what == PIN and of < len(d["buttons"]):
        active, button = int(a != 0) ^ d["buttons"][of][0], s["buttons"][of]
        if active != button[0]:
            button[0], button[1] = active, s["now"]
            if active and s["asleep"]:
                button[5] = 1
                wake(d, s)
    elif what == LINES and of < len(d["encoders"]):
        turned(d, s, of, 2 * int(a != 0) + int(b != 0))
    elif what == READING and of < len(d["values"]):
        read(d, s, of, a)
    elif what == WAKE and s["asleep"]:
        wake(d, s)
    drain(d, s)


def behave_begin(d, now):
    s = {
        "now": now,
        "screen": d["start"],
        "back": [],
        "values": [],
        "light": 100,
        "asleep": 0,
        "last_input": now,
        "lost": 0,
        "waiting": [],
        "effects": [],
        "handled": 0,
        "last": now,
        "start": (0, 0),
        "place": (0, 0),
        "at": now,
        "area": NONE,
        "far": 0,
        "buttons": [[0, now, 0, 0, 0, 0] for _ in d["buttons"]],
        "encoders": [[NONE, 0] for _ in d["encoders"]],
        "outputs": [[output[1], now, 0] for output in d["outputs"]],
        "timers": [[now, 0] for _ in d["rules"]],
    }
    no_finger(s)
    for value in d["values"]:
        known = value[V_FIRST] is not None
        s["values"].append([value[V_FIRST] if known else 0, KNOWN if known else ABSENT, now, NONE, now, []])
    for number, value in enumerate(d["values"]):
        if value[V_COUNT] and s["values"][number][K_IS] == KNOWN:
            s["values"][number][K_READ].append(s["values"][number][K_RAW])
            settle(d, s, number)
    for number in range(len(d["outputs"])):
        set_pin(d, s, number)
    if d["screens"]:
        do(s, SCREEN, d["start"], 0, 0, 0, 0)
    notice(s, START, NONE, 0)
    drain(d, s)
    pass_time(d, s)
    return s


def behave_step(d, s, now, what, of, a, b):
    s["effects"] = []
    s["handled"] = 0
    s["now"] = now & CLOCK
    pass_time(d, s)
    take(d, s, what, of, a, b)
    pass_time(d, s)
    return s["effects"]


def touch_place(fit, raw_x, raw_y):
    """Pixels of a raw touch, kept on the glass. fit: six coefficients, the size of the glass, their shift."""
    a, b, c, d, e, f, width, height, shift = fit
    half = 1 << (shift - 1)
    x, y = (a * raw_x + b * raw_y + c + half) >> shift, (d * raw_x + e * raw_y + f + half) >> shift
    return min(max(x, 0), width - 1), min(max(y, 0), height - 1)
