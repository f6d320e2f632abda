#include "maps.h"

int32_t map_least(int32_t a, int32_t b) { return a < b ? a : b; }
int32_t map_most(int32_t a, int32_t b) { return a > b ? a : b; }

int32_t map_floor(int64_t a, int64_t b) { return (int32_t)(a >= 0 ? a / b : -((b - 1 - a) / b)); }

int32_t map_line(int32_t value, const map_point *points, int32_t count) {
    const map_point *first = points, *last = points + count - 1;
    const int64_t span = (int64_t)last->at - first->at, rise = (int64_t)last->gives - first->gives;
    return (int32_t)(first->gives + map_floor(2 * ((int64_t)value - first->at) * rise + span, 2 * span));
}

int32_t map_table(int32_t value, const map_point *points, int32_t count) {
    int32_t at = 1;
    value = map_least(map_most(value, points[0].at), points[count - 1].at);
    while (at + 1 < count && value > points[at].at) at++;
    return map_line(value, points + at - 1, 2);
}

int32_t map_steps(int32_t value, const map_point *points, int32_t count) {
    int32_t found = points[0].gives;
    for (int32_t at = 0; at < count && value >= points[at].at; at++) found = points[at].gives;
    return found;
}
