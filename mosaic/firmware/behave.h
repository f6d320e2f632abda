/* What a device does, by the rules of docs/behaviour.md. C99, also C++: no floating point, no heap, no recursion.

   The tables of a device and the arrays of its state are written for a build. The program calls behave_begin once, and then
   behave_step with the milliseconds of its clock and what has happened; both give how many effects there are in s->effects. */
#ifndef BEHAVE_H
#define BEHAVE_H

#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

#define BEHAVE_MOST_BACK 8
#define BEHAVE_MOST_WAITING 32
#define BEHAVE_MOST_HANDLED 100
#define BEHAVE_MOST_EFFECTS 24

/* What happens. TIME has passed; TOUCH: a finger is felt at pixel a, b; PIN: the level a of button `of`; LINES: the levels a and b
   of encoder `of`; READING: a, of value `of`; WAKE: the sleep has ended. */
enum { BEHAVE_TIME, BEHAVE_TOUCH, BEHAVE_PIN, BEHAVE_LINES, BEHAVE_READING, BEHAVE_WAKE };
/* What is done. SCREEN `of` is to be shown, by change 0 at once, 1 wiped in, 2 slid in, to side 0 left, 1 right, 2 up, 3 down, in so
   many steps; EVENT with code `of`; the pin of OUTPUT `of` is set to `level`; the LIGHT to `level` percent; REFRESH of the whole
   panel; SLEEP. */
enum { BEHAVE_SCREEN, BEHAVE_EVENT, BEHAVE_OUTPUT, BEHAVE_LIGHT, BEHAVE_REFRESH, BEHAVE_SLEEP };
enum { BEHAVE_KNOWN, BEHAVE_ABSENT, BEHAVE_STALE };

typedef struct { int16_t screen, x, y, w, h; } behave_area;
/* lag: hysteresis. ring: where its last readings begin, `mean` of them. by: 0 readings, 1 the band of value `of`, 2 a blink, 3 rules;
   begins: whether it has its first reading from the start. */
typedef struct {
    int32_t low, high, first, lag;
    uint32_t on_ms, off_ms, age_ms, hold_ms;
    int16_t of;
    uint16_t ring, bands;
    uint8_t by, begins, mean, count;
} behave_value;
/* A limit of INT32_MIN or INT32_MAX is none. on, off: a bit for each output. */
typedef struct { int32_t start, end; uint32_t blink_ms; uint16_t on, off; } behave_band;
typedef struct { uint8_t active_low; uint16_t bounce_ms; } behave_button;
typedef struct { uint8_t active_low, at_start; int16_t shows, reads; int32_t reads_from; uint32_t within_ms; } behave_output;
typedef struct { uint8_t when; int16_t on, band, screen; uint32_t ms; uint16_t acts; uint8_t count; } behave_rule;
typedef struct { uint8_t what, wrap, change, side, steps, remember; int32_t to, by; } behave_action;
typedef struct { int32_t samples, lift_ms, swipe_px, swipe_ms, slack_px, rest_ms; } behave_touch;
typedef struct {
    const behave_area *areas;
    const behave_value *values;
    const behave_band *bands;
    const behave_button *buttons;
    const uint8_t *encoders;
    const behave_output *outputs;
    const behave_rule *rules;
    const behave_action *actions;
    behave_touch touch;
    int16_t area_count, value_count, button_count, encoder_count, output_count, rule_count, screens, start;
} behave_device;

typedef struct { int32_t raw; uint32_t at, since; int8_t band; uint8_t is, held; } behave_known;
typedef struct { uint32_t since, at; uint8_t level, down, held, ignored; } behave_pressed;
typedef struct { int8_t lines, count; } behave_turned;
typedef struct { uint32_t since; uint8_t on, told; } behave_switched;
typedef struct { uint32_t since; uint8_t done; } behave_timer;
typedef struct { int32_t of; int16_t level; uint8_t what, change, side, steps; } behave_effect;

typedef struct {
    const behave_device *d;
    behave_known *values;
    int32_t *ring;
    behave_pressed *buttons;
    behave_turned *encoders;
    behave_switched *outputs;
    behave_timer *timers;
    behave_effect effects[BEHAVE_MOST_EFFECTS];
    int16_t effect_count, screen, light, asleep, back_count, back[BEHAVE_MOST_BACK];
    uint32_t now, last_input, lost;
    struct { int32_t x[3], y[3], start_x, start_y, x_now, y_now, far; uint32_t last, at; int16_t area; uint8_t run, down, held, ignored; } finger;
    struct { int16_t of, other; uint8_t when; } waiting[BEHAVE_MOST_WAITING];
    int16_t first, count, handled;
} behave_state;

int32_t behave_begin(behave_state *s, uint32_t now);
int32_t behave_step(behave_state *s, uint32_t now, int32_t what, int32_t of, int32_t a, int32_t b);

#ifdef __cplusplus
}
#endif

#endif
