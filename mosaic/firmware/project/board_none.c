/* A board that does nothing, for programs that draw only. */
#include "app.h"
#include "board.h"

void board_select(int32_t is_command) { (void)is_command; }
void board_write(const uint8_t *bytes, uint32_t count) {
    (void)bytes;
    (void)count;
}
void board_reset(void) {}
void board_delay(uint32_t ms) { (void)ms; }
uint32_t board_clock(void) { return 0; }
int32_t board_input(int32_t what, int32_t of, int32_t *a, int32_t *b) {
    (void)what;
    (void)of;
    *a = *b = 0;
    return 0;
}
void board_output(int32_t what, int32_t of, int32_t level) {
    (void)what;
    (void)of;
    (void)level;
}
void app_event(int32_t code) { (void)code; }
