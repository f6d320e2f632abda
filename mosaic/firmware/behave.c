#include "behave.h"

enum { NONE = -1 };
enum { PRESS, RELEASE, HOLD, SWIPE, BUTTON_DOWN = 7, BUTTON_UP, BUTTON_HELD, TURN_UP, TURN_DOWN, AFTER, EVERY, QUIET, BAND, OLD, BACK,
       WRONG, START, WOKEN };
enum { BY_SOURCE, BY_BAND, BY_BLINK, BY_RULES };
enum { DO_SCREEN, DO_BACK, DO_SET, DO_ADD, DO_TOGGLE, DO_EVENT, DO_OUTPUT, DO_LIGHT, DO_REFRESH, DO_SLEEP };

static int32_t size_of(int32_t number) { return number < 0 ? -number : number; }
static int32_t larger(int32_t a, int32_t b) { return a > b ? a : b; }

static void notice(behave_state *s, int32_t when, int32_t of, int32_t other) {
    if (s->count == BEHAVE_MOST_WAITING) {
        s->lost++;
        return;
    }
    const int32_t at = (s->first + s->count++) % BEHAVE_MOST_WAITING;
    s->waiting[at].when = (uint8_t)when;
    s->waiting[at].of = (int16_t)of;
    s->waiting[at].other = (int16_t)other;
}

static void effect(behave_state *s, int32_t what, int32_t of, int32_t level, int32_t change, int32_t side, int32_t steps) {
    if (s->effect_count == BEHAVE_MOST_EFFECTS) {
        s->lost++;
        return;
    }
    const behave_effect e = {of, (int16_t)level, (uint8_t)what, (uint8_t)change, (uint8_t)side, (uint8_t)steps};
    s->effects[s->effect_count++] = e;
}

static int counts(const behave_rule *rule, int32_t screen) { return rule->screen == NONE || rule->screen == screen; }
static int waits(const behave_rule *rule) { return rule->when >= AFTER && rule->when <= QUIET; }

static int32_t hit(const behave_state *s, int32_t x, int32_t y) {
    int32_t found = NONE;
    for (int32_t i = 0; i < s->d->area_count; i++) {
        const behave_area *a = s->d->areas + i;
        if (a->screen != NONE && a->screen != s->screen) continue;
        if (x >= a->x && x < a->x + a->w && y >= a->y && y < a->y + a->h) found = i;
    }
    return found;
}

static void begin_timers(behave_state *s) {
    for (int32_t i = 0; i < s->d->rule_count; i++) {
        const behave_rule *rule = s->d->rules + i;
        if (waits(rule) && rule->screen != NONE && rule->screen == s->screen) {
            s->timers[i].since = s->now;
            s->timers[i].done = 0;
        }
    }
}

static void show(behave_state *s, int32_t screen, const behave_action *by) {
    s->screen = (int16_t)screen;
    s->finger.ignored = s->finger.run > 0;
    begin_timers(s);
    effect(s, BEHAVE_SCREEN, screen, 0, by->change, by->side, by->change ? by->steps : 0);
}

static int holds(const behave_band *band, int32_t raw, int32_t lag) {
    return (band->start == INT32_MIN || (int64_t)raw >= (int64_t)band->start - lag) && (band->end == INT32_MAX || raw < band->end);
}

static int32_t next_band(const behave_state *s, const behave_value *value, int32_t now, int32_t raw) {
    const behave_band *bands = s->d->bands + value->bands;
    if (now != NONE && holds(bands + now, raw, value->lag)) return now;
    for (int32_t i = 0; i < value->count; i++) {
        if (holds(bands + i, raw, 0)) return i;
    }
    return NONE;
}

static int32_t mean(const int32_t *readings, int32_t count) {
    int64_t total = 0;
    for (int32_t i = 0; i < count; i++) total += readings[i];
    const int64_t found = (2 * (total < 0 ? -total : total) + count) / (2 * count);
    return (int32_t)(total < 0 ? -found : found);
}

