#include "draw.h"

static int32_t least(int32_t a, int32_t b) { return a < b ? a : b; }
static int32_t most(int32_t a, int32_t b) { return a > b ? a : b; }

/* What a row of calls may reach: rows from first_row up to, not including, end_row. */
static int32_t first_row(const draw_surface *s) { return (s->turn ? 0 : s->top) - s->shift_y; }
static int32_t end_row(const draw_surface *s) { return (s->turn ? s->seen_height : s->top + s->rows) - s->shift_y; }
static int32_t row_width(const draw_surface *s) { return (s->turn ? s->seen_width : s->width) - s->shift_x; }

/* A pixel where the bytes lie. */
static void lay(const draw_surface *s, int32_t x, int32_t y, uint32_t c) {
    y -= s->top;
    if (x < 0 || y < 0 || x >= s->width || y >= s->rows) return;
    if (s->planes == 0) {
        if (s->bits == 12) {
            int32_t at = (y * s->width + x) * 3, nibble;
            for (nibble = 0; nibble < 3; nibble++, at++) {
                const uint8_t part = (uint8_t)((c >> (8 - 4 * nibble)) & 15u);
                uint8_t *byte = s->buf + (at >> 1);
                *byte = (uint8_t)((at & 1) ? ((*byte & 0xF0u) | part) : ((*byte & 0x0Fu) | (uint32_t)(part << 4)));
            }
            return;
        }
        int32_t size = (s->bits + 7) >> 3;
        uint8_t *byte = s->buf + s->ay * y + x * size;
        while (size-- > 0) *byte++ = (uint8_t)(c >> (8 * size));
        return;
    }
    const int32_t last = (1 << (s->sx + s->sy)) - 1, place = (s->sx ? x : y) & last;
    const uint32_t shift = (uint32_t)((s->msb ? last - place : place) * s->bits);
    const uint32_t mask = ((1u << s->bits) - 1u) << shift;
    uint8_t *byte = s->buf + (x >> s->sx) * s->ax + (y >> s->sy) * s->ay;
    const uint8_t *codes = s->codes + c;
    for (uint32_t plane = 0; plane < s->planes; plane++) {
        *byte = (uint8_t)((*byte & ~mask) | ((uint32_t)*codes << shift));
        byte += s->plane_bytes;
        codes += s->colors;
    }
}

/* A box as the bytes lie, of one as the reader sees it. */
static void turn_box(const draw_surface *s, int32_t *x, int32_t *y, int32_t *w, int32_t *h) {
    if (!s->turn) return;
    const int32_t from = s->turn & 4 || s->turn == 8 ? s->seen_width - *x - *w : *x; /* in the glass before it is mirrored */
    const int32_t rest = s->seen_width - from - *w, below = s->seen_height - *y - *h, wide = *w;
    switch (s->turn & 3) {
        case 0: *x = from; break;
        case 1: *x = *y; *y = rest; *w = *h; *h = wide; break;
        case 2: *x = rest; *y = below; break;
        default: *x = below; *y = from; *w = *h; *h = wide; break;
    }
}

draw_surface draw_within(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h) {
    draw_surface inner = *s;
    x += s->shift_x;
    y += s->shift_y;
    turn_box(s, &x, &y, &w, &h);
    inner.clip_x = most(x, s->clip_right ? s->clip_x : 0);
    inner.clip_y = most(y, s->clip_right ? s->clip_y : 0);
    inner.clip_right = s->clip_right ? least(x + w, s->clip_right) : x + w;
    inner.clip_bottom = s->clip_right ? least(y + h, s->clip_bottom) : y + h;
    if (inner.clip_right <= inner.clip_x) inner.clip_x = inner.clip_right = 1;
    return inner;
}

/* A box of one colour: clipped, turned, and sent or laid into the buffer. */
void draw_fill(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, uint32_t c) {
    const int32_t right = least(x + w, row_width(s)), bottom = least(y + h, end_row(s));
    x = most(x, -s->shift_x);
    y = most(y, first_row(s));
    w = right - x;
    h = bottom - y;
    if (w <= 0 || h <= 0) return;
    x += s->shift_x;
    y += s->shift_y;
    turn_box(s, &x, &y, &w, &h);
    if (s->clip_right) {
        const int32_t end = least(x + w, s->clip_right), under = least(y + h, s->clip_bottom);
        x = most(x, s->clip_x);
        y = most(y, s->clip_y);
        w = end - x;
        h = under - y;
        if (w <= 0 || h <= 0) return;
    }
    if (s->area) { s->area(s->context, x, y, w, h, c); return; }
    for (int32_t row = y; row < y + h; row++) {
        for (int32_t column = x; column < x + w; column++) lay(s, column, row, c);
    }
}

