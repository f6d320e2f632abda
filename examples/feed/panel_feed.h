/*
 * Drives a virtual panel over a socket, from drawing code compiled on a PC (C99, POSIX sockets).
 * Put it where the program's own transport is: the five functions are what a panel's driver needs.
 */
#ifndef PANEL_FEED_H
#define PANEL_FEED_H

#include <stddef.h>
#include <stdint.h>

/* Connects to the feed on this machine; gives 0, or -1 with the reason on the error stream. */
int panel_feed_open(unsigned port, const char *token);
void panel_command(const uint8_t *bytes, size_t count);
void panel_data(const uint8_t *bytes, size_t count);
void panel_reset(void);
void panel_delay(unsigned ms);
/* Waits until the panel is idle; gives the milliseconds it took, in the panel's own time. */
double panel_busy(void);
/* What the feed had to say against what was sent goes to the error stream; gives how much it was. */
int panel_feed_close(void);

#endif
