/* SPDX-License-Identifier: MIT */
#define _GNU_SOURCE /* fopencookie */
#include <errno.h>
#include <fcntl.h>
#include <poll.h>
#include <pthread.h>
#include <signal.h>
#include <stdlib.h>
#include <string.h>
#include <sys/socket.h>
#include <sys/stat.h>
#include <sys/un.h>
#include <unistd.h>

#include "film_inlet.h"

/*
 * Shows are read again while they run, and the new one is there before the old one goes. So an
 * inlet is found by its path, and is there as long as any film has it.
 */
#define SOCKET  "unix:"
#define WAIT_MS 100 /* between two looks at whether it is over */

struct inlet {
    struct inlet *next;
    char path[4096];
    unsigned users;
    int listens, fd; /* the socket that is made, -1: none; and who sends, -1: nobody */
    int is_pipe;     /* which others may write to when one has ended */
    pthread_t thread;
    pthread_mutex_t mutex; /* of all below */
    uint8_t ends, opaque;
    uint32_t columns, rows;
    uint32_t *newest;
    size_t room; /* pixels in newest */
    uint64_t version;
    struct dia_diagnostic trouble;
};
static struct inlet *inlets;
static pthread_mutex_t inlets_mutex = PTHREAD_MUTEX_INITIALIZER;

int dia_film_is_inlet(const char *path)
{
    struct stat about;
    return strcmp(path, "-") == 0 || strncmp(path, SOCKET, strlen(SOCKET)) == 0 ||
           (stat(path, &about) == 0 && S_ISFIFO(about.st_mode));
}

static int is_over(struct inlet *inlet)
{
    pthread_mutex_lock(&inlet->mutex);
    int ends = inlet->ends;
    pthread_mutex_unlock(&inlet->mutex);
    return ends;
}

/* ---- who sends ------------------------------------------------------------------------------- */

/* 1: somebody sends from now on, in place of who did before. */
static int accept_next(struct inlet *inlet)
{
    int fd = inlet->listens < 0 ? -1 : accept(inlet->listens, NULL, NULL);
    if (fd < 0)
        return 0;
    fcntl(fd, F_SETFL, O_NONBLOCK);
    fcntl(fd, F_SETFD, FD_CLOEXEC);
    if (inlet->fd >= 0)
        close(inlet->fd);
    inlet->fd = fd;
    return 1;
}

/* Who sends has ended. */
static void leave(struct inlet *inlet)
{
    close(inlet->fd);
    inlet->fd = -1;
}

/* As read of a FILE. 0 where a stream ends, where another one begins, and where all is over. */
static ssize_t read_some(void *self, char *to, size_t n)
{
    struct inlet *inlet = self;
    while (!is_over(inlet)) {
        struct pollfd wait[2] = {{inlet->fd, POLLIN, 0}, {inlet->listens, POLLIN, 0}};
        poll(wait, 2, WAIT_MS);
        if (wait[1].revents && accept_next(inlet))
            return 0;
        if (!wait[0].revents)
            continue;
        ssize_t got = read(inlet->fd, to, n);
        if (got > 0)
            return got;
        if (got < 0 && (errno == EAGAIN || errno == EINTR))
            continue;
        if (!inlet->is_pipe) /* its end could be read for ever */
            leave(inlet);
        return 0;
    }
    return 0;
}

/* Waits until there is something to read. 0: all is over. */
static int somebody_sends(struct inlet *inlet)
{
    while (!is_over(inlet)) {
        struct pollfd wait[2] = {{inlet->fd, POLLIN, 0}, {inlet->listens, POLLIN, 0}};
        struct timespec rest = {0, WAIT_MS * 500000};
        poll(wait, 2, WAIT_MS);
        if (wait[1].revents)
            accept_next(inlet);
        if (wait[0].revents & POLLIN)
            return 1;
        if (wait[0].revents) { /* a pipe that nobody writes to says so all the time */
            if (!inlet->is_pipe)
                leave(inlet);
            nanosleep(&rest, NULL);
        }
    }
    return 0;
}

