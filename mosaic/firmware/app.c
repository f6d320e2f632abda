#include "app.h"

#include "board.h"
#include "change.h"
#include "device.h"
#include "panel.h"
#include "project.h"
#include "update.h"

#define APP_ROOM 16

static behave_state *state;
static screen_values before, now;
static uint8_t buffer[PANEL_BUFFER];
static uint32_t drawn_at;
static int32_t updates, refresh_asked, drawn_once;
static int32_t pins[PROJECT_BUTTONS + 1], lines[PROJECT_ENCODERS + 1][2];

behave_state *app_state(void) { return state; }
screen_values *app_values(void) { return &now; }

/* How the new screen comes in, in one step; none of `steps` for the screen as it is. */
typedef struct {
    int32_t change, side, steps;
    change_box strip;
} coming;

static void draw(const draw_surface *on, const screen_values *v, const coming *in) {
    device_draw(state->screen, on, v);
    if (in && in->steps && in->change == CHANGE_SLIDE) {
        const draw_surface part = draw_within(on, in->strip.x, in->strip.y, in->strip.w, in->strip.h);
        change_move move;
        const draw_surface moved = change_moved(&move, &part, in->side, &in->strip, PANEL_SEEN_WIDTH, PANEL_SEEN_HEIGHT);
        device_draw(state->screen, &moved, v);
    }
}

/* Draws a window band by band and sends it, for each of the panel's planes. */
static void send(const update_box *box, const screen_values *v, const coming *in, int32_t as_before) {
#if PANEL_DIRECT
    const draw_surface whole = panel_direct();
    const draw_surface part = update_within(&whole, box);
    (void)buffer;
    (void)as_before;
    draw(&part, v, in);
#else
    for (int32_t plane = 0; plane < (as_before ? 1 : PANEL_PLANES); plane++) {
        panel_open(plane, box, as_before);
        for (int32_t top = box->y; top < box->y + box->h; top += PANEL_BAND) {
            const int32_t rest = box->y + box->h - top;
            const update_box part = {box->x, top, box->w, rest < PANEL_BAND ? rest : PANEL_BAND};
            const draw_surface band = panel_surface(buffer, part.y, part.h);
            const draw_surface inside = update_within(&band, &part);
            draw(&inside, v, in);
            panel_put(&band, plane, &part);
        }
        panel_close(plane, box, as_before);
    }
#endif
}

static void send_all(void) {
    const update_box all = {0, 0, PANEL_WIDTH, PANEL_HEIGHT};
    if (PANEL_BEGINS_ANEW && drawn_once) panel_begin();
    send(&all, &now, 0, 0);
    panel_show(&all);
    updates = 0;
    refresh_asked = 0;
}

/* A new screen, at once or step by step. */
static void come_in(const behave_effect *e) {
    if (e->change != CHANGE_CUT && e->steps > 1 && !PANEL_SHOWS) {
        for (int32_t step = 1; step < e->steps; step++) {
            coming in = {e->change, e->side, e->steps, {0, 0, 0, 0}};
            update_box box;
            in.strip = change_strip(e->change, e->side, step, e->steps, PANEL_SEEN_WIDTH, PANEL_SEEN_HEIGHT);
            box = panel_box(&in.strip);
            if (box.w > 0 && box.h > 0) send(&box, &now, &in, 0);
        }
    }
    send_all();
}

static update_box around(const update_box *boxes, int32_t count) {
    int32_t right = boxes[0].x + boxes[0].w, bottom = boxes[0].y + boxes[0].h;
    update_box all = boxes[0];
    for (int32_t i = 1; i < count; i++) {
        const update_box *b = boxes + i;
        if (b->x + b->w > right) right = b->x + b->w;
        if (b->y + b->h > bottom) bottom = b->y + b->h;
        if (b->x < all.x) all.x = b->x;
        if (b->y < all.y) all.y = b->y;
    }
    all.w = right - all.x;
    all.h = bottom - all.y;
    return all;
}

