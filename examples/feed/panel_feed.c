/* See panel_feed.h. */
#define _POSIX_C_SOURCE 200809L
#include "panel_feed.h"

#include <arpa/inet.h>
#include <netinet/in.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/socket.h>
#include <unistd.h>

#define BYTES_A_LINE 4096u

static int feed = -1;
static FILE *answers;
static int complaints;

static void send_all(const char *text, size_t count)
{
    while (feed >= 0 && count > 0) {
        ssize_t sent = send(feed, text, count, MSG_NOSIGNAL);
        if (sent <= 0) {
            fprintf(stderr, "panel feed: the connection is gone\n");
            close(feed);
            feed = -1;
            return;
        }
        text += sent;
        count -= (size_t)sent;
    }
}

/* Reads answers up to the one that begins with a word; complaints on the way are passed on. */
static int answer(const char *word, char *line, size_t size)
{
    while (answers != NULL && fgets(line, (int)size, answers) != NULL) {
        if (line[0] == '?') {
            complaints++;
            fprintf(stderr, "panel feed: %s", line + 2);
        } else {
            return strncmp(line, word, strlen(word)) == 0 ? 0 : -1;
        }
    }
    return -1;
}

int panel_feed_open(unsigned port, const char *token)
{
    struct sockaddr_in address;
    char line[256];
    int again;

    memset(&address, 0, sizeof address);
    address.sin_family = AF_INET;
    address.sin_port = htons((uint16_t)port);
    address.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    feed = socket(AF_INET, SOCK_STREAM, 0);
    if (feed < 0 || connect(feed, (struct sockaddr *)&address, sizeof address) != 0) {
        perror("panel feed");
        return -1;
    }
    again = dup(feed);
    answers = again < 0 ? NULL : fdopen(again, "r");
    complaints = 0;
    snprintf(line, sizeof line, "hello %s\n", token);
    send_all(line, strlen(line));
    if (answer("ok", line, sizeof line) != 0) {
        fprintf(stderr, "panel feed: %s", line);
        return -1;
    }
    return 0;
}

static void send_bytes(char kind, const uint8_t *bytes, size_t count)
{
    static const char digits[] = "0123456789ABCDEF";
    char line[2 + 2 * BYTES_A_LINE + 1];

    while (count > 0) {
        size_t part = count < BYTES_A_LINE ? count : BYTES_A_LINE, at = 0, i;
        line[at++] = kind;
        line[at++] = ' ';
        for (i = 0; i < part; i++) {
            line[at++] = digits[bytes[i] >> 4];
            line[at++] = digits[bytes[i] & 15];
        }
        line[at++] = '\n';
        send_all(line, at);
        bytes += part;
        count -= part;
    }
}

void panel_command(const uint8_t *bytes, size_t count) { send_bytes('c', bytes, count); }

void panel_data(const uint8_t *bytes, size_t count) { send_bytes('d', bytes, count); }

void panel_reset(void) { send_all("reset\n", 6); }

void panel_delay(unsigned ms)
{
    char line[32];
    snprintf(line, sizeof line, "delay %u\n", ms);
    send_all(line, strlen(line));
}

double panel_busy(void)
{
    char line[256];
    send_all("busy\n", 5);
    return answer("idle", line, sizeof line) == 0 ? strtod(line + 5, NULL) : -1.0;
}

int panel_feed_close(void)
{
    if (feed >= 0) {
        (void)panel_busy(); /* everything before it has been taken */
        close(feed);
    }
    if (answers != NULL)
        fclose(answers);
    feed = -1;
    answers = NULL;
    return complaints;
}
