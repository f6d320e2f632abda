#include "update.h"

static int32_t least(int32_t a, int32_t b) { return a < b ? a : b; }
static int32_t most(int32_t a, int32_t b) { return a > b ? a : b; }

/* What an element draws: the box round it, and two sums over its runs by which two drawings are told apart. */
typedef struct {
    int32_t x, y, right, bottom;
    uint32_t first, second;
} drawing;

static void note(void *context, int32_t x, int32_t y, int32_t w, int32_t h, uint32_t c) {
    drawing *d = (drawing *)context;
    const uint32_t parts[5] = {(uint32_t)x, (uint32_t)y, (uint32_t)w, (uint32_t)h, c};
    if (d->right == 0) { d->x = x; d->y = y; }
    d->x = least(d->x, x);
    d->y = least(d->y, y);
    d->right = most(d->right, x + w);
    d->bottom = most(d->bottom, y + h);
    for (int32_t i = 0; i < 5; i++) {
        d->first = (d->first ^ parts[i]) * 16777619u;
        d->second = (d->second + parts[i]) * 2654435761u ^ (d->second >> 15);
    }
}

/* The first place of the grid at or before one, or the first at or behind it. */
static int32_t on_grid(int32_t place, int32_t offset, int32_t step, int32_t up) {
    return (place + offset + (up ? step - 1 : 0)) / step * step - offset;
}

static update_box snapped(const draw_surface *s, const update_link *link, const drawing *d) {
    update_box b = {0, 0, s->width, s->rows};
    if (link->whole) return b;
    b.x = most(0, on_grid(d->x, link->offset_x, link->grid_x, 0));
    b.y = most(0, on_grid(d->y, link->offset_y, link->grid_y, 0));
    b.w = least(s->width, on_grid(d->right, link->offset_x, link->grid_x, 1)) - b.x;
    b.h = least(s->rows, on_grid(d->bottom, link->offset_y, link->grid_y, 1)) - b.y;
    return b;
}

static update_box both(const update_box *a, const update_box *b) {
    update_box u = {least(a->x, b->x), least(a->y, b->y), 0, 0};
    u.w = most(a->x + a->w, b->x + b->w) - u.x;
    u.h = most(a->y + a->h, b->y + b->h) - u.y;
    return u;
}

static int32_t cost(const update_link *link, const update_box *b) { return link->setup + b->w * b->h * link->bits / 8; }

/* Merge the two windows that save most; gives the count then. Where nothing is saved, only if it has to be. */
static int32_t merged(const update_link *link, update_box *boxes, int32_t count, int32_t must) {
    int32_t best = INT32_MIN, first = 0, second = 0;
    for (int32_t i = 0; i < count; i++) {
        for (int32_t j = i + 1; j < count; j++) {
            const update_box u = both(boxes + i, boxes + j);
            const int32_t saved = cost(link, boxes + i) + cost(link, boxes + j) - cost(link, &u);
            if (saved > best) { best = saved; first = i; second = j; }
        }
    }
    if (count < 2 || (best < 0 && !must)) return count;
    boxes[first] = both(boxes + first, boxes + second);
    for (int32_t i = second; i + 1 < count; i++) boxes[i] = boxes[i + 1];
    return count - 1;
}

int32_t update_boxes(const draw_surface *s, const update_link *link, update_element draw, int32_t elements, const void *before,
                     const void *now, update_box *boxes, int32_t room) {
    int32_t count = 0;
    draw_surface notes = *s;
    notes.area = note;
    for (int32_t number = 0; number < elements; number++) {
        drawing drawn[2] = {{0, 0, 0, 0, 0, 0}, {0, 0, 0, 0, 0, 0}};
        for (int32_t i = 0; i < 2; i++) {
            notes.context = drawn + i;
            draw(&notes, i ? now : before, number);
        }
        if (drawn[0].first == drawn[1].first && drawn[0].second == drawn[1].second) continue;
        for (int32_t i = 0; i < 2; i++) {
            if (drawn[i].right == 0) continue;
            if (count == room) count = merged(link, boxes, count, 1);
            boxes[count++] = snapped(s, link, drawn + i);
        }
    }
    for (int32_t last = -1; last != count;) {
        last = count;
        count = merged(link, boxes, count, 0);
    }
    return count;
}

draw_surface update_within(const draw_surface *s, const update_box *box) {
    draw_surface inner = *s;
    inner.clip_x = box->x;
    inner.clip_y = box->y;
    inner.clip_right = box->x + box->w;
    inner.clip_bottom = box->y + box->h;
    return inner;
}
