/* From values to numbers of a screen, by the rules of docs/values.md. C99, also C++: no floating point, no heap, no recursion. */
#ifndef MAPS_H
#define MAPS_H

#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

/* A point of a map: a value, and the number that it gives. Points stand in ascending order. */
typedef struct { int32_t at, gives; } map_point;

int32_t map_least(int32_t a, int32_t b);
int32_t map_most(int32_t a, int32_t b);
/* a / b for b above 0, rounded down. */
int32_t map_floor(int64_t a, int64_t b);
/* Straight through the first and the last point, and on beyond; halves are rounded upwards. */
int32_t map_line(int32_t value, const map_point *points, int32_t count);
/* From point to point, held at the ends. */
int32_t map_table(int32_t value, const map_point *points, int32_t count);
/* What the last point at or below the value gives; below them all the first. */
int32_t map_steps(int32_t value, const map_point *points, int32_t count);

#ifdef __cplusplus
}
#endif

#endif
