/* SPDX-License-Identifier: MIT */
#ifndef DIA_TESTS_SERVED_H
#define DIA_TESTS_SERVED_H

#include "../quiet.h"
#include "../run.h"

#include <arpa/inet.h>
#include <curl/curl.h>
#include <fcntl.h>
#include <netinet/in.h>
#include <poll.h>
#include <signal.h>
#include <sys/prctl.h>
#include <sys/socket.h>
#include <time.h>

/* `diachrome serve` as a process, what it logs, and HTTP to it. */
struct served {
    pid_t pid;
    int log_fd;
    unsigned port;
    char log[1 << 16];
    size_t logged;
};

/* Waits until the log has a text; NULL: it has not, after some seconds. */
static inline const char *logged(struct served *served, const char *text)
{
    double until = seconds() + 20;
    const char *at;
    while ((at = strstr(served->log, text)) == NULL && seconds() < until) {
        struct pollfd wait = {served->log_fd, POLLIN, 0};
        poll(&wait, 1, 100);
        ssize_t n = wait.revents ? read(served->log_fd, served->log + served->logged,
                                        sizeof served->log - 1 - served->logged)
                                 : 0;
        if (wait.revents && n <= 0)
            break;
        served->logged += (size_t)n;
        served->log[served->logged] = 0;
    }
    return at;
}

/* What a command is begun by, such as another host's "ip netns exec NAME". */
static const char *served_by = "";

/* Begins with the words of a line; the port is any that is free, unless they say. */
static inline void serve(struct served *served, const char *words)
{
    char line[1024];
    int ends[2];
    memset(served, 0, sizeof *served);
    snprintf(line, sizeof line, "exec %s '%s' serve %s%s", served_by, getenv("DIACHROME"), words,
             strstr(words, "--listen") ? "" : " --listen 127.0.0.1:0");
    assert_int_equal(pipe(ends), 0);
    served->pid = fork();
    if (served->pid == 0) {
        prctl(PR_SET_PDEATHSIG, SIGKILL); /* it ends with the test, however that ends */
        for (int number = 1; number < 20; number++)
            signal(number, SIG_DFL); /* what the test was started with does not count */
        int nothing = open("/dev/null", O_RDWR);
        dup2(nothing, 0);
        dup2(nothing, 1);
        dup2(ends[1], 2);
        close(ends[0]);
        close(ends[1]);
        execl("/bin/sh", "sh", "-c", line, (char *)NULL);
        _exit(127);
    }
    close(ends[1]);
    fcntl(ends[0], F_SETFD, FD_CLOEXEC);
    served->log_fd = ends[0];
    const char *at = logged(served, "port=");
    if (!at)
        fail_msg("%s: %s", line, served->log);
    served->port = (unsigned)strtoul(at + 5, NULL, 10);
}

/* Ends it by a signal, or waits for its end: its exit code. */
static inline int ended(struct served *served, int signal)
{
    int status;
    if (signal)
        kill(served->pid, signal);
    logged(served, "\1"); /* all that it has to say */
    assert_int_equal(waitpid(served->pid, &status, 0), served->pid);
    close(served->log_fd);
    if (!WIFEXITED(status))
        fail_msg("a signal ended it: %d\n%s", WTERMSIG(status), served->log);
    return WEXITSTATUS(status);
}

/* What the last answer was. */
static char answer[1 << 20];
static size_t answer_length;

static size_t take_answer(char *bytes, size_t size, size_t n, void *self)
{
    (void)self;
    n *= size;
    if (answer_length + n < sizeof answer) {
        memcpy(answer + answer_length, bytes, n);
        answer_length += n;
        answer[answer_length] = 0;
    }
    return n;
}

/* The code of the answer to METHOD URL; more: a header besides, or NULL. */
static inline long http(const char *method, const char *url, const char *body, const char *more)
{
    CURL *curl = curl_easy_init();
    struct curl_slist *headers = curl_slist_append(NULL, "Expect:");
    long code = 0;
    if (more)
        headers = curl_slist_append(headers, more);
    answer_length = 0;
    answer[0] = 0;
    curl_easy_setopt(curl, CURLOPT_URL, url);
    curl_easy_setopt(curl, CURLOPT_CUSTOMREQUEST, method);
    curl_easy_setopt(curl, CURLOPT_HTTPHEADER, headers);
    curl_easy_setopt(curl, CURLOPT_PATH_AS_IS, 1L);
    curl_easy_setopt(curl, CURLOPT_NOPROXY, "*");
    curl_easy_setopt(curl, CURLOPT_TIMEOUT, 60L);
    curl_easy_setopt(curl, CURLOPT_WRITEFUNCTION, take_answer);
    if (body)
        curl_easy_setopt(curl, CURLOPT_POSTFIELDS, body);
    if (curl_easy_perform(curl) == CURLE_OK)
        curl_easy_getinfo(curl, CURLINFO_RESPONSE_CODE, &code);
    curl_slist_free_all(headers);
    curl_easy_cleanup(curl);
    return code;
}

static inline long ask(const struct served *served, const char *method, const char *path,
                       const char *body)
{
    char url[400];
    snprintf(url, sizeof url, "http://127.0.0.1:%u%s", served->port, path);
    return http(method, url, body, NULL);
}