static void set_band(behave_state *s, int32_t number, int32_t band) {
    behave_known *known = s->values + number;
    if (known->band == band) return;
    known->band = (int8_t)band;
    known->since = s->now;
    for (int32_t i = 0; i < s->d->value_count; i++) {
        if (s->d->values[i].by != BY_BAND || s->d->values[i].of != number) continue;
        s->values[i].raw = band == NONE ? 0 : band;
        s->values[i].is = band == NONE ? BEHAVE_ABSENT : BEHAVE_KNOWN;
        s->values[i].at = s->now;
    }
    if (band != NONE) notice(s, BAND, number, band);
}

static void settle(behave_state *s, int32_t number) {
    const behave_value *value = s->d->values + number;
    const behave_known *known = s->values + number;
    if (known->held == 0) return;
    const int32_t wanted = next_band(s, value, known->band, mean(s->ring + value->ring, known->held));
    if (wanted != known->band && (known->band == NONE || s->now - known->since >= value->hold_ms)) set_band(s, number, wanted);
}

static void take_reading(behave_state *s, int32_t number, int32_t raw) {
    const behave_value *value = s->d->values + number;
    behave_known *known = s->values + number;
    if (value->by == BY_BAND || value->by == BY_BLINK) return;
    if (known->is == BEHAVE_STALE) notice(s, BACK, number, 0);
    known->raw = raw;
    known->is = BEHAVE_KNOWN;
    known->at = s->now;
    if (value->count == 0) return;
    int32_t *ring = s->ring + value->ring;
    if (known->held == value->mean) {
        for (int32_t i = 0; i + 1 < value->mean; i++) ring[i] = ring[i + 1];
        known->held--;
    }
    ring[known->held++] = raw;
    settle(s, number);
}

static void set_pin(behave_state *s, int32_t number) {
    const behave_output *output = s->d->outputs + number;
    const int32_t on = s->outputs[number].on;
    effect(s, BEHAVE_OUTPUT, number, on ^ output->active_low, 0, 0, 0);
    if (output->shows >= 0) take_reading(s, output->shows, on);
}

static void switch_output(behave_state *s, int32_t number, int32_t on) {
    behave_switched *state = s->outputs + number;
    if (state->on == on) return;
    state->on = (uint8_t)on;
    state->since = s->now;
    state->told = 0;
    set_pin(s, number);
}

static void change_value(behave_state *s, const behave_action *action) {
    const behave_value *value = s->d->values + action->to;
    const behave_known *known = s->values + action->to;
    int32_t raw = action->by;
    if (action->what == DO_TOGGLE) {
        raw = known->is != BEHAVE_ABSENT && known->raw != value->low ? value->low : value->high;
    } else if (action->what == DO_ADD) {
        if (known->is == BEHAVE_ABSENT) return;
        raw = known->raw + action->by;
        if (action->wrap && raw > value->high) raw = value->low;
        else if (action->wrap && raw < value->low) raw = value->high;
    }
    take_reading(s, action->to, raw < value->low ? value->low : raw > value->high ? value->high : raw);
}

static void fall_asleep(behave_state *s) {
    s->asleep = 1;
    s->finger.ignored = s->finger.run > 0;
    effect(s, BEHAVE_SLEEP, 0, 0, 0, 0, 0);
}

static void go(behave_state *s, const behave_action *action) {
    if (action->to == s->screen) return;
    if (action->remember) {
        if (s->back_count == BEHAVE_MOST_BACK) {
            for (int32_t i = 0; i + 1 < BEHAVE_MOST_BACK; i++) s->back[i] = s->back[i + 1];
            s->back_count--;
        }
        s->back[s->back_count++] = s->screen;
    }
    show(s, action->to, action);
}