/* The windows in which two moments of one screen differ. A panel that shows on command is shown one window about them all. */
static void send_changes(void) {
    update_box boxes[APP_ROOM];
    const int32_t count = device_changes(state->screen, &before, &now, boxes, APP_ROOM);
    if (count == 0) return;
    if (PANEL_SHOWS) {
        const update_box box = around(boxes, count);
        const int32_t cleans = PROJECT_CLEAN_EACH || (PROJECT_CLEAN_AFTER && updates >= PROJECT_CLEAN_AFTER);
        if (cleans) {
            send_all();
            return;
        }
        if (PANEL_BEGINS_ANEW) panel_begin();
        if (PANEL_SHOWS_PARTS) send(&box, &before, 0, 1);
        send(&box, &now, 0, 0);
        if (PANEL_SHOWS_PARTS) panel_show_part(&box);
        else panel_show(&box);
        updates++;
        return;
    }
    for (int32_t i = 0; i < count; i++) send(boxes + i, &now, 0, 0);
}

/* What the last step has brought about. */
static void follow(void) {
    int32_t shows = -1;
    for (int32_t i = 0; i < state->effect_count; i++) {
        const behave_effect *e = state->effects + i;
        switch (e->what) {
            case BEHAVE_SCREEN: shows = i; break;
            case BEHAVE_EVENT: app_event(e->of); break;
            case BEHAVE_OUTPUT: board_output(BOARD_LEVEL, e->of, e->level); break;
            case BEHAVE_LIGHT: board_output(BOARD_LIGHT, 0, e->level); break;
            case BEHAVE_REFRESH: refresh_asked = 1; break;
            case BEHAVE_SLEEP: board_output(BOARD_SLEEP, 0, 0); break;
            default: break;
        }
    }
    if (shows < 0 || !drawn_once) return;
    device_values(state, &now);
    come_in(state->effects + shows);
    before = now;
    drawn_at = board_clock();
}

/* Sends what has changed since the last drawing, not more often than the schedule says. */
static void catch_up(void) {
    const uint32_t time = board_clock();
#if PROJECT_LEAST_MS
    if (time - drawn_at < PROJECT_LEAST_MS && !refresh_asked) return;
#endif
    device_values(state, &now);
    if (refresh_asked) send_all();
    else send_changes();
    before = now;
    drawn_at = time;
}

void app_take(int32_t what, int32_t of, int32_t a, int32_t b) {
    behave_step(state, board_clock(), what, of, a, b);
    if (what == BEHAVE_READING) project_remember(of, a, &now);
    follow();
}

void app_refresh(void) { refresh_asked = 1; }

void app_begin(void) {
    for (int32_t n = 0; n <= PROJECT_BUTTONS; n++) pins[n] = -1;
    for (int32_t n = 0; n <= PROJECT_ENCODERS; n++) lines[n][0] = lines[n][1] = -1;
    panel_begin();
    state = behaviour_begin(board_clock());
    screen_values_begin(&now);
    follow();
    device_values(state, &now);
    send_all();
    before = now;
    drawn_once = 1;
    drawn_at = board_clock();
}

void app_round(void) {
    int32_t a = 0, b = 0;
    if (board_input(BOARD_WAKE, 0, &a, &b)) app_take(BEHAVE_WAKE, 0, 0, 0);
    if (board_input(BOARD_TOUCH, 0, &a, &b)) {
        project_touch(&a, &b);
        app_take(BEHAVE_TOUCH, 0, a, b);
    }
    for (int32_t n = 0; n < PROJECT_BUTTONS; n++) {
        if (!board_input(BOARD_PIN, n, &a, &b) || a == pins[n]) continue;
        pins[n] = a;
        app_take(BEHAVE_PIN, n, a, 0);
    }
    for (int32_t n = 0; n < PROJECT_ENCODERS; n++) {
        if (!board_input(BOARD_LINES, n, &a, &b) || (a == lines[n][0] && b == lines[n][1])) continue;
        lines[n][0] = a;
        lines[n][1] = b;
        app_take(BEHAVE_LINES, n, a, b);
    }
    for (int32_t n = 0; n < PROJECT_VALUES; n++)
        if (board_input(BOARD_READING, n, &a, &b)) app_take(BEHAVE_READING, n, a, 0);
    app_take(BEHAVE_TIME, 0, 0, 0);
    catch_up();
}
