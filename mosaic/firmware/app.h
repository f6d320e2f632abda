/* The device as a program: inputs in, screens drawn and sent, outputs set. C99, also C++: no floating point, no heap. */
#ifndef APP_H
#define APP_H

#include "behaviour.h"
#include "values.h"

#ifdef __cplusplus
extern "C" {
#endif

/* Sets the panel up and shows the first screen. */
void app_begin(void);
/* Once round: reads every input, does what follows and sends what has changed. Call it at least every 20 ms. */
void app_round(void);
/* The same for one input that the program has read itself; what: BEHAVE_TOUCH, with pixels, BEHAVE_PIN, ... */
void app_take(int32_t what, int32_t of, int32_t a, int32_t b);
/* Everything is drawn and sent anew. */
void app_refresh(void);

behave_state *app_state(void);
/* Texts are the program's own to fill in. */
screen_values *app_values(void);

/* Yours, in main.c: an event of the behaviour has come about. */
void app_event(int32_t code);

#ifdef __cplusplus
}
#endif

#endif