static void act(behave_state *s, const behave_action *action) {
    const int32_t to = action->to;
    switch (action->what) {
        case DO_SCREEN: if (to >= 0) go(s, action); break;
        case DO_BACK: if (s->back_count) show(s, s->back[--s->back_count], action); break;
        case DO_SET: case DO_ADD: case DO_TOGGLE: if (to >= 0) change_value(s, action); break;
        case DO_EVENT: if (to >= 0) effect(s, BEHAVE_EVENT, to, 0, 0, 0, 0); break;
        case DO_OUTPUT: if (to >= 0) switch_output(s, to, action->by == 2 ? !s->outputs[to].on : action->by != 0); break;
        case DO_LIGHT: s->light = (int16_t)action->by; effect(s, BEHAVE_LIGHT, 0, action->by, 0, 0, 0); break;
        case DO_REFRESH: effect(s, BEHAVE_REFRESH, 0, 0, 0, 0, 0); break;
        default: if (!s->asleep) fall_asleep(s); break;
    }
}

static void run(behave_state *s, const behave_rule *rule) {
    for (int32_t i = 0; i < rule->count; i++) act(s, s->d->actions + rule->acts + i);
}

/* Rules on what has been noticed; whether there was one. */
static int run_matching(behave_state *s, int32_t when, int32_t on, int32_t band) {
    const int32_t screen = s->screen;
    int ran = 0;
    for (int32_t i = 0; i < s->d->rule_count; i++) {
        const behave_rule *rule = s->d->rules + i;
        if (rule->when != when || rule->on != on || !counts(rule, screen) || (when == BAND && rule->band != band)) continue;
        run(s, rule);
        ran = 1;
    }
    return ran;
}

static void switch_by_band(behave_state *s, int32_t of, int32_t number) {
    const behave_band *band = s->d->bands + s->d->values[of].bands + number;
    for (int32_t i = 0; i < s->d->output_count; i++) {
        if (((uint32_t)band->on | band->off) >> i & 1u) switch_output(s, i, (int32_t)((uint32_t)band->on >> i & 1u));
    }
}

static void drain(behave_state *s) {
    while (s->count) {
        const int32_t when = s->waiting[s->first].when, of = s->waiting[s->first].of, other = s->waiting[s->first].other;
        s->first = (int16_t)((s->first + 1) % BEHAVE_MOST_WAITING);
        s->count--;
        if (s->handled == BEHAVE_MOST_HANDLED) {
            s->lost += 1u + (uint32_t)s->count;
            s->count = 0;
            return;
        }
        s->handled++;
        if (when == BAND) switch_by_band(s, of, other);
        if (s->asleep && when != WOKEN) continue;
        if (when == HOLD || when == BUTTON_HELD || (when >= AFTER && when <= QUIET)) {
            if (counts(s->d->rules + of, s->screen)) run(s, s->d->rules + of);
        } else if (when < BUTTON_DOWN) {
            if (of == NONE || !run_matching(s, when, of, 0)) run_matching(s, when, NONE, 0);
        } else {
            run_matching(s, when, of, other);
        }
    }
}

/* Somebody did something. */
static void heard(behave_state *s) {
    s->last_input = s->now;
    for (int32_t i = 0; i < s->d->rule_count; i++) {
        if (s->d->rules[i].when == QUIET) s->timers[i].done = 0;
    }
}

static void wake(behave_state *s) {
    s->asleep = 0;
    heard(s);
    for (int32_t i = 0; i < s->d->rule_count; i++) {
        if (waits(s->d->rules + i)) s->timers[i].since = s->now;
    }
    begin_timers(s);
    notice(s, WOKEN, NONE, 0);
}

static void no_finger(behave_state *s) { s->finger.run = s->finger.down = s->finger.held = s->finger.ignored = 0; }

