/* Yours: this file is written once and never again. The seven functions that a program of this build asks of its board; pins.h has
   the numbers of the pins, board.h says what each function does. */
#include "board.h"

#include "pins.h"

void board_select(int32_t is_command) {
    /* End the transaction before: chip select high. Set the data/command line, then chip select low. */
    (void)is_command;
}

void board_write(const uint8_t *bytes, uint32_t count) {
    /* Send the bytes over the panel's link. */
    (void)bytes;
    (void)count;
}

void board_reset(void) {
    /* Reset line low for 10 ms, high, and 10 ms more. */
}

void board_delay(uint32_t ms) {
    (void)ms;
}

uint32_t board_clock(void) {
    return 0;
}

int32_t board_input(int32_t what, int32_t of, int32_t *a, int32_t *b) {
    /* BOARD_BUSY: give 1, and in a whether the panel's busy line says busy. All others: give 0 where there is nothing. */
    (void)of;
    *a = *b = 0;
    return what == BOARD_BUSY;
}

void board_output(int32_t what, int32_t of, int32_t level) {
    (void)what;
    (void)of;
    (void)level;
}
