/* How one screen follows another, by the rules of docs/behaviour.md. C99, also C++: no floating point, no heap.

   For each step 1..steps of a wipe or a slide:
       const change_box b = change_strip(change, side, step, steps, width, height);
       draw_surface part = draw_within(&surface, b.x, b.y, b.w, b.h);
       wiped in:  the new screen is drawn on part;
       slid in:   change_move move; draw_surface moved = change_moved(&move, &part, side, &b, width, height);
                  the new screen is drawn on moved;
       and box b, as the reader sees it, is sent. */
#ifndef CHANGE_H
#define CHANGE_H

#include "draw.h"

#ifdef __cplusplus
extern "C" {
#endif

enum { CHANGE_CUT, CHANGE_WIPE, CHANGE_SLIDE };
enum { CHANGE_LEFT, CHANGE_RIGHT, CHANGE_UP, CHANGE_DOWN };

typedef struct { int32_t x, y, w, h; } change_box;
typedef struct { const draw_surface *to; int32_t dx, dy; } change_move;

/* What is drawn and sent in a step, as the reader sees it: of a wipe the next strip, of a slide all that has come in so far. */
change_box change_strip(int32_t change, int32_t side, int32_t step, int32_t steps, int32_t width, int32_t height);

/* A surface on which the whole new screen is drawn, and of which the part that has come in lands in box b of `to`. */
draw_surface change_moved(change_move *move, const draw_surface *to, int32_t side, const change_box *b, int32_t width, int32_t height);

#ifdef __cplusplus
}
#endif

#endif
