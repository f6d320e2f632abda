#include "show.h"

static char *put(char *at, const char *words) {
    while (*words) *at++ = *words++;
    return at;
}

/* A whole number with at least so many digits. */
static char *digits(char *at, uint32_t number, int32_t least) {
    char turned[10];
    int32_t count = 0;
    do {
        turned[count++] = (char)('0' + number % 10u);
        number /= 10u;
    } while (number);
    for (; least > count; least--) *at++ = '0';
    while (count) *at++ = turned[--count];
    return at;
}

static int32_t ended(char *out, char *at) {
    *at = 0;
    return (int32_t)(at - out);
}

static uint32_t size_of(int32_t number) { return number < 0 ? 0u - (uint32_t)number : (uint32_t)number; }

int32_t show_number(char *out, int32_t raw, int32_t scale, int32_t decimals, char plus, char fill, int32_t width) {
    uint32_t cut = 1, point = 1;
    for (int32_t i = decimals; i < scale; i++) cut *= 10u;
    const uint32_t magnitude = (size_of(raw) + cut / 2u) / cut;
    const int32_t kept = scale < decimals ? scale : decimals;
    for (int32_t i = 0; i < kept; i++) point *= 10u;
    char body[24], *end = digits(body, magnitude / point, 1);
    if (decimals) {
        *end++ = '.';
        if (kept) end = digits(end, magnitude % point, kept);
        for (int32_t i = kept; i < decimals; i++) *end++ = '0';
    }
    *end = 0;
    const char sign = raw < 0 && magnitude ? '-' : plus;
    int32_t room = width - (int32_t)(end - body) - (sign ? 1 : 0);
    char *at = out;
    if (fill == ' ') for (; room > 0; room--) *at++ = ' ';
    if (sign) *at++ = sign;
    if (fill == '0') for (; room > 0; room--) *at++ = '0';
    return ended(out, put(at, body));
}

static uint32_t of_day(int32_t seconds) {
    const int32_t rest = seconds % 86400;
    return (uint32_t)(rest < 0 ? rest + 86400 : rest);
}

int32_t show_clock(char *out, int32_t seconds, int32_t zeros, int32_t seconds_too) {
    const uint32_t now = of_day(seconds);
    char *at = digits(out, now / 3600u, zeros ? 2 : 1);
    *at++ = ':';
    at = digits(at, now / 60u % 60u, 2);
    if (seconds_too) {
        *at++ = ':';
        at = digits(at, now % 60u, 2);
    }
    return ended(out, at);
}

int32_t show_clock_12(char *out, int32_t seconds, int32_t minutes) {
    const uint32_t now = of_day(seconds), hour = now / 3600u;
    char *at = digits(out, hour % 12u ? hour % 12u : 12u, 1);
    if (minutes) {
        *at++ = ':';
        at = digits(at, now / 60u % 60u, 2);
    }
    return ended(out, put(at, hour < 12u ? " am" : " pm"));
}

int32_t show_duration(char *out, int32_t seconds, int32_t form) {
    const uint32_t total = size_of(seconds), first[4] = {60u, 3600u, 3600u, 86400u}, step[4] = {1u, 60u, 1u, 3600u};
    char *at = out;
    if (seconds < 0 && total / step[form]) *at++ = '-';
    at = digits(at, total / first[form], 1);
    if (form == 3) {
        at = digits(put(at, " d "), total / 3600u % 24u, 1);
        return ended(out, put(at, " h"));
    }
    *at++ = ':';
    at = digits(at, form ? total / 60u % 60u : total % 60u, 2);
    if (form == 2) {
        *at++ = ':';
        at = digits(at, total % 60u, 2);
    }
    return ended(out, at);
}

static const char months[12][4] = {"Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"};
static const char weekdays[7][4] = {"Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"};

int32_t show_date(char *out, int32_t days, int32_t form) {
    /* Years are counted from March, in cycles of 400; dates from the year 1 on. */
    const uint32_t shifted = (uint32_t)(days + 719468), cycle = shifted / 146097u;
    uint32_t day = shifted % 146097u;
    const uint32_t of_cycle = (day - day / 1460u + day / 36524u - day / 146096u) / 365u;
    day -= 365u * of_cycle + of_cycle / 4u - of_cycle / 100u;
    const uint32_t month = (5u * day + 2u) / 153u, shown = month < 10u ? month + 3u : month - 9u;
    const uint32_t year = cycle * 400u + of_cycle + (month >= 10u ? 1u : 0u);
    day -= (153u * month + 2u) / 5u;
    day += 1u;
    char *at = out;
    switch (form) {
        case 0:
            at = put(digits(at, year, 4), "-");
            at = put(digits(at, shown, 2), "-");
            return ended(out, digits(at, day, 2));
        case 1:
        case 2:
            at = put(digits(at, day, 2), ".");
            at = put(digits(at, shown, 2), ".");
            return ended(out, form == 2 ? digits(at, year, 4) : at);
        case 3:
            at = put(digits(at, shown, 2), "/");
            return ended(out, digits(at, day, 2));
        case 4:
            at = put(digits(at, day, 1), " ");
            return ended(out, put(at, months[shown - 1u]));
        default:
            return ended(out, put(at, weekdays[(shifted + 2u) % 7u]));
    }
}

int32_t show_words(char *out, const char *words, int32_t most) {
    int32_t count = 0;
    while (count < most && words[count]) {
        out[count] = words[count];
        count++;
    }
    /* Not half a character: bytes that go on with one are left out with its beginning. */
    if (words[count]) {
        while (count && ((uint8_t)words[count] & 0xC0u) == 0x80u) count--;
    }
    out[count] = 0;
    return count;
}
