/* A board made of a PC. The panel is a virtual one behind the live feed of the build's page, where it can be touched:
       device HOST:PORT TOKEN
   or what would be sent is written to standard output, for a run of happenings in a file, each "ms what of a b":
       device --play RUN
   POSIX; readings come from pc/readings.h unless the page sends others. */
#define _POSIX_C_SOURCE 200809L
#include <arpa/inet.h>
#include <errno.h>
#include <fcntl.h>
#include <netdb.h>
#include <netinet/in.h>
#include <netinet/tcp.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/socket.h>
#include <time.h>
#include <unistd.h>

#include "app.h"
#include "board.h"
#include "project.h"
#include "readings.h"

#define LINE_BYTES 2048u

static int feed = -1;
static FILE *run;
static char sent[4 * LINE_BYTES + 64];
static size_t held;
static int kind, line_bytes;
static char arrived[4096];
static size_t arrived_count;
static int idle_seen, complaints;
static uint32_t play_ms;
/* What was told of inputs and not yet read. */
static int touched, touch_x, touch_y, woken;
static int pin_level[PROJECT_BUTTONS + 1], line_a[PROJECT_ENCODERS + 1], line_b[PROJECT_ENCODERS + 1];
static int has_reading[PROJECT_VALUES + 1], by_hand[PROJECT_VALUES + 1];
static int32_t reading[PROJECT_VALUES + 1];
static uint32_t next_reading[PROJECT_VALUES + 1];

static void flush(void) {
    size_t at = 0;
    if (feed < 0) {
        fwrite(sent, 1, held, stdout);
        held = 0;
        return;
    }
    while (at < held) {
        const ssize_t some = send(feed, sent + at, held - at, MSG_NOSIGNAL);
        if (some < 0 && (errno == EAGAIN || errno == EINTR)) {
            const struct timespec pause = {0, 1000000};
            nanosleep(&pause, 0);
            continue;
        }
        if (some <= 0) {
            fprintf(stderr, "the connection to the feed is gone\n");
            exit(1);
        }
        at += (size_t)some;
    }
    held = 0;
}

static void put(const char *text) {
    const size_t count = strlen(text);
    if (held + count > sizeof sent) flush();
    memcpy(sent + held, text, count);
    held += count;
}

static void end_line(void) {
    if (line_bytes) put("\n");
    line_bytes = 0;
}

void board_select(int32_t is_command) {
    end_line();
    kind = is_command ? 'c' : 'd';
}

void board_write(const uint8_t *bytes, uint32_t count) {
    static const char digits[] = "0123456789ABCDEF";
    for (uint32_t i = 0; i < count; i++) {
        char two[3] = {0, 0, 0};
        if (line_bytes == 0) {
            put(kind == 'c' ? "c " : "d ");
        }
        two[0] = digits[bytes[i] >> 4];
        two[1] = digits[bytes[i] & 15];
        put(two);
        if (++line_bytes == (int)LINE_BYTES) end_line();
    }
}

static void told(const char *line) {
    int n = 0, a = 0, b = 0;
    if (line[0] == '?') {
        fprintf(stderr, "feed: %s\n", line + 2);
        complaints++;
    } else if (strncmp(line, "idle", 4) == 0) {
        idle_seen = 1;
    } else if (strncmp(line, "no ", 3) == 0) {
        fprintf(stderr, "feed: %s\n", line + 3);
        exit(1);
    } else if (sscanf(line, "touch %d %d", &a, &b) == 2) {
        touched = 1;
        touch_x = a;
        touch_y = b;
    } else if (strncmp(line, "lift", 4) == 0) {
        touched = 0;
    } else if (sscanf(line, "pin %d %d", &n, &a) == 2 && n >= 0 && n < PROJECT_BUTTONS) {
        pin_level[n] = a;
    } else if (sscanf(line, "lines %d %d %d", &n, &a, &b) == 3 && n >= 0 && n < PROJECT_ENCODERS) {
        line_a[n] = a;
        line_b[n] = b;
    } else if (sscanf(line, "reading %d %d", &n, &a) == 2 && n >= 0 && n < PROJECT_VALUES) {
        reading[n] = a;
        has_reading[n] = by_hand[n] = 1;
    } else if (strncmp(line, "wake", 4) == 0) {
        woken = 1;
    }
}

/* Takes what has arrived; waits for it where `ms` is not 0. */
static void listen_for(int ms) {
    if (feed < 0) return;
    for (int waited = 0;; waited++) {
        const ssize_t some = recv(feed, arrived + arrived_count, sizeof arrived - arrived_count - 1, MSG_DONTWAIT);
        if (some == 0) {
            fprintf(stderr, "the feed has ended\n");
            exit(complaints ? 2 : 0);
        }
        if (some > 0) {
            char *line = arrived, *end;
            arrived_count += (size_t)some;
            arrived[arrived_count] = 0;
            while ((end = strchr(line, '\n')) != 0) {
                *end = 0;
                told(line);
                line = end + 1;
            }
            arrived_count = strlen(line);
            memmove(arrived, line, arrived_count + 1);
            if (arrived_count + 1 >= sizeof arrived) arrived_count = 0;
            return;
        }
        if (waited >= ms) return;
        {
            const struct timespec pause = {0, 1000000};
            nanosleep(&pause, 0);
        }
    }
}

