/* Drawing into the bytes of a panel, by the rules of docs/drawing.md. C99, also C++: no floating point, no heap, no recursion. */
#ifndef DRAW_H
#define DRAW_H

#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

/* Crossings of one row with the sides of a polygon; more sides than that are not looked at. */
#ifndef DRAW_MOST_SIDES
#define DRAW_MOST_SIDES 32
#endif

/* bits: of one pixel. sx, sy: a byte holds 1 << sx pixels of a row, or 1 << sy of a column. ax, ay: bytes from one byte to the
   next on its right, and below it. msb: the first pixel is in the high bits. codes: for each of the planes the number of each of
   `colors` palette colours, one after the other; no planes for colours that are sent as they are, high byte first. rows from
   top on are held; ay and plane_bytes are of this many rows. turn: 0 where the bytes lie as the reader sees them; else they
   lie as the glass does, which is turned clockwise by so many quarters before the reader, and then mirrored left to right with
   4 (8 for mirrored alone). The reader then sees seen_width x seen_height, and calls are in his coordinates. */
typedef struct {
    uint8_t *buf;
    int32_t width, rows, top;
    uint8_t bits, sx, sy, msb, planes, colors, turn;
    int32_t seen_width, seen_height, ax, ay, plane_bytes;
    const uint8_t *codes;
    /* Without a buffer: called for each box of one colour, clipped and turned; it sets a window and sends the pixels. */
    void (*area)(void *context, int32_t x, int32_t y, int32_t w, int32_t h, uint32_t c);
    void *context;
    /* Nothing is drawn outside of this box, where the bytes lie; a clip_right of 0 is none. Set by draw_within. */
    int32_t clip_x, clip_y, clip_right, clip_bottom;
    /* Everything lies so far to the right and down, 0 or more: a picture that wanders a little spares the glass. */
    int32_t shift_x, shift_y;
} draw_surface;

/* The same surface, of which only a box can be drawn on. */
draw_surface draw_within(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h);

void draw_dot(const draw_surface *s, int32_t x, int32_t y, uint32_t c);
void draw_run(const draw_surface *s, int32_t x, int32_t y, int32_t w, uint32_t c);
void draw_fill(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, uint32_t c);
void draw_frame(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, int32_t t, uint32_t c);
void draw_ellipse(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, uint32_t c);
void draw_ellipse_outline(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, uint32_t c);
void draw_line(const draw_surface *s, int32_t x0, int32_t y0, int32_t x1, int32_t y1, int32_t t, uint32_t c);
void draw_disc(const draw_surface *s, int32_t cx, int32_t cy, int32_t r, uint32_t c);
void draw_ring(const draw_surface *s, int32_t cx, int32_t cy, int32_t r, int32_t t, uint32_t c);
void draw_rounded(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, int32_t r, uint32_t c);
void draw_rounded_outline(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, int32_t r, uint32_t c);
void draw_polygon(const draw_surface *s, const int16_t *points, int32_t count, uint32_t c);
/* A byte for each row of the tile, its leftmost pixel in bit 7; a negative colour is none. */
void draw_pattern(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, const uint8_t *tile, int32_t tw,
                  int32_t th, int32_t c, int32_t ground);
/* A byte a pixel: its place among the colours, of which a negative one is none. */
void draw_picture(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, const uint8_t *data,
                  const int32_t *colors);
/* Pixels as their own values, high byte first, so many bytes each; where there is a mask (a bit a pixel, rows of whole bytes, the
   leftmost in bit 7), those of which it is 1. */
void draw_values(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, const uint8_t *data, int32_t size,
                 const uint8_t *mask);
/* A ring from a direction on, clockwise, in degrees; 0 is straight up. */
void draw_sector(const draw_surface *s, int32_t cx, int32_t cy, int32_t r, int32_t t, int32_t start, int32_t span, uint32_t c);
/* Levels of 1, 2 or 4 bits, rows of whole bytes, the leftmost in the high bits; a colour for each level, a negative one is none. */
void draw_glyph(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, const uint8_t *data, int32_t bits,
                const int32_t *colors);
/* A picture turned clockwise by degrees about its pixel px, py, which comes to lie at x, y. */
void draw_turned(const draw_surface *s, int32_t x, int32_t y, int32_t degrees, int32_t px, int32_t py, int32_t w, int32_t h,
                 const uint8_t *data, const int32_t *colors);

/* A letter: its code point, where its rows begin, their size, from the pen to its left edge and up to its upper one. */
typedef struct {
    uint32_t code, at;
    int16_t w, h, left, top, advance;
} draw_letter;
typedef struct {
    uint32_t first, second;
    int16_t by;
} draw_kern;
/* Letters and pairs by ascending code point. */
typedef struct {
    const draw_letter *letters;
    const uint8_t *pixels;
    const draw_kern *kerns;
    int32_t count, kern_count, bits;
} draw_font;
/* A line of UTF-8 from the pen at x on a base line; a colour for each level. Letters that the font has not are skipped. */
void draw_text(const draw_surface *s, int32_t x, int32_t base, const char *words, const draw_font *font, const int32_t *colors);
/* Pixels from the pen's first place to its last. */
int32_t draw_width(const char *words, const draw_font *font);
/* The last readings of a value, the newest last: one more; from `room` on the oldest goes. Gives how many are held then. */
#define DRAW_MISSING INT32_MIN
int32_t draw_remember(int32_t *past, int32_t room, int32_t held, int32_t reading);
/* The last `room` of the readings that are held, at equal steps in a box, the newest at the right, between low, the lowest row,
   and high. A reading of DRAW_MISSING breaks the line. */
void draw_plot(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, int32_t t, int32_t low, int32_t high,
               const int32_t *past, int32_t held, int32_t room, uint32_t c);
/* A direction clockwise from straight up: to the right and downwards, in parts of 16,384. */
int32_t draw_across(int32_t degrees);
int32_t draw_along(int32_t degrees);
/* A bit a pixel, rows of whole bytes, the leftmost in bit 7: where it is 1, the colour. */
void draw_stencil(const draw_surface *s, int32_t x, int32_t y, int32_t w, int32_t h, const uint8_t *data, uint32_t c);

#ifdef __cplusplus
}
#endif

#endif
