#include "line.h"

#include <string.h>

static const uint8_t check_sizes[5] = {0, 1, 1, 1, 2};

static int32_t check_size(const line_template *t) { return check_sizes[t->check]; }

static int32_t is_addressed(int32_t act) { return act == LINE_WRITE || act == LINE_READ || act == LINE_ANSWER; }

static uint32_t check_of(const line_template *t, const uint8_t *data, int32_t size) {
    uint32_t value = 0;
    if (t->check == LINE_SUM || t->check == LINE_XOR) {
        for (int32_t i = 0; i < size; i++) value = t->check == LINE_SUM ? value + data[i] : value ^ data[i];
        return value & 0xFFu;
    }
    if (t->check == LINE_NO_CHECK) return 0;
    const uint32_t bits = t->check == LINE_CRC8 ? 8u : 16u, mask = (1u << bits) - 1u, top = 1u << (bits - 1u);
    value = t->start;
    for (int32_t i = 0; i < size; i++) {
        value ^= t->reflected ? (uint32_t)data[i] : (uint32_t)data[i] << (bits - 8u);
        for (int32_t bit = 0; bit < 8; bit++) {
            if (t->reflected) value = (value >> 1) ^ ((value & 1u) ? t->polynomial : 0u);
            else value = ((value << 1) & mask) ^ ((value & top) ? t->polynomial : 0u);
        }
    }
    return (value ^ t->final) & mask;
}

static int32_t put(uint8_t *out, uint32_t number, int32_t size, int32_t big) {
    for (int32_t i = 0; i < size; i++) out[big ? size - 1 - i : i] = (uint8_t)(number >> (8 * i));
    return size;
}

static uint32_t got(const uint8_t *data, int32_t size, int32_t big) {
    uint32_t number = 0;
    for (int32_t i = 0; i < size; i++) number |= (uint32_t)data[big ? size - 1 - i : i] << (8 * i);
    return number;
}

static int32_t put_check(const line_template *t, const uint8_t *data, int32_t size, uint8_t *out) {
    return put(out, check_of(t, data, size), check_size(t), t->check_big);
}

static int32_t is_escaped(const line_template *t, uint8_t byte) {
    if (t->escape < 0) return 0;
    if (byte == (uint8_t)t->escape) return 1;
    for (int32_t i = 0; i < t->tail_size; i++) if (t->tail[i] == byte) return 1;
    for (int32_t i = 0; i < t->head_size; i++) if (t->head[i] == byte) return 1;
    return 0;
}

static char hex(uint32_t nibble) { return (char)(nibble < 10u ? '0' + nibble : 'A' + nibble - 10u); }

static int32_t put_hex(uint8_t *out, const uint8_t *data, int32_t size) {
    for (int32_t i = 0; i < size; i++) {
        out[2 * i] = (uint8_t)hex(data[i] >> 4);
        out[2 * i + 1] = (uint8_t)hex(data[i] & 15u);
    }
    return 2 * size;
}

static int32_t put_words(uint8_t *out, const char *words) {
    const int32_t size = (int32_t)strlen(words);
    memcpy(out, words, (size_t)size);
    return size;
}

static int32_t put_decimal(uint8_t *out, uint32_t number) {
    uint8_t turned[10];
    int32_t count = 0;
    do {
        turned[count++] = (uint8_t)('0' + number % 10u);
        number /= 10u;
    } while (number);
    for (int32_t i = 0; i < count; i++) out[i] = turned[count - 1 - i];
    return count;
}

static int32_t text_frame(const line_template *t, int32_t act, int32_t address, const uint8_t *data, int32_t size, uint8_t *out) {
    int32_t at = put_words(out, t->words[act]);
    if (is_addressed(act)) {
        at += put_words(out + at, t->between);
        at += put_decimal(out + at, (uint32_t)address);
    }
    if (size) {
        at += put_words(out + at, t->between);
        at += put_hex(out + at, data, size);
    }
    if (check_size(t)) {
        uint8_t check[2];
        put_check(t, out, at, check);
        out[at++] = '*';
        at += put_hex(out + at, check, check_size(t));
    }
    out[at++] = '\n';
    return at;
}

