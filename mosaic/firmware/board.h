/* What a program of this build asks of its board: seven functions. board.c is yours to fill in; board_pc.c is one for a PC. */
#ifndef BOARD_H
#define BOARD_H

#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

/* What is read. TOUCH: a finger is felt at a, b, as the touch panel reads it; PIN: the level a of button `of`; LINES: the levels a
   and b of encoder `of`; READING: a new reading a of value `of`; WAKE: the sleep has ended; BUSY: whether the panel is busy, a. */
enum { BOARD_TOUCH, BOARD_PIN, BOARD_LINES, BOARD_READING, BOARD_WAKE, BOARD_BUSY };
/* What is set. LEVEL: the pin of output `of`; LIGHT: percent; SLEEP: the board may sleep until something wakes it. */
enum { BOARD_LEVEL, BOARD_LIGHT, BOARD_SLEEP };

/* A transaction with the panel begins, a command or data; the one before ends. */
void board_select(int32_t is_command);
/* Bytes of it, as they go over the link. */
void board_write(const uint8_t *bytes, uint32_t count);
/* The panel's reset line, low and high again, each long enough. */
void board_reset(void);
void board_delay(uint32_t ms);
/* Milliseconds since the start; may come round. */
uint32_t board_clock(void);
/* Gives 1 and what was read, or 0 if there is nothing. */
int32_t board_input(int32_t what, int32_t of, int32_t *a, int32_t *b);
void board_output(int32_t what, int32_t of, int32_t level);

#ifdef __cplusplus
}
#endif

#endif
