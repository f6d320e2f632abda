/* What has to be drawn and sent anew from one state to the next, by the rules of docs/updates.md. C99, also C++. */
#ifndef UPDATE_H
#define UPDATE_H

#include "draw.h"

#ifdef __cplusplus
extern "C" {
#endif

/* A window, where the bytes lie. */
typedef struct { int32_t x, y, w, h; } update_box;

/* How the panel takes windows. They begin and end on the grid of its memory, in which the glass begins at offset; whole: only
   whole frames. setup: how many bytes of pixels could be sent in the time that setting a window takes. bits: of a pixel, all
   planes. */
typedef struct { int32_t grid_x, grid_y, offset_x, offset_y, whole, setup, bits; } update_link;

/* Draws the element with a number, as it is with some values. */
typedef void (*update_element)(const draw_surface *s, const void *values, int32_t number);

/* The windows that differ between two states, at most `room` of them, into boxes; gives their count. The surface is one without a
   buffer; nothing is sent to it. */
int32_t update_boxes(const draw_surface *s, const update_link *link, update_element draw, int32_t elements, const void *before,
                     const void *now, update_box *boxes, int32_t room);

/* The same surface, of which only a window can be drawn on. */
draw_surface update_within(const draw_surface *s, const update_box *box);

#ifdef __cplusplus
}
#endif

#endif