int32_t line_frame(const line_template *t, int32_t act, int32_t address, const uint8_t *data, int32_t size, uint8_t *out) {
    uint8_t plain[LINE_MOST_DATA + 16];
    int32_t at = 0, begin;
    if (size < 0 || size > LINE_MOST_DATA) return 0;
    if (t->framing == LINE_AS_TEXT) return text_frame(t, act, address, data, size, out);
    if (t->codes[act] < 0) return 0;
    memcpy(plain, t->head, t->head_size);
    at += t->head_size;
    begin = at;
    if (t->framing == LINE_BY_LENGTH) {
        const int32_t inner = 1 + (is_addressed(act) ? t->address_bytes : 0) + size;
        int32_t length = inner + check_size(t);
        if (t->counts == LINE_UNCHECKED) length = inner;
        if (t->counts == LINE_PAYLOAD) length = size;
        if (t->counts == LINE_WHOLE) length += t->head_size + t->length_bytes;
        if (length >> (8 * t->length_bytes)) return 0;
        at += put(plain + at, (uint32_t)length, t->length_bytes, t->big);
    }
    plain[at++] = (uint8_t)t->codes[act];
    if (is_addressed(act)) at += put(plain + at, (uint32_t)address, t->address_bytes, t->big);
    if (size) memcpy(plain + at, data, (size_t)size);
    at += size;
    at += put_check(t, plain + (t->from_header ? 0 : begin), at - (t->from_header ? 0 : begin), plain + at);
    if (t->framing == LINE_BY_LENGTH) {
        memcpy(out, plain, (size_t)at);
        return at;
    }
    int32_t end = t->head_size;
    memcpy(out, plain, t->head_size);
    for (int32_t i = begin; i < at; i++) {
        if (is_escaped(t, plain[i])) {
            out[end++] = (uint8_t)t->escape;
            out[end++] = (uint8_t)(plain[i] ^ t->escape_xor);
        } else out[end++] = plain[i];
    }
    memcpy(out + end, t->tail, t->tail_size);
    return end + t->tail_size;
}

static int32_t is_wide(const line_entry *e) { return e->kind == LINE_U32 || e->kind == LINE_S32; }

static void put_number(const line_template *t, const line_entry *e, uint32_t number, uint8_t *out) {
    if (!is_wide(e)) { put(out, number & 0xFFFFu, 2, t->big); return; }
    put(out, e->high ? number >> 16 : number & 0xFFFFu, 2, t->big);
    put(out + 2, e->high ? number & 0xFFFFu : number >> 16, 2, t->big);
}

int32_t line_number(const line_template *t, const line_entry *e, int32_t number, uint8_t *out) {
    uint8_t data[4];
    put_number(t, e, e->kind == LINE_BIT ? (number ? 1u : 0u) << e->bit : (uint32_t)number, data);
    return line_frame(t, LINE_WRITE, e->address, data, is_wide(e) ? 4 : 2, out);
}

int32_t line_text(const line_template *t, const line_entry *e, const char *words, uint8_t *out) {
    uint8_t data[LINE_MOST_DATA];
    int32_t count = 0;
    const int32_t size = e->size + (e->size & 1);
    while (count < e->size && words[count]) { data[count] = (uint8_t)words[count]; count++; }
    /* Not half a character: bytes that go on with one are left out with its beginning. */
    if (words[count]) {
        while (count && ((uint8_t)words[count] & 0xC0u) == 0x80u) count--;
    }
    memset(data + count, 0, (size_t)(size - count));
    return line_frame(t, LINE_WRITE, e->address, data, size, out);
}

int32_t line_small(const line_template *t, int32_t act, int32_t number, uint8_t *out) {
    uint8_t data[2];
    const int32_t size = act == LINE_PAGE || act == LINE_TOUCH ? 2 : 1;
    put(data, (uint32_t)number, size, t->big);
    return line_frame(t, act, 0, data, size, out);
}

int32_t line_read(const line_template *t, const line_entry *e, uint8_t *out) {
    const uint8_t wanted = (uint8_t)(e->kind == LINE_TEXT ? e->size + (e->size & 1) : is_wide(e) ? 4 : 2);
    return line_frame(t, LINE_READ, e->address, &wanted, 1, out);
}

int32_t line_value(const line_template *t, const line_entry *e, const line_message *m) {
    const uint32_t first = got(m->data, 2, t->big);
    if (e->kind == LINE_BIT) return (int32_t)(first >> e->bit & 1u);
    if (is_wide(e)) {
        const uint32_t second = got(m->data + 2, 2, t->big);
        const uint32_t all = e->high ? first << 16 | second : second << 16 | first;
        int32_t number;
        memcpy(&number, &all, 4);
        return number;
    }
    return e->kind == LINE_S16 && first & 0x8000u ? (int32_t)first - 65536 : (int32_t)first;
}

void line_begin(line_reader *r, const line_template *t) {
    memset(r, 0, sizeof *r);
    r->t = t;
}

static void drop(line_reader *r, int32_t count) {
    memmove(r->rest, r->rest + count, (size_t)(r->held - count));
    r->held = (uint16_t)(r->held - count);
}

