/* SPDX-License-Identifier: MIT */
#include "served.h"
#include "witness.h"

#include <sys/stat.h>
#include <sys/un.h>

/* Pictures that come in while it runs: by a socket, a named pipe, standard input. */

/* Four by two pixels, row after row, so pixel k of the wire is pixel k of a frame. */
static const char rig_text[] =
    "controller: RP2040\n"
    "frame_rate: 50 Hz\n"
    "supplies:\n  usb: { current: 4 A }\n"
    "lanes:\n  wall: { pin: 17, chip: WS2812B, count: 8, dithering: none, "
    "grid: { columns: 4, rows: 2, pitch: 10 mm } }\n";

static int begin(void **state)
{
    (void)state;
    alarm(100); /* whatever hangs */
    curl_global_init(CURL_GLOBAL_DEFAULT);
    write_file("wall.rig.yaml", rig_text, strlen(rig_text));
    return system("rm -f frames.pipe frames.socket");
}

static void show_of(const char *file)
{
    char text[200];
    int n =
        snprintf(text, sizeof text, "layer film: picture file=%s scale=stretch on wall\n", file);
    write_file("wall.show", text, (size_t)n);
}

#define WALL "wall.rig.yaml --show wall.show"

/* Red, green and blue of a pixel are so, soon. */
static int is_soon(const struct served *served, size_t pixel, int r, int g, int b)
{
    double until = seconds() + 2;
    const uint8_t *at = (const uint8_t *)answer + 8 + 3 * pixel;
    do {
        assert_int_equal(ask(served, "GET", "/frame", NULL), 200);
    } while ((at[0] != r || at[1] != g || at[2] != b) && seconds() < until);
    return at[0] == r && at[1] == g && at[2] == b;
}

static int reach_socket(void)
{
    struct sockaddr_un to = {.sun_family = AF_UNIX, .sun_path = "frames.socket"};
    int fd = socket(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0);
    assert_int_equal(connect(fd, (struct sockaddr *)&to, sizeof to), 0);
    return fd;
}

/* A raw frame of one colour. */
static void send_frame(int fd, uint8_t r, uint8_t g, uint8_t b)
{
    uint8_t frame[24];
    for (int k = 0; k < 24; k += 3) {
        frame[k] = r;
        frame[k + 1] = g;
        frame[k + 2] = b;
    }
    put_all(fd, frame, sizeof frame);
}

static const char painter[] = "printf 'RGB 4 2\\n'\n"
                              "for k in 1 2 3 4 5 6 7 8; do printf '\\000\\377\\377'; done\n";

/* Seconds of a processor that a process has had so far. */
static double cpu_of(pid_t pid)
{
    char path[40];
    unsigned long user = 0, system = 0;
    snprintf(path, sizeof path, "/proc/%d/stat", (int)pid);
    FILE *file = fopen(path, "r");
    assert_non_null(file); /* the name is in brackets, and has no space */
    assert_int_equal(
        fscanf(file, "%*d %*s %*c %*d %*d %*d %*d %*d %*u %*u %*u %*u %*u %lu %lu", &user, &system),
        2);
    fclose(file);
    return (double)(user + system) / (double)sysconf(_SC_CLK_TCK);
}

/* The number behind a word of /status. */
static double status_of(const struct served *served, const char *word)
{
    assert_int_equal(ask(served, "GET", "/status", NULL), 200);
    const char *at = strstr(answer, word);
    assert_non_null(at);
    return strtod(at + strlen(word), NULL);
}

static void the_newest_frame_of_a_socket_shows(void **state)
{
    (void)state;
    struct served served;
    struct stat about;
    show_of("unix:frames.socket");
    quiet_begins();
    serve(&served, WALL);
    assert_true(is_soon(&served, 0, 0, 0, 0)); /* nobody has sent anything */
    assert_int_equal(stat("frames.socket", &about), 0);
    assert_int_equal(about.st_mode & 0777, 0600); /* nobody else may */
    int fd = reach_socket();
    put_all(fd, "RGB 4 2\n", 8);
    send_frame(fd, 255, 0, 0);
    assert_true(is_soon(&served, 7, 255, 0, 0));
    for (int k = 0; k < 20000; k++) /* far more than can show: those between are left out */
        send_frame(fd, 0, (uint8_t)k, 255);
    send_frame(fd, 0, 255, 0);
    assert_true(is_soon(&served, 0, 0, 255, 0));
    change(&served, "layer over: steady colour=blue on wall[0]"); /* the show is read again */
    send_frame(fd, 0, 0, 255);
    send_frame(fd, 255, 255, 0);
    assert_true(is_soon(&served, 0, 0, 0, 255) && is_soon(&served, 1, 255, 255, 0));
    change(&served, "undo");
    put_all(fd, "\xff\xff", 2); /* half a frame, and then nothing more: nobody waits for it */
    rest_ms(300);
    assert_true(is_soon(&served, 0, 255, 255, 0));
    int another = reach_socket(); /* takes its place */
    put_all(another, "P6 2 1 255\n\xff\x00\xff\x00\xff\xff", 17);
    assert_true(is_soon(&served, 0, 255, 0, 255) && is_soon(&served, 7, 0, 255, 255));
    close(another);
    close(fd);
    /* by the shell, as the docs have it; who has ended is left, and costs nothing from then on */
    write_file("blue.sh", painter, sizeof painter - 1);
    assert_int_equal(run("sh blue.sh | timeout 5 nc -N -U frames.socket"), 0);
    assert_true(is_soon(&served, 0, 0, 255, 255) && is_soon(&served, 7, 0, 255, 255));
    double spent = cpu_of(served.pid);
    rest_ms(1000);
    assert_true(cpu_of(served.pid) - spent < 0.5);
    another = reach_socket();
    put_all(another, "P6 1 1 255\n\xff\x00\xff", 14);
    assert_true(is_soon(&served, 0, 255, 0, 255));
    close(another);
    another = reach_socket(); /* no pictures: the old one stays, and it is said */
    put_all(another, "hello", 5);
    close(another);
    assert_non_null(logged(&served, "event=stream-refused reason=\"unix:frames.socket: brings no "
                                    "pictures"));
    assert_true(is_soon(&served, 0, 255, 0, 255));
    int late = (int)status_of(&served, "\"late\":"), quiet = quiet_ends();
    assert_in_range(late, 0, (quiet ? 15 : 100) + 2 * witness.missed); /* of some 150 */
    assert_int_equal(ended(&served, SIGTERM), 0);
    const char *refused = strstr(served.log, "stream-refused"); /* that one, and nobody else */
    assert_null(strstr(refused + 1, "stream-refused"));
    assert_int_equal(stat("frames.socket", &about), -1); /* it is gone with its owner */
}

