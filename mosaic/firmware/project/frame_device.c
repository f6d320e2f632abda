/* @TITLE@: asks a host for its frame, again and again. C99 with POSIX sockets.
       cc -std=c99 frame_device.c -o frame_device && ./frame_device TOKEN [TIMES]
   On a board show() sends the bytes to the panel, and sleeping takes the place of sleep. */
#define _POSIX_C_SOURCE 200809L
#include <netdb.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <strings.h>
#include <sys/socket.h>
#include <unistd.h>

#define HOST "@HOST@"
#define PORT "@PORT@"
#define PATH "@PATH@"
#define MOST_BYTES (4u << 20)

static unsigned char answer[MOST_BYTES];
static char tag[80];

/* Sends the bytes to the panel. */
static void show(const unsigned char *frame, size_t count) {
    (void)frame;
    printf("%lu bytes to show\n", (unsigned long)count);
    fflush(stdout);
}

/* The value of a line of the head, or 0. */
static const char *line_of(const char *head, const char *name) {
    const size_t length = strlen(name);
    while ((head = strstr(head, "\r\n")) != 0) {
        head += 2;
        if (strncasecmp(head, name, length) == 0 && head[length] == ':') {
            head += length + 1;
            while (*head == ' ') head++;
            return head;
        }
    }
    return 0;
}

/* Asks once; gives the seconds until it asks again. */
static unsigned ask(const char *token) {
    struct addrinfo hints, *found = 0, *one;
    char request[600];
    size_t count = 0;
    int link = -1, status = 0;
    memset(&hints, 0, sizeof hints);
    hints.ai_socktype = SOCK_STREAM;
    if (getaddrinfo(HOST, PORT, &hints, &found) != 0) return 60;
    for (one = found; one && link < 0; one = one->ai_next) {
        link = socket(one->ai_family, one->ai_socktype, one->ai_protocol);
        if (link >= 0 && connect(link, one->ai_addr, one->ai_addrlen) != 0) {
            close(link);
            link = -1;
        }
    }
    freeaddrinfo(found);
    if (link < 0) {
        fprintf(stderr, "the host does not answer\n"); /* what is shown stays, and it is asked again */
        return 60;
    }
    snprintf(request, sizeof request, "GET %s HTTP/1.0\r\nHost: %s:%s\r\nAuthorization: Bearer %s\r\n%s%s%s\r\n", PATH, HOST, PORT, token,
             *tag ? "If-None-Match: " : "", tag, *tag ? "\r\n" : "");
    if (send(link, request, strlen(request), 0) < 0) perror("the host");
    for (;;) {
        const ssize_t some = recv(link, answer + count, MOST_BYTES - 1 - count, 0);
        if (some <= 0) break;
        count += (size_t)some;
    }
    close(link);
    answer[count] = 0;
    {
        const char *head = (const char *)answer, *value;
        char *body = strstr((char *)answer, "\r\n\r\n");
        unsigned again = 60;
        if (!body || sscanf(head, "HTTP/%*s %d", &status) != 1) return 60;
        *body = 0;
        body += 4;
        if ((value = line_of(head, "X-Ask-Again")) != 0 || (value = line_of(head, "Retry-After")) != 0) again = (unsigned)strtoul(value, 0, 10);
        if (status == 200) {
            if ((value = line_of(head, "ETag")) != 0) {
                size_t length = strcspn(value, "\r");
                if (length >= sizeof tag) length = 0;
                memcpy(tag, value, length);
                tag[length] = 0;
            }
            show((const unsigned char *)body, count - (size_t)(body - (char *)answer));
        } else if (status != 304) {
            fprintf(stderr, "answered with %d\n", status);
        }
        return again;
    }
}

int main(int count, char **words) {
    long times = count > 2 ? strtol(words[2], 0, 10) : -1;
    if (count < 2) {
        fprintf(stderr, "%s TOKEN [TIMES]\n", words[0]);
        return 2;
    }
    while (times) {
        const unsigned again = ask(words[1]);
        if (times > 0) times--;
        if (times) sleep(again);
    }
    return 0;
}