static void lose(line_reader *r, int32_t count, int32_t fault) {
    r->faults[fault]++;
    r->skipped += (uint32_t)count;
    drop(r, count);
}

/* Code, address and payload; gives a fault, or -1. */
static int32_t inner(line_reader *r, const uint8_t *data, int32_t size) {
    const line_template *t = r->t;
    int32_t act = 0, begin = 1;
    while (act < LINE_ACTS && t->codes[act] != data[0]) act++;
    if (act == LINE_ACTS) return LINE_CODE;
    r->message.address = 0;
    if (is_addressed(act)) {
        if (size < 1 + t->address_bytes) return LINE_SHORT;
        r->message.address = (uint16_t)got(data + 1, t->address_bytes, t->big);
        begin += t->address_bytes;
    }
    if (size - begin > LINE_MOST_DATA) return LINE_LONG;
    r->message.act = (uint8_t)act;
    r->message.size = (uint8_t)(size - begin);
    memcpy(r->message.data, data + begin, (size_t)(size - begin));
    return -1;
}

/* The bytes of a whole frame by its length; 0 where more are needed to tell. */
static int32_t total_of(const line_reader *r) {
    const line_template *t = r->t;
    const int32_t before = t->head_size + t->length_bytes;
    if (r->held < before + (t->counts == LINE_PAYLOAD ? 1 : 0)) return 0;
    const int32_t length = (int32_t)got(r->rest + t->head_size, t->length_bytes, t->big);
    if (t->counts == LINE_WHOLE) return length ? length : -1;
    if (t->counts == LINE_FOLLOWS) return before + length;
    if (t->counts == LINE_UNCHECKED) return before + length + check_size(t);
    int32_t act = 0;
    while (act < LINE_ACTS && t->codes[act] != r->rest[before]) act++;
    return before + 1 + (act < LINE_ACTS && is_addressed(act) ? t->address_bytes : 0) + length + check_size(t);
}

/* One step: 1 a message, 0 more bytes are needed, -1 it goes on. */
static int32_t by_length(line_reader *r) {
    const line_template *t = r->t;
    const int32_t seen = r->held < t->head_size ? r->held : t->head_size;
    if (r->held && memcmp(r->rest, t->head, (size_t)seen)) {
        r->faults[LINE_GARBAGE] += r->lost ? 0u : 1u;
        r->lost = 1;
        r->skipped++;
        drop(r, 1);
        return -1;
    }
    const int32_t total = total_of(r), begin = t->head_size, size = check_size(t);
    if (!total) return 0;
    if (total < begin + t->length_bytes + 1 + size || total > 2 * (LINE_MOST_DATA + 16)) { lose(r, 1, LINE_LENGTH); return -1; }
    if (r->held < total) return 0;
    uint8_t check[2];
    const int32_t from = t->from_header ? 0 : begin;
    put_check(t, r->rest + from, total - size - from, check);
    if (memcmp(check, r->rest + total - size, (size_t)size)) { lose(r, 1, LINE_CHECK); return -1; }
    r->lost = 0;
    const int32_t fault = inner(r, r->rest + begin + t->length_bytes, total - size - begin - t->length_bytes);
    if (fault >= 0) { lose(r, total, fault); return -1; }
    drop(r, total);
    return 1;
}

/* Where some bytes begin, the first or the last place; -1 for nowhere. */
static int32_t find(const uint8_t *data, int32_t size, const uint8_t *wanted, int32_t count, int32_t last) {
    int32_t found = -1;
    for (int32_t at = 0; at + count <= size; at++) {
        if (!memcmp(data + at, wanted, (size_t)count)) {
            found = at;
            if (!last) return found;
        }
    }
    return found;
}

static int32_t ended(line_reader *r, int32_t size) {
    const line_template *t = r->t;
    uint8_t plain[2 * (LINE_MOST_DATA + 16)], check[2];
    int32_t count = 0;
    if (size < t->head_size || memcmp(r->rest, t->head, t->head_size)) return LINE_GARBAGE;
    for (int32_t i = 0; i < t->head_size; i++) plain[count++] = t->head[i];
    for (int32_t i = t->head_size; i < size; i++) {
        if (t->escape >= 0 && r->rest[i] == (uint8_t)t->escape) {
            if (++i == size || !is_escaped(t, (uint8_t)(r->rest[i] ^ t->escape_xor))) return LINE_ESCAPE;
            plain[count++] = (uint8_t)(r->rest[i] ^ t->escape_xor);
        } else plain[count++] = r->rest[i];
    }
    const int32_t begin = t->head_size, last = count - check_size(t), from = t->from_header ? 0 : begin;
    if (last - begin < 1) return LINE_SHORT;
    put_check(t, plain + from, last - from, check);
    if (memcmp(check, plain + last, (size_t)check_size(t))) return LINE_CHECK;
    return inner(r, plain + begin, last - begin);
}