/* A swipe, or a release where the touch began. */
static void lifted(behave_state *s) {
    const behave_touch *feel = &s->d->touch;
    const int32_t lasted = (int32_t)(s->finger.last - s->finger.at), area = s->finger.area;
    const int down = s->finger.down, nothing = s->finger.ignored || s->finger.held || lasted > feel->rest_ms;
    no_finger(s);
    if (!down) return;
    heard(s);
    if (nothing) return;
    const int32_t dx = s->finger.x_now - s->finger.start_x, dy = s->finger.y_now - s->finger.start_y;
    const int32_t along = larger(size_of(dx), size_of(dy)), across = size_of(dx) < size_of(dy) ? size_of(dx) : size_of(dy);
    if (along >= feel->swipe_px && along >= 2 * across) {
        if (lasted <= feel->swipe_ms) notice(s, SWIPE + (size_of(dx) > size_of(dy) ? (dx < 0 ? 0 : 1) : dy < 0 ? 2 : 3), area, 0);
    } else if (hit(s, s->finger.x_now, s->finger.y_now) == area) {
        notice(s, RELEASE, area, 0);
    }
}

static void time_finger(behave_state *s) {
    if (s->finger.run && s->now - s->finger.last > (uint32_t)s->d->touch.lift_ms) {
        lifted(s);
        return;
    }
    if (!s->finger.down || s->finger.ignored || s->finger.far > s->d->touch.slack_px) return;
    int32_t own = NONE;
    for (int32_t i = 0; i < s->d->rule_count; i++) {
        const behave_rule *rule = s->d->rules + i;
        if (rule->when == HOLD && rule->on == s->finger.area && counts(rule, s->screen)) own = s->finger.area;
    }
    for (int32_t i = 0; i < s->d->rule_count; i++) {
        const behave_rule *rule = s->d->rules + i;
        if (rule->when != HOLD || rule->on != own || !counts(rule, s->screen) || s->timers[i].done) continue;
        if (s->now - s->finger.at < rule->ms) continue;
        s->timers[i].done = 1;
        s->finger.held = 1;
        notice(s, HOLD, i, 0);
    }
}

static void time_button(behave_state *s, int32_t number) {
    behave_pressed *b = s->buttons + number;
    if (b->level != b->down && s->now - b->since >= s->d->buttons[number].bounce_ms) {
        heard(s);
        if (b->level) {
            b->down = 1;
            b->at = s->now;
            b->held = 0;
            for (int32_t i = 0; i < s->d->rule_count; i++) {
                if (s->d->rules[i].when == BUTTON_HELD && s->d->rules[i].on == number) s->timers[i].done = 0;
            }
            if (!b->ignored) notice(s, BUTTON_DOWN, number, 0);
        } else {
            if (!b->held && !b->ignored) notice(s, BUTTON_UP, number, 0);
            b->down = b->ignored = 0;
        }
    }
    if (!b->down || b->ignored) return;
    for (int32_t i = 0; i < s->d->rule_count; i++) {
        const behave_rule *rule = s->d->rules + i;
        if (rule->when != BUTTON_HELD || rule->on != number || s->timers[i].done) continue;
        if (s->now - b->at < rule->ms || !counts(rule, s->screen)) continue;
        s->timers[i].done = 1;
        b->held = 1;
        notice(s, BUTTON_HELD, i, 0);
    }
}

static int is_lit(const behave_state *s, const behave_value *value) {
    if (value->of < 0) return s->now % (value->on_ms + value->off_ms) < value->on_ms;
    const int32_t band = s->values[value->of].band;
    const uint32_t rate = band == NONE ? 0 : s->d->bands[s->d->values[value->of].bands + band].blink_ms;
    return rate == 0 || s->now % rate < rate / 2;
}

static void time_value(behave_state *s, int32_t number) {
    const behave_value *value = s->d->values + number;
    behave_known *known = s->values + number;
    if (value->by != BY_SOURCE || known->is != BEHAVE_KNOWN || value->age_ms == 0 || s->now - known->at <= value->age_ms) return;
    known->is = BEHAVE_STALE;
    notice(s, OLD, number, 0);
    known->held = 0;
    set_band(s, number, NONE);
}

