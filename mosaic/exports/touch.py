"""C99 that turns raw readings of a touch panel into pixels, in whole numbers."""

from mosaic.touch.fit import Fit

SHIFT = 16
"""Coefficients are kept in 65,536ths: readings of 16 bits stay exact to a hundredth of a pixel in 64 bits."""


def fixed(fitted: Fit) -> tuple[int, ...]:
    """The six coefficients in 65,536ths."""
    return tuple(round(value * (1 << SHIFT)) for row in fitted.matrix for value in row)


def touch_c(fitted: Fit, width: int, height: int, words: str) -> str:
    """A header with one function; `words` say of which panel it is."""
    a, b, c, d, e, f = fixed(fitted)
    safe = words.replace("*/", "* /").replace("\\", "/")
    return f"""/*
 * Touch of: {safe}
 * {width} x {height} pixels; worst cross {fitted.worst_px:.2f} px off when it was fitted.
 */
#ifndef TOUCH_FIT_H
#define TOUCH_FIT_H

#include <stdint.h>

#define TOUCH_WIDTH {width}
#define TOUCH_HEIGHT {height}

/* Pixels of a raw reading, kept on the glass. Coefficients are 65,536ths. */
static inline void touch_place(int32_t raw_x, int32_t raw_y, int32_t *x, int32_t *y)
{{
    int64_t px = (INT64_C({a}) * raw_x + INT64_C({b}) * raw_y + INT64_C({c}) + 32768) >> {SHIFT};
    int64_t py = (INT64_C({d}) * raw_x + INT64_C({e}) * raw_y + INT64_C({f}) + 32768) >> {SHIFT};
    *x = (int32_t)(px < 0 ? 0 : px >= TOUCH_WIDTH ? TOUCH_WIDTH - 1 : px);
    *y = (int32_t)(py < 0 ? 0 : py >= TOUCH_HEIGHT ? TOUCH_HEIGHT - 1 : py);
}}

#endif
"""
