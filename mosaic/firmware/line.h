/* Frames on a serial line, by the rules of docs/serial.md. C99, also C++: no floating point, no heap, no recursion.

   The template and the entries of a panel are written for a build. Give each byte that comes to line_take; it says when a frame is
   whole. After a wrong byte it goes on with the next one that may begin a frame. */
#ifndef LINE_H
#define LINE_H

#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

#define LINE_MOST_DATA 250
#define LINE_ROOM (3 * LINE_MOST_DATA + 2)

enum { LINE_BY_LENGTH, LINE_BY_TERMINATOR, LINE_AS_TEXT };
/* What a length counts: what follows it; that without the check; the whole frame; the payload. */
enum { LINE_FOLLOWS, LINE_UNCHECKED, LINE_WHOLE, LINE_PAYLOAD };
enum { LINE_WRITE, LINE_READ, LINE_ANSWER, LINE_PAGE, LINE_LIGHT, LINE_SOUND, LINE_TOUCH, LINE_ACTS };
enum { LINE_NO_CHECK, LINE_SUM, LINE_XOR, LINE_CRC8, LINE_CRC16 };
enum { LINE_GARBAGE, LINE_LENGTH, LINE_CHECK, LINE_CODE, LINE_ESCAPE, LINE_SHORT, LINE_FIELD, LINE_LONG, LINE_CUT, LINE_FAULTS };
enum { LINE_U16, LINE_S16, LINE_U32, LINE_S32, LINE_TEXT, LINE_BIT };

/* codes: -1 for what the panel has no frame for. big: the high byte stands first. escape: -1 for none. */
typedef struct {
    uint8_t framing, counts, length_bytes, address_bytes, big, head_size, tail_size, head[4], tail[4];
    int16_t codes[LINE_ACTS], escape;
    uint8_t escape_xor, check, reflected, check_big, from_header;
    uint16_t polynomial, start, final;
    const char *between, *words[LINE_ACTS];
} line_template;

/* A value in the panel's memory: kind, bytes of a text, number of a bit; high: the high word of 32 bits stands first. */
typedef struct { uint16_t address; uint8_t kind, size, bit, high; } line_entry;

typedef struct { uint8_t act, size; uint16_t address; uint8_t data[LINE_MOST_DATA]; } line_message;

typedef struct {
    const line_template *t;
    line_message message;
    uint32_t frames, skipped, faults[LINE_FAULTS];
    uint16_t held;
    uint8_t lost, rest[LINE_ROOM];
} line_reader;

/* The frame of a message into out, which has LINE_ROOM bytes; gives its length, or 0 where the panel has no such frame. */
int32_t line_frame(const line_template *t, int32_t act, int32_t address, const uint8_t *data, int32_t size, uint8_t *out);
/* The same for a value: a number as it is sent, with the decimals of its entry; or a text. */
int32_t line_number(const line_template *t, const line_entry *e, int32_t number, uint8_t *out);
int32_t line_text(const line_template *t, const line_entry *e, const char *words, uint8_t *out);
/* Page and event numbers, light and sound. */
int32_t line_small(const line_template *t, int32_t act, int32_t number, uint8_t *out);
int32_t line_read(const line_template *t, const line_entry *e, uint8_t *out);
/* The number in the payload of a message, as its entry has it. */
int32_t line_value(const line_template *t, const line_entry *e, const line_message *m);

void line_begin(line_reader *r, const line_template *t);
/* One byte more; 1 where r->message is a new one. Call line_next until it gives 0: one byte may complete several frames. */
int32_t line_take(line_reader *r, uint8_t byte);
int32_t line_next(line_reader *r);
/* Nothing has come for a while: what waits is no whole frame; 1 where r->message is one that was inside of it. */
int32_t line_rest(line_reader *r);

#ifdef __cplusplus
}
#endif

#endif
