/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <fcntl.h>
#include <poll.h>
#include <signal.h>
#include <stdlib.h>
#include <string.h>
#include <sys/ioctl.h>
#include <termios.h>
#include <unistd.h>

#include "terminal.h"

static const char enter[] = "\033[?1049h\033[?25l\033[2J";
static const char leave[] = "\033[0m\033[?25h\033[?1049l";

static const char clicks[] = "\033[?1002h\033[?1006h"; /* buttons, drags; places as numbers */
static const char no_clicks[] = "\033[?1006l\033[?1002l";

static int with_clicks;
static int keys = STDIN_FILENO; /* where they come from; standard input may be a pipe */
static struct termios before;
static volatile sig_atomic_t ours; /* the terminal is in our mode */
static volatile sig_atomic_t asked;
static volatile sig_atomic_t cleared;

void terminal_write(const char *text, size_t length)
{
    while (length > 0) {
        ssize_t n = write(STDOUT_FILENO, text, length);
        if (n < 0 && errno != EINTR && errno != EAGAIN)
            return;
        if (n > 0) {
            text += n;
            length -= (size_t)n;
        }
    }
}

static void take_over(void)
{
    struct termios mode = before;
    mode.c_lflag &= ~(tcflag_t)(ICANON | ECHO);
    mode.c_cc[VMIN] = 1;
    mode.c_cc[VTIME] = 0;
    tcsetattr(keys, TCSANOW, &mode);
    ours = 1;
    terminal_write(enter, sizeof enter - 1);
    if (with_clicks)
        terminal_write(clicks, sizeof clicks - 1);
    cleared = 1;
}

/* Safe in a signal handler: write and tcsetattr are. */
void terminal_end(void)
{
    int kept = errno;
    if (ours) {
        ours = 0;
        if (with_clicks)
            terminal_write(no_clicks, sizeof no_clicks - 1);
        terminal_write(leave, sizeof leave - 1);
        tcsetattr(keys, TCSANOW, &before);
    }
    errno = kept;
}

static void asks(int number)
{
    (void)number;
    asked = 1;
}

/* The program dies of this one; the handler is already the default again (SA_RESETHAND). */
static void dies(int number)
{
    terminal_end();
    raise(number);
}

/* Ctrl-Z: give the terminal back, stop, and take it again when going on. */
static void stops(int number)
{
    int kept = errno;
    (void)number;
    terminal_end();
    raise(SIGSTOP);
    take_over();
    errno = kept;
}

static void on(int number, void (*handler)(int), int flags)
{
    struct sigaction action;
    memset(&action, 0, sizeof action);
    action.sa_handler = handler;
    action.sa_flags = flags;
    sigaction(number, &action, NULL);
}

static void changes(int number)
{
    (void)number; /* only to wake poll, so that the new size shows at once */
}

int terminal_begin(void)
{
    static const int deadly[] = {SIGSEGV, SIGABRT, SIGBUS, SIGFPE, SIGILL, SIGQUIT};
    const char *kind = getenv("TERM");
    if (!kind || strcmp(kind, "dumb") == 0) /* knows no cursor */
        return -1;
    if (!isatty(STDOUT_FILENO))
        return -1;
    if (!isatty(STDIN_FILENO))
        keys = open("/dev/tty", O_RDWR | O_CLOEXEC);
    if (keys < 0 || tcgetattr(keys, &before) != 0)
        return -1;
    atexit(terminal_end);
    for (size_t i = 0; i < sizeof deadly / sizeof deadly[0]; i++)
        on(deadly[i], dies, (int)SA_RESETHAND | SA_NODEFER);
    on(SIGINT, asks, 0);
    on(SIGTERM, asks, 0);
    on(SIGHUP, asks, 0);
    on(SIGTSTP, stops, SA_RESTART);
    on(SIGWINCH, changes, 0);
    take_over();
    return 0;
}

void terminal_takes_clicks(void)
{
    with_clicks = 1;
}

int terminal_was_cleared(void)
{
    int was = cleared;
    cleared = 0;
    return was;
}

int terminal_asked_to_end(void)
{
    return asked;
}

void terminal_size(int *columns, int *rows)
{
    struct winsize size;
    *columns = 80;
    *rows = 24;
    if (ioctl(STDOUT_FILENO, TIOCGWINSZ, &size) == 0 && size.ws_col > 0 && size.ws_row > 0) {
        *columns = size.ws_col;
        *rows = size.ws_row;
    }
}

int terminal_key(int ms)
{
    struct pollfd wait = {.fd = keys, .events = POLLIN};
    unsigned char key;
    if (poll(&wait, 1, ms) <= 0)
        return 0;
    ssize_t n = read(keys, &key, 1);
    return n == 1 ? key : n < 0 && errno == EINTR ? 0 : -1;
}

/* The rest of a sequence behind ESC [, up to its last letter: its numbers into n. */
static int sequence(int n[3])
{
    int count = 0, key;
    n[0] = n[1] = n[2] = 0;
    for (int length = 0; length < 32; length++) {
        key = terminal_key(50);
        if (key >= '0' && key <= '9' && count < 3 && n[count] < 10000)
            n[count] = n[count] * 10 + key - '0';
        else if (key == ';' && count < 2)
            count++;
        else if (key <= 0 || (key >= '@' && key <= '~'))
            return key;
    }
    return 0;
}

/* Numbers of the mouse: 0 the left button, 32 more when it moved; then column and row from 1. */
static struct terminal_event mouse(int last, const int n[3])
{
    struct terminal_event event = {TERMINAL_UNKNOWN, 0, n[1] - 1, n[2] - 1};
    if ((n[0] & ~32) != 0)
        return event;
    event.kind = last == 'm' ? TERMINAL_RELEASED : n[0] ? TERMINAL_DRAGGED : TERMINAL_PRESSED;
    return event;
}

struct terminal_event terminal_event(int ms)
{
    struct terminal_event event = {0, 0, 0, 0};
    int n[3];
    event.kind = terminal_key(ms);
    if (event.kind != 27)
        return event;
    int next = terminal_key(50);
    event.kind = next > 0 ? TERMINAL_UNKNOWN : 27;
    if (next != '[' && next != 'O')
        return event;
    int last = sequence(n);
    if (last == 'M' || last == 'm')
        return mouse(last, n);
    if (last >= 'A' && last <= 'D') {
        event.kind = TERMINAL_UP + (last - 'A');
        event.with_shift = n[1] > 1; /* 2: shift, 3: alt, 4: both, ... */
    }
    return event;
}