void draw_run(const draw_surface *s, int32_t x, int32_t y, int32_t w, uint32_t c) { draw_fill(s, x, y, w, 1, c); }
void draw_dot(const draw_surface *s, int32_t x, int32_t y, uint32_t c) { draw_fill(s, x, y, 1, 1, c); }

/* A run of one colour that is being gathered; a negative colour is none. */
typedef struct { int32_t from, color; } gathered;

/* One more pixel of a row: a run is drawn when its colour ends. */
static void spread(const draw_surface *s, gathered *g, int32_t x, int32_t y, int32_t color) {
    if (color == g->color) return;
    if (g->color >= 0) draw_run(s, g->from, y, x - g->from, (uint32_t)g->color);
    g->from = x;
    g->color = color;
}

void draw_frame(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, int32_t t, uint32_t c) {
    if (2 * t >= w || 2 * t >= h) { draw_fill(s, x, y, w, h, c); return; }
    draw_fill(s, x, y, w, t, c);
    draw_fill(s, x, y + h - t, w, t, c);
    draw_fill(s, x, y + t, t, h - 2 * t, c);
    draw_fill(s, x + w - t, y + t, t, h - 2 * t, c);
}

/* The whole part of the square root. */
static int32_t root(uint32_t n) {
    uint32_t found = 0, bit = (uint32_t)1 << 30;
    while (bit > n) bit >>= 2;
    for (; bit; bit >>= 2) {
        if (n >= found + bit) { n -= found + bit; found = (found >> 1) + bit; }
        else found >>= 1;
    }
    return (int32_t)found;
}

/* Pixels of a row of a box that lie left of the ellipse in it. */
static int32_t inset(int32_t w, int32_t h, int32_t row) {
    const int32_t v = 2 * row + 1 - h, fine = h <= 256 ? 8 : 4;
    return (w - w * root((uint32_t)(h * h - v * v) << (2 * fine)) / (h << fine)) / 2;
}

void draw_ellipse(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, uint32_t c) {
    for (int32_t row = 0; row < h; row++) {
        const int32_t left = inset(w, h, row);
        draw_run(s, x + left, y + row, w - 2 * left, c);
    }
}

void draw_line(const draw_surface *s, int32_t x0, int32_t y0, int32_t x1, int32_t y1, int32_t t, uint32_t c) {
    if (y1 < y0 || (y1 == y0 && x1 < x0)) {
        const int32_t x = x0, y = y0;
        x0 = x1; y0 = y1; x1 = x; y1 = y;
    }
    const int32_t dx = x1 >= x0 ? x1 - x0 : x0 - x1, dy = y1 - y0, step = x1 >= x0 ? 1 : -1;
    int32_t error = dx - dy, first = x0;
    for (;;) {
        const int last = x0 == x1 && y0 == y1;
        const int32_t twice = 2 * error;
        /* Points on one row are laid together. */
        for (int32_t row = 0; row < t && (last || twice < dx); row++) {
            const int32_t left = inset(t, t, row);
            draw_run(s, least(first, x0) - t / 2 + left, y0 - t / 2 + row, most(first, x0) - least(first, x0) + t - 2 * left, c);
        }
        if (last) return;
        if (twice > -dy) { error -= dy; x0 += step; }
        if (twice < dx) { error += dx; y0++; first = x0; }
    }
}

void draw_disc(const draw_surface *s, int32_t cx, int32_t cy, int32_t r, uint32_t c) {
    for (int32_t dy = -r; dy <= r; dy++) {
        const int32_t half = root((uint32_t)(r * r + r - dy * dy));
        draw_run(s, cx - half, cy + dy, 2 * half + 1, c);
    }
}

void draw_ring(const draw_surface *s, int32_t cx, int32_t cy, int32_t r, int32_t t, uint32_t c) {
    const int32_t inner = r - t;
    for (int32_t dy = -r; dy <= r; dy++) {
        const int32_t half = root((uint32_t)(r * r + r - dy * dy));
        if (inner < 0 || dy < -inner || dy > inner) {
            draw_run(s, cx - half, cy + dy, 2 * half + 1, c);
        } else {
            const int32_t hole = root((uint32_t)(inner * inner + inner - dy * dy));
            draw_run(s, cx - half, cy + dy, half - hole, c);
            draw_run(s, cx + hole + 1, cy + dy, half - hole, c);
        }
    }
}

static int32_t round_inset(int32_t h, int32_t r, int32_t row) {
    if (row < r) return inset(2 * r, 2 * r, row);
    if (row >= h - r) return inset(2 * r, 2 * r, h - 1 - row);
    return 0;
}