static int32_t by_terminator(line_reader *r) {
    const line_template *t = r->t;
    const int32_t most = 2 * (LINE_MOST_DATA + 16), at = find(r->rest, r->held, t->tail, t->tail_size, 0);
    if (at < 0) {
        if (r->held > most) { lose(r, r->held - t->tail_size + 1, LINE_LONG); return -1; }
        return 0;
    }
    const int32_t start = t->head_size ? find(r->rest, at, t->head, t->head_size, 1) : 0;
    if (start > 0) { lose(r, start, LINE_GARBAGE); return -1; }
    const int32_t fault = at <= most ? ended(r, at) : LINE_LONG;
    if (fault >= 0) { lose(r, at + t->tail_size, fault); return -1; }
    drop(r, at + t->tail_size);
    return 1;
}

static int32_t nibble(uint8_t c) { return c >= '0' && c <= '9' ? c - '0' : c >= 'A' && c <= 'F' ? c - 'A' + 10 : -1; }

static int32_t said(line_reader *r, int32_t size) {
    const line_template *t = r->t;
    const uint8_t *line = r->rest;
    const int32_t gap = (int32_t)strlen(t->between);
    for (int32_t i = 0; i < size; i++) if (line[i] & 128u) return LINE_GARBAGE;
    if (check_size(t)) {
        uint8_t check[2], words[4];
        int32_t star = size - 1;
        while (star >= 0 && line[star] != '*') star--;
        if (star < 0) return LINE_CHECK;
        put_check(t, line, star, check);
        put_hex(words, check, check_size(t));
        if (size - star - 1 != 2 * check_size(t) || memcmp(words, line + star + 1, (size_t)(size - star - 1))) return LINE_CHECK;
        size = star;
    }
    int32_t at = find(line, size, (const uint8_t *)t->between, gap, 0), act = 0;
    const int32_t length = at < 0 ? size : at;
    while (act < LINE_ACTS && ((int32_t)strlen(t->words[act]) != length || memcmp(t->words[act], line, (size_t)length))) act++;
    if (act == LINE_ACTS) return LINE_CODE;
    at = at < 0 ? size + 1 : at + gap;
    r->message.address = 0;
    if (is_addressed(act)) {
        int32_t digits = 0, number = 0;
        while (at < size && line[at] >= '0' && line[at] <= '9' && digits < 6) { number = number * 10 + line[at++] - '0'; digits++; }
        if (!digits || digits > 5 || number > 65535) return LINE_FIELD;
        if (at < size && (at + gap > size || memcmp(line + at, t->between, (size_t)gap))) return LINE_FIELD;
        r->message.address = (uint16_t)number;
        at = at < size ? at + gap : size + 1;
    }
    const int32_t left = at <= size ? size - at : 0;
    if (left % 2 || left > 2 * LINE_MOST_DATA) return LINE_FIELD;
    for (int32_t i = 0; i < left; i++) if (nibble(line[at + i]) < 0) return LINE_FIELD;
    for (int32_t i = 0; i < left; i += 2) r->message.data[i / 2] = (uint8_t)(nibble(line[at + i]) << 4 | nibble(line[at + i + 1]));
    r->message.act = (uint8_t)act;
    r->message.size = (uint8_t)(left / 2);
    return -1;
}

static int32_t as_text(line_reader *r) {
    const uint8_t end = '\n';
    const int32_t at = find(r->rest, r->held, &end, 1, 0);
    if (at < 0) {
        if (r->held > 3 * LINE_MOST_DATA) { lose(r, r->held, LINE_LONG); return -1; }
        return 0;
    }
    int32_t size = at;
    while (size && r->rest[size - 1] == '\r') size--;
    const int32_t fault = said(r, size);
    if (fault >= 0) { lose(r, at + 1, fault); return -1; }
    drop(r, at + 1);
    return 1;
}

int32_t line_next(line_reader *r) {
    int32_t step;
    do {
        step = r->t->framing == LINE_BY_LENGTH ? by_length(r) : r->t->framing == LINE_BY_TERMINATOR ? by_terminator(r) : as_text(r);
    } while (step < 0);
    r->frames += step ? 1u : 0u;
    return step;
}

int32_t line_take(line_reader *r, uint8_t byte) {
    r->rest[r->held++] = byte;
    return line_next(r);
}

int32_t line_rest(line_reader *r) {
    for (;;) {
        if (line_next(r)) return 1;
        if (!r->held) return 0;
        lose(r, r->t->framing == LINE_BY_LENGTH ? 1 : r->held, LINE_CUT);
    }
}
