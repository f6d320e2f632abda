/* Yours: this file is written once and never again. Many boards want it in another form: what counts are app_begin once, and
   app_round at least every 20 ms. */
#include "app.h"
#include "board.h"

/* An event of the behaviour has come about; behaviour.h has their names. */
void app_event(int32_t code) {
    (void)code;
}

int main(void) {
    app_begin();
    for (;;) {
        app_round();
        board_delay(5);
    }
}