void draw_rounded(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, int32_t r, uint32_t c) {
    r = least(r, least(w / 2, h / 2));
    for (int32_t row = 0; row < h; row++) {
        const int32_t left = round_inset(h, r, row);
        draw_run(s, x + left, y + row, w - 2 * left, c);
    }
}

/* The outline's part of a row: what has a neighbour outside. Insets of the row, and of those above and below it. */
static void edge(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t left, int32_t above, int32_t below,
                 uint32_t c) {
    const int32_t inner = most(left + 1, most(above, below));
    if (2 * inner >= w) {
        draw_run(s, x + left, y, w - 2 * left, c);
    } else {
        draw_run(s, x + left, y, inner - left, c);
        draw_run(s, x + w - inner, y, inner - left, c);
    }
}

void draw_ellipse_outline(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, uint32_t c) {
    for (int32_t row = 0; row < h; row++) {
        const int32_t above = row ? inset(w, h, row - 1) : w, below = row < h - 1 ? inset(w, h, row + 1) : w;
        edge(s, x, y + row, w, inset(w, h, row), above, below, c);
    }
}

void draw_rounded_outline(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, int32_t r, uint32_t c) {
    r = least(r, least(w / 2, h / 2));
    for (int32_t row = 0; row < h; row++) {
        const int32_t above = row ? round_inset(h, r, row - 1) : w, below = row < h - 1 ? round_inset(h, r, row + 1) : w;
        edge(s, x, y + row, w, round_inset(h, r, row), above, below, c);
    }
}

/* a / b for b above 0, rounded up. */
static int32_t ceiling(int32_t a, int32_t b) { return a > 0 ? (a + b - 1) / b : -(-a / b); }

void draw_polygon(const draw_surface *s, const int16_t *points, int32_t count, uint32_t c) {
    int32_t first = INT32_MAX, last = INT32_MIN;
    for (int32_t i = 0; i < count; i++) {
        first = least(first, points[2 * i + 1]);
        last = most(last, points[2 * i + 1]);
    }
    first = most(first, first_row(s));
    last = least(last, end_row(s));
    for (int32_t y = first; y < last; y++) {
        int16_t crossings[DRAW_MOST_SIDES];
        int32_t found = 0;
        for (int32_t i = 0; i < count && found < DRAW_MOST_SIDES; i++) {
            const int16_t *a = points + 2 * i, *b = i + 1 < count ? a + 2 : points;
            if (a[1] > b[1]) { const int16_t *swap = a; a = b; b = swap; }
            if (y < a[1] || y >= b[1]) continue;
            const int32_t dy = b[1] - a[1];
            const int16_t x = (int16_t)(a[0] + ceiling((2 * (y - a[1]) + 1) * (b[0] - a[0]) - dy, 2 * dy));
            int32_t at = found++;
            for (; at > 0 && crossings[at - 1] > x; at--) crossings[at] = crossings[at - 1];
            crossings[at] = x;
        }
        for (int32_t i = 0; i + 1 < found; i += 2) draw_run(s, crossings[i], y, crossings[i + 1] - crossings[i], c);
    }
}

void draw_pattern(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, const uint8_t *tile, int32_t tw,
                  int32_t th, int32_t c, int32_t ground) {
    const int32_t last = least(y + h, end_row(s)), end = least(x + w, row_width(s));
    for (int32_t row = most(y, most(0, first_row(s))); row < last; row++) {
        gathered g = {0, -1};
        for (int32_t column = most(x, 0); column < end; column++) {
            spread(s, &g, column, row, (tile[row % th] & (128 >> (column % tw))) ? c : ground);
        }
        spread(s, &g, end, row, -1);
    }
}

/* Sines of 0 to 90 degrees, in parts of 16,384. */
static const int16_t sines[91] = {
    0, 286, 572, 857, 1143, 1428, 1713, 1997, 2280, 2563, 2845, 3126, 3406, 3686, 3964, 4240, 4516, 4790, 5063, 5334,
    5604, 5872, 6138, 6402, 6664, 6924, 7182, 7438, 7692, 7943, 8192, 8438, 8682, 8923, 9162, 9397, 9630, 9860, 10087,
    10311, 10531, 10749, 10963, 11174, 11381, 11585, 11786, 11982, 12176, 12365, 12551, 12733, 12911, 13085, 13255,
    13421, 13583, 13741, 13894, 14044, 14189, 14330, 14466, 14598, 14726, 14849, 14968, 15082, 15191, 15296, 15396,
    15491, 15582, 15668, 15749, 15826, 15897, 15964, 16026, 16083, 16135, 16182, 16225, 16262, 16294, 16322, 16344,
    16362, 16374, 16382, 16384,
};

