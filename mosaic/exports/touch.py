"""C99 that turns raw readings of a touch panel into pixels, in whole numbers."""

from mosaic.source_text import comment
from mosaic.touch.fit import Fit

SHIFT = 24
"""With readings of 16 bits, products of shifted coefficients fit 64 bits and are exact to a hundredth of a pixel."""


def fixed(fitted: Fit) -> tuple[int, ...]:
    """The six coefficients, shifted."""
    return tuple(round(value * (1 << SHIFT)) for row in fitted.matrix for value in row)


def touch_c(fitted: Fit, width: int, height: int, words: str) -> str:
    """A header with one function; `words` say of which panel it is."""
    a, b, c, d, e, f = fixed(fitted)
    safe = comment(words)
    return f"""/*
 * Touch of: {safe}
 * {width} x {height} pixels; worst cross {fitted.worst_px:.2f} px off when it was fitted.
 */
#ifndef TOUCH_FIT_H
#define TOUCH_FIT_H

#include <stdint.h>

#define TOUCH_WIDTH {width}
#define TOUCH_HEIGHT {height}

/* Pixels of a raw reading, kept on the glass. Coefficients are shifted by {SHIFT} bits. */
static inline void touch_place(int32_t raw_x, int32_t raw_y, int32_t *x, int32_t *y)
{{
    int64_t px = (INT64_C({a}) * raw_x + INT64_C({b}) * raw_y + INT64_C({c}) + {1 << (SHIFT - 1)}) >> {SHIFT};
    int64_t py = (INT64_C({d}) * raw_x + INT64_C({e}) * raw_y + INT64_C({f}) + {1 << (SHIFT - 1)}) >> {SHIFT};
    *x = (int32_t)(px < 0 ? 0 : px >= TOUCH_WIDTH ? TOUCH_WIDTH - 1 : px);
    *y = (int32_t)(py < 0 ? 0 : py >= TOUCH_HEIGHT ? TOUCH_HEIGHT - 1 : py);
}}

#endif
"""