static void time_output(behave_state *s, int32_t number) {
    const behave_output *output = s->d->outputs + number;
    behave_switched *state = s->outputs + number;
    if (output->reads < 0 || s->values[output->reads].is != BEHAVE_KNOWN || s->now - state->since < output->within_ms) return;
    if ((s->values[output->reads].raw >= output->reads_from) == state->on) {
        state->told = 0;
    } else if (!state->told) {
        state->told = 1;
        notice(s, WRONG, number, 0);
    }
}

static void time_rule(behave_state *s, int32_t number) {
    const behave_rule *rule = s->d->rules + number;
    behave_timer *timer = s->timers + number;
    if (!waits(rule) || !counts(rule, s->screen)) return;
    uint32_t waited = s->now - timer->since;
    if (rule->when == QUIET && s->now - s->last_input < waited) waited = s->now - s->last_input;
    if (waited < rule->ms || timer->done) return;
    if (rule->when == EVERY) {
        const uint32_t since = timer->since + rule->ms;
        timer->since = s->now - since < rule->ms ? since : s->now;
    } else {
        timer->done = 1;
    }
    notice(s, rule->when, number, 0);
}

/* Everything that comes about by time alone. */
static void pass_time(behave_state *s) {
    time_finger(s);
    for (int32_t i = 0; i < s->d->button_count; i++) time_button(s, i);
    for (int32_t i = 0; i < s->d->value_count; i++) time_value(s, i);
    for (int32_t i = 0; i < s->d->value_count; i++) {
        if (s->d->values[i].count) settle(s, i);
    }
    for (int32_t i = 0; i < s->d->value_count; i++) {
        if (s->d->values[i].by != BY_BLINK) continue;
        s->values[i].raw = is_lit(s, s->d->values + i);
        s->values[i].is = BEHAVE_KNOWN;
        s->values[i].at = s->now;
    }
    for (int32_t i = 0; i < s->d->output_count; i++) time_output(s, i);
    for (int32_t i = 0; i < s->d->rule_count && !s->asleep; i++) time_rule(s, i);
    drain(s);
}

static int32_t middle(const int32_t *of) {
    const int32_t a = of[0], b = of[1], c = of[2];
    return a > b ? (b > c ? b : a > c ? c : a) : (a > c ? a : b > c ? c : b);
}

static void touched(behave_state *s, int32_t x, int32_t y) {
    /* One that lies on the glass still does not wake what it has sent to sleep. */
    if (s->asleep && !s->finger.run) {
        wake(s);
        s->finger.ignored = 1;
    }
    if (s->finger.run == 3) {
        for (int32_t i = 0; i < 2; i++) {
            s->finger.x[i] = s->finger.x[i + 1];
            s->finger.y[i] = s->finger.y[i + 1];
        }
        s->finger.run = 2;
    }
    s->finger.x[s->finger.run] = x;
    s->finger.y[s->finger.run] = y;
    s->finger.run++;
    s->finger.last = s->now;
    if (s->finger.run == 3) {
        x = middle(s->finger.x);
        y = middle(s->finger.y);
    }
    if (s->finger.down) {
        s->finger.x_now = x;
        s->finger.y_now = y;
        s->finger.far = larger(s->finger.far, larger(size_of(x - s->finger.start_x), size_of(y - s->finger.start_y)));
    } else if (s->finger.run >= s->d->touch.samples) {
        s->finger.down = 1;
        s->finger.start_x = s->finger.x_now = x;
        s->finger.start_y = s->finger.y_now = y;
        s->finger.at = s->now;
        s->finger.far = 0;
        s->finger.area = (int16_t)hit(s, x, y);
        heard(s);
        for (int32_t i = 0; i < s->d->rule_count; i++) {
            if (s->d->rules[i].when == HOLD) s->timers[i].done = 0;
        }
        if (!s->finger.ignored) notice(s, PRESS, s->finger.area, 0);
    }
}