typedef struct { int16_t x, y; } direction;

/* A direction clockwise from straight up. */
static direction direction_of(int32_t degrees) {
    const int32_t a = degrees % 360 < 0 ? degrees % 360 + 360 : degrees % 360, rest = a % 90;
    const int16_t along = sines[90 - rest], across = sines[rest];
    direction d;
    switch (a / 90) {
        case 0: d.x = across; d.y = (int16_t)-along; break;
        case 1: d.x = along; d.y = across; break;
        case 2: d.x = (int16_t)-across; d.y = along; break;
        default: d.x = (int16_t)-along; d.y = (int16_t)-across; break;
    }
    return d;
}

/* Whether a pixel lies in the half turn that begins at a direction. */
static int behind(direction d, int32_t dx, int32_t dy) {
    const int32_t cross = d.x * dy - d.y * dx;
    return cross > 0 || (cross == 0 && d.x * dx + d.y * dy > 0);
}

int32_t draw_across(int32_t degrees) { return direction_of(degrees).x; }
int32_t draw_along(int32_t degrees) { return direction_of(degrees).y; }

void draw_sector(const draw_surface *s, int32_t cx, int32_t cy, int32_t r, int32_t t, int32_t start, int32_t span, uint32_t c) {
    if (span >= 360) { draw_ring(s, cx, cy, r, t, c); return; }
    if (span <= 0) return;
    const int32_t inner = r - t;
    const direction a = direction_of(start), b = direction_of(start + span);
    for (int32_t dy = -r; dy <= r; dy++) {
        const int32_t half = root((uint32_t)(r * r + r - dy * dy));
        int32_t hole = -1;
        if (inner >= 0 && dy >= -inner && dy <= inner) hole = root((uint32_t)(inner * inner + inner - dy * dy));
        int32_t count = 0; /* pixels of the run so far */
        for (int32_t dx = -half; dx <= half + 1; dx++) {
            const int first = behind(a, dx, dy), second = !behind(b, dx, dy);
            if (dx <= half && (dx < -hole || dx > hole) && (span <= 180 ? (first && second) : (first || second))) {
                count++;
            } else if (count) {
                draw_run(s, cx + dx - count, cy + dy, count, c);
                count = 0;
            }
        }
    }
}

void draw_glyph(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, const uint8_t *data, int32_t bits,
                const int32_t *colors) {
    const int32_t stride = (w * bits + 7) >> 3;
    for (int32_t row = 0; row < h; row++) {
        gathered g = {0, -1};
        for (int32_t column = 0; column < w; column++) {
            const int32_t at = column * bits;
            const int32_t level = (data[row * stride + (at >> 3)] >> (8 - bits - (at & 7))) & ((1 << bits) - 1);
            spread(s, &g, x + column, y + row, colors[level]);
        }
        spread(s, &g, x + w, y + row, -1);
    }
}

void draw_picture(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, const uint8_t *data,
                  const int32_t *colors) {
    for (int32_t row = 0; row < h; row++) {
        gathered g = {0, -1};
        for (int32_t column = 0; column < w; column++) spread(s, &g, x + column, y + row, colors[*data++]);
        spread(s, &g, x + w, y + row, -1);
    }
}

void draw_values(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, const uint8_t *data, int32_t size,
                 const uint8_t *mask) {
    const int32_t stride = (w + 7) >> 3;
    for (int32_t row = 0; row < h; row++) {
        gathered g = {0, -1};
        for (int32_t column = 0; column < w; column++) {
            int32_t color = 0;
            for (int32_t i = 0; i < size; i++) color = (color << 8) | *data++;
            if (mask && !(mask[row * stride + (column >> 3)] & (128 >> (column & 7)))) color = -1;
            spread(s, &g, x + column, y + row, color);
        }
        spread(s, &g, x + w, y + row, -1);
    }
}

/* a / 16,384, rounded to the nearest, halves upwards. */
static int32_t of_unit(int32_t a) {
    a += 8192;
    return a >= 0 ? a / 16384 : -((16383 - a) / 16384);
}