/* Ten flashes a second come in; three go out. */
static void what_flashes_too_often_is_held_back(void **state)
{
    (void)state;
    struct served served;
    show_of("unix:frames.socket");
    serve(&served, WALL " --flashes 3");
    int fd = reach_socket();
    put_all(fd, "RGB 4 2\n", 8);
    for (int k = 0; k < 40; k++) {
        uint8_t code = k % 2 ? 255 : 0;
        send_frame(fd, code, code, code);
        rest_ms(50);
    }
    assert_non_null(logged(&served, "event=flashing-held-back most=3"));
    assert_int_equal(ask(&served, "GET", "/status", NULL), 200);
    assert_non_null(strstr(answer, "it would flash more than 3 times in a second"));
    rest_ms(1100); /* what stays so shows in the end */
    send_frame(fd, 128, 128, 128);
    assert_true(is_soon(&served, 0, 128, 128, 128));
    close(fd);
    assert_int_equal(ended(&served, SIGTERM), 0);
}

/* BT.601: 235 128 128 is white, 16 128 128 black. */
static void a_pipe_brings_films_one_after_the_other(void **state)
{
    (void)state;
    struct served served;
    uint8_t planes[12];
    assert_int_equal(mkfifo("frames.pipe", 0600), 0);
    show_of("frames.pipe");
    serve(&served, WALL);
    assert_true(is_soon(&served, 0, 0, 0, 0));
    int fd = open("frames.pipe", O_WRONLY);
    const char head[] = "YUV4MPEG2 W4 H2 F25:1 C420\n";
    assert_int_equal(write(fd, head, sizeof head - 1), sizeof head - 1);
    for (int k = 0; k < 2; k++) {
        memset(planes, k ? 235 : 16, 8);
        memset(planes + 8, 128, 4);
        assert_int_equal(write(fd, "FRAME\n", 6), 6);
        assert_int_equal(write(fd, planes, sizeof planes), sizeof planes);
    }
    assert_true(is_soon(&served, 3, 255, 255, 255));
    close(fd);
    rest_ms(300); /* the last one stays */
    assert_true(is_soon(&served, 3, 255, 255, 255));
    fd = open("frames.pipe", O_WRONLY);
    assert_int_equal(write(fd, "P6 1 1 255\n\x00\xff\x00", 14), 14);
    assert_true(is_soon(&served, 3, 0, 255, 0));
    close(fd);
    assert_int_equal(ended(&served, SIGTERM), 0);
}

/* Then no changes come from there. */
static void standard_input_brings_a_film(void **state)
{
    (void)state;
    show_of("-");
    assert_int_equal(
        run("(printf 'RGB 1 1\\n\\377\\200\\100'; sleep 1) | timeout -s TERM 2 $D serve "
            "wall.rig.yaml --show wall.show --listen 127.0.0.1:8497 2>said & sleep 1; "
            "curl -s http://127.0.0.1:8497/frame | tail -c 24 | od -An -tx1 -w3; wait"),
        0);
    says(" ff 80 40\n*\n");
    run("cat said");
    assert_null(strstr(output, "refused"));
}

static void what_is_rendered_has_no_sockets(void **state)
{
    (void)state;
    show_of("unix:frames.socket");
    assert_int_equal(run("$D render wall.rig.yaml --show wall.show --out a.png"), 2);
    says("unix:frames.socket: frames come in by a socket while run or serve plays");
    write_file("frames.socket", "", 0); /* a file of somebody else stays */
    assert_int_equal(run("$D serve wall.rig.yaml --show wall.show --listen 127.0.0.1:0"), 2);
    says("unix:frames.socket: is there, and is no socket");
    remove("frames.socket");
    show_of("unix:");
    assert_int_equal(run("$D serve wall.rig.yaml --show wall.show --listen 127.0.0.1:0"), 2);
    says("the path of a socket has 1 to 107 bytes");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test_setup(the_newest_frame_of_a_socket_shows, begin),
        cmocka_unit_test_setup(what_flashes_too_often_is_held_back, begin),
        cmocka_unit_test_setup(a_pipe_brings_films_one_after_the_other, begin),
        cmocka_unit_test_setup(standard_input_brings_a_film, begin),
        cmocka_unit_test_setup(what_is_rendered_has_no_sockets, begin),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