static void turned(behave_state *s, int32_t of, int32_t lines) {
    static const int8_t turns[16] = {0, -1, 1, 0, 1, 0, 0, -1, -1, 0, 0, 1, 0, 1, -1, 0};
    behave_turned *e = s->encoders + of;
    const int32_t move = e->lines >= 0 ? turns[e->lines * 4 + lines] : 0;
    int32_t count = e->count + move;
    if (s->asleep && move) {
        wake(s);
        count = 0;
    }
    if (size_of(count) >= s->d->encoders[of]) {
        heard(s);
        notice(s, count > 0 ? TURN_UP : TURN_DOWN, of, 0);
        count = 0;
    }
    e->lines = (int8_t)lines;
    e->count = (int8_t)count;
}

static void pin(behave_state *s, int32_t of, int32_t level) {
    behave_pressed *b = s->buttons + of;
    const uint8_t active = (uint8_t)((level != 0) ^ s->d->buttons[of].active_low);
    if (active == b->level) return;
    b->level = active;
    b->since = s->now;
    if (active && s->asleep) {
        b->ignored = 1;
        wake(s);
    }
}

static void take(behave_state *s, int32_t what, int32_t of, int32_t a, int32_t b) {
    if (what == BEHAVE_TOUCH) touched(s, a, b);
    else if (what == BEHAVE_PIN && of < s->d->button_count) pin(s, of, a);
    else if (what == BEHAVE_LINES && of < s->d->encoder_count) turned(s, of, 2 * (a != 0) + (b != 0));
    else if (what == BEHAVE_READING && of < s->d->value_count) take_reading(s, of, a);
    else if (what == BEHAVE_WAKE && s->asleep) wake(s);
    drain(s);
}

int32_t behave_begin(behave_state *s, uint32_t now) {
    const behave_device *d = s->d;
    s->effect_count = s->back_count = s->first = s->count = s->handled = s->asleep = 0;
    s->screen = d->start;
    s->light = 100;
    s->now = s->last_input = now;
    s->lost = 0;
    no_finger(s);
    for (int32_t i = 0; i < d->value_count; i++) {
        const behave_known known = {d->values[i].begins ? d->values[i].first : 0, now, now, NONE,
                                    d->values[i].begins ? BEHAVE_KNOWN : BEHAVE_ABSENT, 0};
        s->values[i] = known;
    }
    for (int32_t i = 0; i < d->button_count; i++) {
        const behave_pressed released = {now, now, 0, 0, 0, 0};
        s->buttons[i] = released;
    }
    for (int32_t i = 0; i < d->encoder_count; i++) {
        const behave_turned unknown = {NONE, 0};
        s->encoders[i] = unknown;
    }
    for (int32_t i = 0; i < d->output_count; i++) {
        const behave_switched state = {now, d->outputs[i].at_start, 0};
        s->outputs[i] = state;
    }
    for (int32_t i = 0; i < d->rule_count; i++) {
        const behave_timer timer = {now, 0};
        s->timers[i] = timer;
    }
    for (int32_t i = 0; i < d->value_count; i++) {
        if (d->values[i].count == 0 || s->values[i].is != BEHAVE_KNOWN) continue;
        s->ring[d->values[i].ring] = s->values[i].raw;
        s->values[i].held = 1;
        settle(s, i);
    }
    for (int32_t i = 0; i < d->output_count; i++) set_pin(s, i);
    if (d->screens) effect(s, BEHAVE_SCREEN, d->start, 0, 0, 0, 0);
    notice(s, START, NONE, 0);
    drain(s);
    pass_time(s);
    return s->effect_count;
}

int32_t behave_step(behave_state *s, uint32_t now, int32_t what, int32_t of, int32_t a, int32_t b) {
    s->effect_count = s->handled = 0;
    s->now = now;
    pass_time(s);
    take(s, what, of, a, b);
    pass_time(s);
    return s->effect_count;
}