/* ---- frames ---------------------------------------------------------------------------------- */

static void keep(struct inlet *inlet, const struct dia_film *frame)
{
    size_t n = (size_t)frame->columns * frame->rows;
    pthread_mutex_lock(&inlet->mutex);
    if (n > inlet->room) {
        uint32_t *larger = realloc(inlet->newest, n * sizeof *larger);
        if (larger) {
            inlet->newest = larger;
            inlet->room = n;
        }
    }
    if (n <= inlet->room) {
        memcpy(inlet->newest, frame->pixels, n * sizeof *inlet->newest);
        inlet->columns = frame->columns;
        inlet->rows = frame->rows;
        inlet->opaque = frame->opaque;
        inlet->version++;
        inlet->trouble.text[0] = 0;
    }
    pthread_mutex_unlock(&inlet->mutex);
}

/* All frames of one who sends. */
static void read_stream(struct inlet *inlet)
{
    static const cookie_io_functions_t functions = {.read = read_some};
    struct dia_diagnostic wrong = {""};
    struct dia_film *film = NULL;
    FILE *file = fopencookie(inlet, "r", functions);
    enum dia_status status = DIA_PORT_FAILED;
    if (file)
        status = dia_film_open_stream(&film, file, inlet->path, &wrong);
    for (uint32_t k = 0; status == DIA_OK; k++) { /* the first one is there */
        film->wrong = &wrong;
        status = k ? film->format->frame(film, k) : DIA_OK;
        if (status == DIA_OK && film->frames && k >= film->frames)
            break; /* that was the last one */
        if (status == DIA_OK)
            keep(inlet, film);
    }
    if (status != DIA_OK) {
        pthread_mutex_lock(&inlet->mutex);
        inlet->trouble = wrong;
        pthread_mutex_unlock(&inlet->mutex);
    }
    if (film)
        dia_film_close(film);
    else if (file)
        fclose(file);
}

static void *work(void *self)
{
    struct inlet *inlet = self;
    while (somebody_sends(inlet))
        read_stream(inlet);
    return NULL;
}

/* ---- from its beginning to its end ----------------------------------------------------------- */

static enum dia_status make_socket(struct dia_film *film, struct inlet *inlet)
{
    struct sockaddr_un at = {.sun_family = AF_UNIX};
    const char *path = inlet->path + strlen(SOCKET);
    struct stat about;
    if (strlen(path) >= sizeof at.sun_path || path[0] == 0)
        return dia_film_wrong(film, -1, "the path of a socket has 1 to %zu bytes",
                              sizeof at.sun_path - 1);
    strcpy(at.sun_path, path);
    if (stat(path, &about) == 0 && !S_ISSOCK(about.st_mode))
        return dia_film_wrong(film, -1, "is there, and is no socket");
    inlet->listens = socket(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC | SOCK_NONBLOCK, 0);
    if (inlet->listens >= 0 && connect(inlet->listens, (struct sockaddr *)&at, sizeof at) == 0)
        return dia_film_wrong(film, -1, "another program listens there already");
    unlink(path); /* of one that has ended without */
    mode_t was = umask(0177);
    int failed = inlet->listens < 0 ||
                 bind(inlet->listens, (struct sockaddr *)&at, sizeof at) != 0 ||
                 listen(inlet->listens, 4) != 0;
    umask(was);
    return failed ? dia_film_wrong(film, -1, "the socket cannot be made: %s", strerror(errno))
                  : DIA_OK;
}

static enum dia_status open_inlet(struct dia_film *film, struct inlet *inlet)
{
    inlet->listens = inlet->fd = -1;
    snprintf(inlet->path, sizeof inlet->path, "%s", film->path);
    if (strncmp(film->path, SOCKET, strlen(SOCKET)) == 0)
        return make_socket(film, inlet);
    if (strcmp(film->path, "-") != 0)
        inlet->fd = open(film->path, O_RDONLY | O_NONBLOCK | O_CLOEXEC);
    else if (isatty(STDIN_FILENO))
        return dia_film_wrong(film, -1, "is a terminal; pipe a film into it");
    else
        inlet->fd = dup(STDIN_FILENO);
    struct stat about;
    inlet->is_pipe = inlet->fd >= 0 && fstat(inlet->fd, &about) == 0 && S_ISFIFO(about.st_mode);
    return inlet->fd < 0 ? dia_film_wrong(film, -1, "cannot be read: %s", strerror(errno)) : DIA_OK;
}