static inline void change(const struct served *served, const char *lines)
{
    if (ask(served, "POST", "/changes", lines) != 200)
        fail_msg("%s: %s", lines, answer);
}

/* ---- a socket, as RFC 6455 has it ------------------------------------------------------------ */

struct talk {
    int fd;
    uint8_t bytes[1 << 20]; /* what came and is not taken */
    size_t length;
    uint8_t *message; /* the last, inside of bytes, and its length */
    size_t message_length, taken;
    int is_text;
};

static inline void put_all(int fd, const void *bytes, size_t n)
{
    const char *at = bytes;
    while (n > 0) {
        ssize_t put = send(fd, at, n, MSG_NOSIGNAL);
        if (put <= 0)
            return; /* the other end has had enough */
        at += put;
        n -= (size_t)put;
    }
}

static inline int reach(const char *address, unsigned port)
{
    struct sockaddr_in to = {.sin_family = AF_INET, .sin_port = htons((uint16_t)port)};
    int fd = socket(AF_INET, SOCK_STREAM | SOCK_CLOEXEC, 0);
    inet_pton(AF_INET, address, &to.sin_addr);
    assert_int_equal(connect(fd, (struct sockaddr *)&to, sizeof to), 0);
    return fd;
}

/* More bytes; 0: none came in time, or the end. */
static inline int more(struct talk *talk, int wait_ms)
{
    struct pollfd wait = {talk->fd, POLLIN, 0};
    if (poll(&wait, 1, wait_ms) <= 0)
        return 0;
    ssize_t n = recv(talk->fd, talk->bytes + talk->length, sizeof talk->bytes - talk->length, 0);
    talk->length += n > 0 ? (size_t)n : 0;
    return n > 0;
}

/* 1: it is open. headers: lines besides, each ended by \r\n. */
static inline int talk_open(struct talk *talk, const char *address, unsigned port,
                            const char *headers)
{
    char head[600];
    const char *end = NULL;
    memset(talk, 0, sizeof *talk);
    talk->fd = reach(address, port);
    int n = snprintf(head, sizeof head,
                     "GET /live HTTP/1.1\r\nHost: %s:%u\r\nUpgrade: websocket\r\n"
                     "Connection: Upgrade\r\nSec-WebSocket-Version: 13\r\n"
                     "Sec-WebSocket-Key: dGhlIHNhbXBsZSBub25jZQ==\r\n%s\r\n",
                     address, port, headers);
    put_all(talk->fd, head, (size_t)n);
    while (!end && more(talk, 5000))
        end = strstr((char *)talk->bytes, "\r\n\r\n");
    if (!end || strncmp((char *)talk->bytes, "HTTP/1.1 101", 12) != 0)
        return 0;
    size_t used = (size_t)(end + 4 - (char *)talk->bytes);
    memmove(talk->bytes, end + 4, talk->length - used);
    talk->length -= used;
    return 1;
}

static inline void talk_close(struct talk *talk)
{
    close(talk->fd);
    talk->fd = -1;
}

static inline void say(struct talk *talk, const char *text)
{
    size_t length = strlen(text), head = length < 126 ? 6 : length < 65536 ? 8 : 14;
    uint8_t *bytes = calloc(head + length, 1);
    bytes[0] = 0x81;
    bytes[1] = (uint8_t)(0x80 | (length < 126 ? length : length < 65536 ? 126 : 127));
    for (size_t k = 0; k < head - 6; k++)
        bytes[2 + k] = (uint8_t)(length >> 8 * (head - 7 - k));
    memcpy(bytes + head, text, length); /* the mask is 0 0 0 0 */
    put_all(talk->fd, bytes, head + length);
    free(bytes);
}

/* The next message: 1; 0: none came in time. */
static inline int hear(struct talk *talk, int wait_ms)
{
    double until = seconds() + wait_ms / 1e3;
    memmove(talk->bytes, talk->bytes + talk->taken, talk->length - talk->taken);
    talk->length -= talk->taken;
    talk->taken = 0;
    for (;;) {
        const uint8_t *b = talk->bytes;
        size_t head = 2, length = b[1] & 127u;
        if (talk->length >= 2 && length >= 126) {
            head = length == 126 ? 4 : 10;
            length = 0;
            for (size_t k = 2; k < head && talk->length >= head; k++)
                length = length << 8 | b[k];
        }
        if (talk->length >= head && talk->length >= 2 && talk->length >= head + length) {
            talk->taken = head + length;
            talk->is_text = (b[0] & 15) == 1;
            talk->message = talk->bytes + head;
            talk->message_length = length;
            if ((b[0] & 15) <= 2)
                return 1;
            memmove(talk->bytes, talk->bytes + talk->taken, talk->length - talk->taken);
            talk->length -= talk->taken; /* a ping */
            talk->taken = 0;
            continue;
        }
        if (seconds() > until || !more(talk, (int)((until - seconds()) * 1e3) + 1))
            return 0;
    }
}

/* The next message of text that has a part: a copy of it, to be freed; NULL: none came. */
static inline char *hear_text(struct talk *talk, const char *part)
{
    double until = seconds() + 10;
    while (seconds() < until && hear(talk, 5000)) {
        if (!talk->is_text)
            continue;
        char *text = strndup((char *)talk->message, talk->message_length);
        if (strstr(text, part))
            return text;
        free(text);
    }
    return NULL;
}

#endif