void draw_turned(const draw_surface *s, int32_t x, int32_t y, int32_t degrees, int32_t px, int32_t py, int32_t w, int32_t h,
                 const uint8_t *data, const int32_t *colors) {
    const direction d = direction_of(degrees);
    const int32_t wide = most(most(px, w - 1 - px), -px), high = most(most(py, h - 1 - py), -py);
    const int32_t reach = root((uint32_t)(wide * wide + high * high)) + 1;
    for (int32_t dy = -reach; dy <= reach; dy++) {
        gathered g = {0, -1};
        for (int32_t dx = -reach; dx <= reach; dx++) {
            const int32_t u = px + of_unit(dy * d.x - dx * d.y), v = py + of_unit(-dy * d.y - dx * d.x);
            spread(s, &g, x + dx, y + dy, u >= 0 && v >= 0 && u < w && v < h ? colors[data[v * w + u]] : -1);
        }
        spread(s, &g, x + reach + 1, y + dy, -1);
    }
}

/* The code point that begins here, and the place behind it. */
static const char *decoded(const char *at, uint32_t *code) {
    const uint8_t head = (uint8_t)*at++;
    int more = head >= 0xF0 ? 3 : head >= 0xE0 ? 2 : head >= 0xC0 ? 1 : 0;
    *code = more ? head & (0x3Fu >> more) : head;
    for (; more && (*at & 0xC0) == 0x80; more--) *code = (*code << 6) | ((uint8_t)*at++ & 0x3Fu);
    return at;
}

/* The next letter of a line that the font has, or 0 at its end; `by` is how far it moves behind the last one. */
static const draw_letter *next_letter(const char **words, const draw_font *font, uint32_t *last, int32_t *by) {
    uint32_t code;
    while (**words) {
        *words = decoded(*words, &code);
        int32_t low = 0, high = font->count;
        while (low < high) {
            const int32_t middle = (low + high) / 2;
            if (font->letters[middle].code < code) low = middle + 1;
            else high = middle;
        }
        if (low == font->count || font->letters[low].code != code) continue;
        *by = 0;
        for (int32_t i = 0; i < font->kern_count; i++) {
            if (font->kerns[i].first == *last && font->kerns[i].second == code) *by += font->kerns[i].by;
        }
        *last = code;
        return font->letters + low;
    }
    return 0;
}

void draw_text(const draw_surface *s, int32_t x, int32_t base, const char *words, const draw_font *font, const int32_t *colors) {
    uint32_t last = 0;
    int32_t by;
    for (const draw_letter *letter; (letter = next_letter(&words, font, &last, &by)) != 0; x += letter->advance) {
        x += by;
        draw_glyph(s, x + letter->left, base - letter->top, letter->w, letter->h, font->pixels + letter->at, font->bits, colors);
    }
}

int32_t draw_width(const char *words, const draw_font *font) {
    uint32_t last = 0;
    int32_t by, x = 0;
    for (const draw_letter *letter; (letter = next_letter(&words, font, &last, &by)) != 0;) x += by + letter->advance;
    return x;
}

int32_t draw_remember(int32_t *past, int32_t room, int32_t held, int32_t reading) {
    if (held == room) {
        for (int32_t i = 1; i < room; i++) past[i - 1] = past[i];
        held--;
    }
    past[held] = reading;
    return held + 1;
}

/* a * b / c, rounded to the nearest, for numbers not below zero. */
static int32_t share(int32_t a, int32_t b, int32_t c) { return (int32_t)((2 * (int64_t)a * b + c) / (2 * (int64_t)c)); }

void draw_plot(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, int32_t t, int32_t low, int32_t high,
               const int32_t *past, int32_t held, int32_t room, uint32_t c) {
    if (room < 2 || w < 1 || h < 1 || low == high) return;
    const int32_t count = least(room, held);
    int32_t bx = 0, by = -1; /* of the reading before; -1 for none */
    int drawn = 0;
    for (int32_t i = 0; i < count; i++) {
        const int32_t reading = past[held - count + i];
        if (reading == DRAW_MISSING) { drawn = 0; continue; }
        const int32_t span = high > low ? high - low : low - high;
        const int32_t part = high > low ? most(0, least(reading, high) - low) : most(0, low - most(reading, high));
        const int32_t px = x + (w - 1) * (room - count + i) / (room - 1), py = y + h - 1 - share(part, h - 1, span);
        if (!drawn) { bx = px; by = py; drawn = 1; }
        draw_line(s, bx, by, px, py, t, c);
        bx = px;
        by = py;
    }
}

void draw_stencil(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, const uint8_t *data, uint32_t c) {
    const int32_t stride = (w + 7) >> 3;
    for (int32_t row = 0; row < h; row++) {
        gathered g = {0, -1};
        for (int32_t column = 0; column < w; column++) {
            const int set = data[row * stride + (column >> 3)] & (128 >> (column & 7));
            spread(s, &g, x + column, y + row, set ? (int32_t)c : -1);
        }
        spread(s, &g, x + w, y + row, -1);
    }
}