static void free_inlet(struct inlet *inlet)
{
    if (inlet->listens >= 0) {
        unlink(inlet->path + strlen(SOCKET));
        close(inlet->listens);
    }
    if (inlet->fd >= 0)
        close(inlet->fd);
    pthread_mutex_destroy(&inlet->mutex);
    free(inlet->newest);
    free(inlet);
}

static enum dia_status make_inlet(struct dia_film *film, struct inlet **made)
{
    struct inlet *inlet = calloc(1, sizeof *inlet);
    sigset_t all, was;
    if (!inlet)
        return dia_film_no_memory(film);
    pthread_mutex_init(&inlet->mutex, NULL);
    enum dia_status status = open_inlet(film, inlet);
    sigfillset(&all);
    pthread_sigmask(SIG_BLOCK, &all, &was);
    if (status == DIA_OK && pthread_create(&inlet->thread, NULL, work, inlet) != 0)
        status = dia_film_no_memory(film);
    pthread_sigmask(SIG_SETMASK, &was, NULL);
    if (status != DIA_OK) {
        free_inlet(inlet);
        return status;
    }
    inlet->next = inlets;
    inlets = inlet;
    *made = inlet;
    return DIA_OK;
}

/* Nothing shows until the first frame. */
static enum dia_status begin(struct dia_film *film)
{
    struct inlet *inlet;
    enum dia_status status = DIA_OK;
    film->rate = 1000; /* it is asked anew for each millisecond, */
    film->per = 1;
    film->is_stream = 0; /* and may be asked for any */
    pthread_mutex_lock(&inlets_mutex);
    for (inlet = inlets; inlet && strcmp(inlet->path, film->path) != 0;)
        inlet = inlet->next;
    if (!inlet)
        status = make_inlet(film, &inlet);
    if (status == DIA_OK) {
        inlet->users++;
        film->decoder = inlet;
    }
    pthread_mutex_unlock(&inlets_mutex);
    return status == DIA_OK ? dia_film_size(film, 1, 1) : status;
}

static enum dia_status frame(struct dia_film *film, uint32_t number)
{
    struct inlet *inlet = film->decoder;
    enum dia_status status = DIA_OK;
    (void)number;
    pthread_mutex_lock(&inlet->mutex);
    if (inlet->version) {
        if (inlet->columns != film->columns || inlet->rows != film->rows) {
            free(film->pixels);
            film->pixels = NULL;
            status = dia_film_size(film, inlet->columns, inlet->rows);
        }
        if (status == DIA_OK)
            memcpy(film->pixels, inlet->newest,
                   (size_t)film->columns * film->rows * sizeof *film->pixels);
        film->opaque = inlet->opaque;
    }
    film->trouble = inlet->trouble;
    pthread_mutex_unlock(&inlet->mutex);
    return status;
}

static void end(struct dia_film *film)
{
    struct inlet *inlet = film->decoder, **at = &inlets;
    if (!inlet)
        return;
    pthread_mutex_lock(&inlets_mutex);
    int over = --inlet->users == 0;
    while (over && *at != inlet)
        at = &(*at)->next;
    if (over)
        *at = inlet->next;
    pthread_mutex_unlock(&inlets_mutex);
    if (!over)
        return;
    pthread_mutex_lock(&inlet->mutex);
    inlet->ends = 1;
    pthread_mutex_unlock(&inlet->mutex);
    pthread_join(inlet->thread, NULL);
    free_inlet(inlet);
}

const struct film_format dia_film_inlet = {"inlet", begin, frame, 1, end};
