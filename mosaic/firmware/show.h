/* Values as text, by the rules of docs/values.md. C99, also C++: no floating point, no heap, no recursion. Each gives the length;
   the text ends with a zero byte. */
#ifndef SHOW_H
#define SHOW_H

#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

/* Room for the longest text of any of these. */
#define SHOW_ROOM 48

/* raw: the value without its point, which has `scale` decimals. plus: '+', ' ' or 0. fill: ' ', '0' or 0. */
int32_t show_number(char *out, int32_t raw, int32_t scale, int32_t decimals, char plus, char fill, int32_t width);
/* Seconds since midnight. zeros: two digits for hours. seconds_too: seconds are shown. */
int32_t show_clock(char *out, int32_t seconds, int32_t zeros, int32_t seconds_too);
/* Seconds since midnight in twelve hours; minutes: minutes are shown. */
int32_t show_clock_12(char *out, int32_t seconds, int32_t minutes);
/* A length of time. form: 0 m:ss, 1 h:mm, 2 h:mm:ss, 3 days and hours. */
int32_t show_duration(char *out, int32_t seconds, int32_t form);
/* Days since 1970-01-01. form: 0 yyyy-mm-dd, 1 dd.mm., 2 dd.mm.yyyy, 3 mm/dd, 4 d mon, 5 weekday. */
int32_t show_date(char *out, int32_t days, int32_t form);

/* Words as they are, at most so many bytes of them, whole characters of UTF-8. */
int32_t show_words(char *out, const char *words, int32_t most);

#ifdef __cplusplus
}
#endif

#endif