void board_reset(void) {
    end_line();
    put("reset\n");
}

void board_delay(uint32_t ms) {
    end_line();
    if (feed < 0 || ms >= 10) {
        char line[32];
        snprintf(line, sizeof line, "delay %lu\n", (unsigned long)ms);
        put(line);
    }
    flush();
    if (feed >= 0) {
        const struct timespec pause = {(time_t)(ms / 1000u), (long)(ms % 1000u) * 1000000L};
        nanosleep(&pause, 0);
    }
}

uint32_t board_clock(void) {
    static struct timespec start;
    static int begun;
    struct timespec now;
    if (feed < 0) return play_ms;
    clock_gettime(CLOCK_MONOTONIC, &now);
    if (!begun) {
        start = now;
        begun = 1;
    }
    return (uint32_t)((now.tv_sec - start.tv_sec) * 1000 + (now.tv_nsec - start.tv_nsec) / 1000000);
}

int32_t board_input(int32_t what, int32_t of, int32_t *a, int32_t *b) {
    *a = *b = 0;
    if (what == BOARD_BUSY) {
        end_line();
        put("busy\n");
        flush();
        for (idle_seen = feed < 0; !idle_seen;) listen_for(1000);
        return 1;
    }
    if (feed < 0) return 0; /* a run that is played hands over its happenings by itself */
    switch (what) {
        case BOARD_TOUCH:
            *a = touch_x;
            *b = touch_y;
            return touched;
        case BOARD_PIN:
            *a = pin_level[of];
            return *a >= 0;
        case BOARD_LINES:
            *a = line_a[of];
            *b = line_b[of];
            return *a >= 0;
        case BOARD_WAKE: {
            const int was = woken;
            woken = 0;
            return was;
        }
        case BOARD_READING:
            if (has_reading[of]) {
                has_reading[of] = 0;
                *a = reading[of];
                return 1;
            }
            if (!by_hand[of] && readings_of[of].count && board_clock() >= next_reading[of]) {
                const uint32_t number = next_reading[of] / readings_of[of].every_ms;
                next_reading[of] += readings_of[of].every_ms;
                *a = readings_of[of].raw[number % readings_of[of].count];
                return 1;
            }
            return 0;
        default: return 0;
    }
}

void board_output(int32_t what, int32_t of, int32_t level) {
    if (feed < 0) return;
    if (what == BOARD_LEVEL) fprintf(stderr, "output %d: %d\n", (int)of, (int)level);
    else if (what == BOARD_LIGHT) fprintf(stderr, "light: %d %%\n", (int)level);
    else fprintf(stderr, "asleep\n");
}

void app_event(int32_t code) {
    if (feed >= 0) fprintf(stderr, "event %d\n", (int)code);
}

/* HOST:PORT */
static int reach(const char *where, const char *token) {
    char host[200], line[200];
    const char *colon = strrchr(where, ':');
    struct addrinfo hints, *found = 0, *one;
    const int yes = 1;
    if (!colon || (size_t)(colon - where) >= sizeof host) return -1;
    memcpy(host, where, (size_t)(colon - where));
    host[colon - where] = 0;
    memset(&hints, 0, sizeof hints);
    hints.ai_socktype = SOCK_STREAM;
    if (getaddrinfo(host, colon + 1, &hints, &found) != 0) return -1;
    for (one = found; one && feed < 0; one = one->ai_next) {
        feed = socket(one->ai_family, one->ai_socktype, one->ai_protocol);
        if (feed >= 0 && connect(feed, one->ai_addr, one->ai_addrlen) != 0) {
            close(feed);
            feed = -1;
        }
    }
    freeaddrinfo(found);
    if (feed < 0) return -1;
    setsockopt(feed, IPPROTO_TCP, TCP_NODELAY, &yes, sizeof yes);
    snprintf(line, sizeof line, "hello %s\n", token);
    put(line);
    flush();
    listen_for(3000);
    return 0;
}

static int play(const char *path) {
    unsigned long ms;
    int what, of, a, b, number = 0;
    run = fopen(path, "r");
    if (!run) {
        perror(path);
        return 1;
    }
    app_begin();
    end_line();
    put("# step 0\n");
    while (fscanf(run, "%lu %d %d %d %d", &ms, &what, &of, &a, &b) == 5) {
        char line[40];
        play_ms = (uint32_t)ms;
        app_take(what, of, a, b);
        app_round();
        end_line();
        snprintf(line, sizeof line, "# step %d\n", ++number);
        put(line);
    }
    flush();
    fclose(run);
    return 0;
}

int main(int count, char **words) {
    for (int n = 0; n <= PROJECT_BUTTONS; n++) pin_level[n] = -1;
    for (int n = 0; n <= PROJECT_ENCODERS; n++) line_a[n] = line_b[n] = -1;
    if (count == 3 && strcmp(words[1], "--play") == 0) return play(words[2]);
    if (count != 3) {
        fprintf(stderr, "%s HOST:PORT TOKEN, or %s --play RUN\n", words[0], words[0]);
        return 2;
    }
    if (reach(words[1], words[2]) != 0) {
        fprintf(stderr, "nobody answers at %s; HOST:PORT as the page of the live feed says\n", words[1]);
        return 1;
    }
    app_begin();
    for (;;) {
        app_round();
        flush();
        listen_for(10);
    }
}
