/* SPDX-License-Identifier: MIT */
#include "broker.h"
#include "line.h"
#include "witness.h"

#include <cjson/cJSON.h>

/*
 * Many nodes as processes on one machine, with a real broker: $NODES of them (6 unless it says) for
 * $NODES_SECONDS, over a line that loses $NODES_LOSS packets in a hundred (1 unless it says), where
 * TCP waits for $NODES_RTO ms. Each has a strip of its own; what each shows is asked over HTTP.
 */
#define PORT      18832
#define LINE_PORT (PORT + 10) /* what the nodes reach, and carries to the broker */
#define BASE      "house/pier"
#define MOST      200

static struct served served[MOST];
static int many;
static int loses; /* the line loses packets */

static const char show_text[] = "value rings keys up=bell min=0 max=100\n"
                                "layer sea: hue-sweep speed=2m/s\n"
                                "layer flash: steady colour=white blend add level 20%\n"
                                "key bell down: toggle flash\n";

static const char keys_text[] = "layer ground: steady colour=#000000\n"
                                "layer flash: steady colour=#ffffff blend add\n"
                                "key bell down: toggle flash\n";

static const char two[] =
    "rig: Pier\ncontroller: linux\nframe_rate: 50 Hz\nsupplies: { post: { current: 2 A } }\n"
    "live: { mqtt: { broker: \"127.0.0.1:18832\", base: " BASE " } }\nlanes:\n"
    "  l000: { node: n000, pin: 18, chip: WS2812B, count: 10, shifter: 74AHCT125 }\n"
    "  l001: { node: n001, pin: 18, chip: WS2812B, count: 10, shifter: 74AHCT125 }\n"
    "buttons: { bell: { node: n000, pin: 27 } }\n";

static void begin_broker(void)
{
    broker_begins(PORT,
                  "allow_anonymous true\nset_tcp_nodelay true\n"); /* as docs/nodes.md has it */
}

/* Of the environment. */
static unsigned number_from(const char *name, unsigned otherwise)
{
    const char *text = getenv(name);
    return text ? (unsigned)atoi(text) : otherwise;
}

static int begin(void **state)
{
    (void)state;
    char *text = calloc(MOST + 10, 120), *at = text;
    many = (int)number_from("NODES", 6);
    loses = line_of_its_own(PORT, number_from("NODES_LOSS", 1), number_from("NODES_RTO", 0));
    alarm(240 + 3 * number_from("NODES_SECONDS", 0)); /* whatever hangs */
    curl_global_init(CURL_GLOBAL_DEFAULT);
    at += sprintf(at,
                  "rig: Pier\ncontroller: linux\nframe_rate: 50 Hz\n"
                  "supplies: { post: { current: 2 A } }\n"
                  "live: { mqtt: { broker: \"127.0.0.1:%d\", base: " BASE " } }\nlanes:\n",
                  PORT);
    for (int k = 0; k < many; k++)
        at += sprintf(at,
                      "  l%03d: { node: n%03d, pin: 18, chip: WS2812B, count: 10, "
                      "shifter: 74AHCT125 }\n",
                      k, k);
    sprintf(at, "buttons: { bell: { node: n000, pin: 27 } }\n");
    write_file("nodes.rig.yaml", text, strlen(text));
    write_file("nodes.show", show_text, strlen(show_text));
    write_file("keys.show", keys_text, strlen(keys_text));
    write_file("own.show", show_text, strlen(show_text));
    write_file("own.csv", "time,name,value\n0,tide,1\n", 25);
    free(text);
    return 0;
}

static void begin_node(int k)
{
    char words[200];
    snprintf(words, sizeof words, "nodes.rig.yaml --show nodes.show --node n%03d", k);
    serve(&served[k], words);
}

static void end_all(void)
{
    for (int k = 0; k < many; k++) {
        assert_int_equal(ended(&served[k], SIGTERM), 0);
        served[k].pid = 0;
    }
}

/* What a test that failed has left. */
static int clear(void **state)
{
    (void)state;
    for (int k = 0; k < MOST; k++) {
        if (served[k].pid > 0 && kill(served[k].pid, SIGKILL) == 0)
            waitpid(served[k].pid, NULL, 0);
        served[k].pid = 0;
    }
    if (broker > 0 && kill(broker, SIGKILL) == 0)
        waitpid(broker, NULL, 0);
    return 0;
}

static double unix_ms(void)
{
    struct timespec at;
    clock_gettime(CLOCK_REALTIME, &at);
    return (double)at.tv_sec * 1e3 + (double)at.tv_nsec / 1e6;
}

/* What node k says of itself or, when name is given, of another. */
static cJSON *node_of(int k, const char *name)
{
    char own[20];
    cJSON *one, *found = NULL;
    snprintf(own, sizeof own, "n%03d", k);
    assert_int_equal(ask(&served[k], "GET", "/nodes", NULL), 200);
    cJSON *json = cJSON_Parse(answer);
    cJSON_ArrayForEach(one, cJSON_GetObjectItem(json, "nodes"))
    {
        if (strcmp(cJSON_GetObjectItem(one, "name")->valuestring, name ? name : own) == 0)
            found = cJSON_Duplicate(one, 1);
    }
    cJSON_Delete(json);
    assert_non_null(found);
    return found;
}

static double number_of(int k, const char *name, const char *key)
{
    cJSON *node = node_of(k, name);
    const cJSON *number = cJSON_GetObjectItem(node, key);
    double value = cJSON_IsNumber(number) ? number->valuedouble : -1e9;
    cJSON_Delete(node);
    return value;
}

/* Waits until all nodes are in one run and stand alike. */
static void soon_alike(double within_s)
{
    char first[100] = "", own[100];
    for (double until = seconds() + within_s;; rest_ms(100)) {
        int alike = 1;
        for (int k = 0; k < many && alike; k++) {
            cJSON *node = node_of(k, NULL);
            const cJSON *begun = cJSON_GetObjectItem(node, "begun_ms");
            const cJSON *stands = cJSON_GetObjectItem(node, "state");
            snprintf(own, sizeof own, "%.0f %s", begun ? begun->valuedouble : k, /* not yet told */
                     stands ? stands->valuestring : "");
            alike = k == 0 || strcmp(own, first) == 0;
            if (k == 0)
                strcpy(first, own);
            if (!alike && seconds() > until)
                fail_msg("n%03d: %s; n000: %s\n%s", k, own, first, served[k].log);
            cJSON_Delete(node);
        }
        if (alike)
            return;
    }
}

/* The same by the list of one, so that not every node hears what every other says of itself: for
 * what is measured next. */
static void soon_all_there(double within_s)
{
    const cJSON *one;
    for (double until = seconds() + within_s;; rest_ms(200)) {
        int alike = 0;
        assert_int_equal(ask(&served[0], "GET", "/nodes", NULL), 200);
        cJSON *json = cJSON_Parse(answer);
        const cJSON *nodes = cJSON_GetObjectItem(json, "nodes"), *first = nodes->child;
        cJSON_ArrayForEach(one, nodes)
        {
            alike += cJSON_IsTrue(cJSON_GetObjectItem(one, "online")) &&
                     cJSON_Compare(cJSON_GetObjectItem(one, "begun_ms"),
                                   cJSON_GetObjectItem(first, "begun_ms"), 1) &&
                     cJSON_Compare(cJSON_GetObjectItem(one, "state"),
                                   cJSON_GetObjectItem(first, "state"), 1);
        }
        cJSON_Delete(json);
        if (alike == many)
            return;
        if (seconds() > until)
            fail_msg("%d of %d nodes are there and alike", alike, many);
    }
}

static void begin_all(void)
{
    for (int k = 0; k < many; k++)
        begin_node(k);
    soon_alike(20);
}

/* Whether the show of node k has a text; soon: within some seconds. */
static int has(int k, const char *text)
{
    assert_int_equal(ask(&served[k], "GET", "/show", NULL), 200);
    return strstr(answer, text) != NULL;
}

static void soon_has(int k, const char *text, double within_s)
{
    for (double until = seconds() + within_s; !has(k, text); rest_ms(20)) {
        if (seconds() > until) {
            logged(&served[k], "\1"); /* all that it has said */
            fail_msg("n%03d has no '%s': %s\n%s", k, text, answer, served[k].log);
        }
    }
}

static void rings_are(int k, int count)
{
    char text[40];
    snprintf(text, sizeof text, "\"rings\":\"%d\"", count);
    for (double until = seconds() + 10;; rest_ms(50)) {
        assert_int_equal(ask(&served[k], "GET", "/status", NULL), 200);
        if (strstr(answer, text))
            return;
        if (seconds() > until)
            fail_msg("n%03d has not %s: %s", k, text, answer);
    }
}

/* The number of the frame of the run that is the first with what node k shows now. */
static uint32_t frame_of(int k)
{
    uint32_t frame = 0;
    assert_int_equal(ask(&served[k], "GET", "/frame", NULL), 200);
    for (int b = 0; b < 4; b++)
        frame |= (uint32_t)(uint8_t)answer[4 + b] << 8 * b;
    return frame;
}

/* Whether node k shows the frame of the slot that the clock says, or its neighbour. What it shows
 * was read at some moment between the question and the answer. */
static int is_in_step(int k, double begun_ms)
{
    int64_t first = (int64_t)((unix_ms() - begun_ms) / 20);
    uint32_t frame = frame_of(k);
    int64_t last = (int64_t)((unix_ms() - begun_ms) / 20);
    return frame >= first - 1 && frame <= last + 1;
}

/* ---- a bad line ------------------------------------------------------------------------------ */

static pid_t line_begins(void)
{
    struct sockaddr_in at = {.sin_family = AF_INET, .sin_port = htons(LINE_PORT)};
    int fd = socket(AF_INET, SOCK_STREAM, 0), one = 1;
    setsockopt(fd, SOL_SOCKET, SO_REUSEADDR, &one, sizeof one);
    inet_pton(AF_INET, "127.0.0.1", &at.sin_addr);
    assert_int_equal(bind(fd, (struct sockaddr *)&at, sizeof at), 0);
    assert_int_equal(listen(fd, MOST), 0);
    pid_t pid = fork();
    if (pid == 0) {
        prctl(PR_SET_PDEATHSIG, SIGKILL);
        line_carries(fd, PORT);
    }
    close(fd);
    return pid;
}

/* ---- one picture ----------------------------------------------------------------------------- */

/* Waits until the first pixel of a node's strip is white, as nothing else there is. */
static void soon_white(int k)
{
    uint32_t first = 0;
    for (double until = seconds() + 10;; rest_ms(2)) {
        assert_int_equal(ask(&served[k], "GET", "/frame", NULL), 200);
        memcpy(&first, answer + 8, 3);
        if ((uint8_t)answer[8] > 250 && (uint8_t)answer[9] > 250 && (uint8_t)answer[10] > 250)
            return;
        if (seconds() > until) {
            logged(&served[k], "\1"); /* all that it has said */
            has(k, "");
            fail_msg("n%03d does not show it, but %06x of: %s\n%s", k, (unsigned)first, answer,
                     served[k].log);
        }
    }
}

static int by_size(const void *a, const void *b)
{
    double x = *(const double *)a, y = *(const double *)b;
    return x < y ? -1 : x > y;
}

/* A node that is killed and comes again is right within two seconds. */
static double comes_again(int k, const char *words, const char *text)
{
    kill(served[k].pid, SIGKILL);
    waitpid(served[k].pid, NULL, 0);
    close(served[k].log_fd);
    serve(&served[k], words);
    double begin = seconds();
    soon_has(k, text, 15);
    return seconds() - begin;
}

/* Broker, line and all nodes, with clocks that are up to a millisecond off. */
static pid_t begin_over_the_line(const char *show)
{
    char words[120], error[8];
    begin_broker();
    pid_t bad_line = line_begins();
    for (int k = 0; k < many; k++) {
        snprintf(words, sizeof words, "nodes.rig.yaml --show %s --node n%03d --mqtt 127.0.0.1:%d",
                 show, k, LINE_PORT);
        snprintf(error, sizeof error, "%.1f", k % 21 / 10.0 - 1);
        setenv("DIACHROME_CLOCK_ERROR", error, 1);
        serve(&served[k], words);
    }
    unsetenv("DIACHROME_CLOCK_ERROR");
    soon_all_there(30);
    return bad_line;
}

/* A key that is pressed at one is soon seen at all of them. Nothing else moves there, so each can
 * be asked later in which frame it was. */
static void nodes_show_a_key_press(void **state)
{
    (void)state;
    static double took[100000];
    unsigned presses = number_from("NODES_SECONDS", 5);
    quiet_begins();
    pid_t bad_line = begin_over_the_line("keys.show");
    double begun_ms = number_of(0, NULL, "begun_ms");
    int n = 0;
    for (unsigned press = 0; press < presses; press++) {
        int lit = press % 2 == 0 ? 255 : 0;
        double pressed_ms = unix_ms(), last_ms = 0;
        change(&served[press * 7 % (unsigned)many], "press bell for 40ms");
        rest_ms(many > 20 ? 600 : 300);
        for (int k = 0; k < many; k++) {
            uint32_t frame = frame_of(k);
            for (double until = seconds() + 10; (uint8_t)answer[8] != lit; frame = frame_of(k)) {
                if (seconds() > until)
                    fail_msg("n%03d does not show press %u", k, press);
            }
            double ms = begun_ms + frame * 20.0 - pressed_ms;
            last_ms = ms > last_ms ? ms : last_ms;
        }
        took[n++] = last_ms;
    }
    qsort(took, (size_t)n, sizeof took[0], by_size);
    print_message("%d nodes: of %d key presses half are at all of them within %.0f ms, nine in ten "
                  "within %.0f, all within %.0f; %ld packets were lost\n",
                  many, n, took[n / 2], took[n * 9 / 10], took[n - 1], loses ? line_has_lost() : 0);
    end_all();
    kill(bad_line, SIGKILL);
    waitpid(bad_line, NULL, 0);
    broker_ends(SIGTERM);
    if (quiet_ends()) /* of many packets the same may be lost twice: docs/nodes.md */
        assert_true(took[many > 20 ? n * 9 / 10 : n - 1] < 100);
}

/* All show the frame of the same slot, or its neighbour; a change of one is soon that of all; over
 * a line that loses packets, with clocks that are up to a millisecond off, and nodes that die. */
static void nodes_show_one_picture(void **state)
{
    (void)state;
    static double took[100000];
    int in_step = 0, looked = 0, rounds = 0;
    char line[60], words[120];
    double again = 0, until;
    pid_t bad_line = begin_over_the_line("nodes.show");
    quiet_begins();
    double begun_ms = number_of(0, NULL, "begun_ms");
    until = seconds() + number_from("NODES_SECONDS", 4);
    for (; (seconds() < until || rounds < 5) && rounds < 100000; rounds++) {
        int makes = rounds % many, other = (rounds * 7 + 3) % many;
        for (int k = 0; k < 20; k++) {
            in_step += is_in_step((rounds * 20 + k) % many, begun_ms);
            looked++;
        }
        snprintf(line, sizeof line, "paint l%03d[0] #ffffff", other);
        change(&served[makes], line);
        double begin = seconds();
        soon_white(other);
        took[rounds] = (seconds() - begin) * 1e3;
        snprintf(line, sizeof line, "paint l%03d[0] none", other);
        change(&served[makes], line);
        snprintf(line, sizeof line, "set sea.turns=%d", rounds % 90 + 1);
        change(&served[makes], line);
        snprintf(line, sizeof line, "turns=%d\n", rounds % 90 + 1);
        if (rounds % 50 == 4) {
            snprintf(words, sizeof words,
                     "nodes.rig.yaml --show nodes.show --node n%03d --mqtt 127.0.0.1:%d", other,
                     LINE_PORT);
            double s = comes_again(other, words, line);
            again = s > again ? s : again;
        }
    }
    qsort(took, (size_t)rounds, sizeof took[0], by_size);
    print_message(
        "%d nodes: %d of %d frames in step; of %d changes half are at another node within "
        "%.0f ms, nine in ten within %.0f, all within %.0f; one that was killed is right after "
        "%.1f s; %ld packets were lost\n",
        many, in_step, looked, rounds, took[rounds / 2], took[rounds * 9 / 10], took[rounds - 1],
        again, loses ? line_has_lost() : 0);
    int quiet = quiet_ends();
    assert_true(in_step >= looked * (quiet ? 0.99 : 0.7));
    assert_true(took[rounds / 2] < (quiet ? 100 : 1000));
    if (quiet && many <= 20) /* what is lost is there before TCP would miss it by itself, 200 ms */
        assert_true(took[rounds - 1] < 100);
    assert_true(again < (quiet ? 2 : 15));
    soon_alike(15);
    end_all();
    kill(bad_line, SIGKILL);
    waitpid(bad_line, NULL, 0);
    broker_ends(SIGTERM);
}

/* The broker dies and has forgotten all; the nodes go on by themselves, and what was changed at
 * each is there at all of them in the end. A node that is killed comes back into the same run. */
static void nodes_part_and_meet_again(void **state)
{
    (void)state;
    begin_broker();
    begin_all();
    double begun_ms = number_of(0, NULL, "begun_ms");
    change(&served[0], "press bell for 40ms");
    for (int k = 0; k < many; k++)
        rings_are(k, 1);
    broker_ends(SIGKILL);
    assert_non_null(logged(&served[1], "broker-lost"));
    change(&served[0], "press bell for 40ms");
    change(&served[1], "paint l001 gold");
    rest_ms(50); /* changes of one frame would have either order */
    change(&served[2], "set sea.turns=7");
    change(&served[2], "set sea.speed=3m/s");
    rings_are(0, 2);
    rings_are(1, 1); /* which cannot know */
    begin_broker();
    for (int k = 0; k < many; k++) {
        rings_are(k, 2);
        soon_has(k, "layer paint-l001: steady colour=gold", 15);
        soon_has(k, "layer sea: hue-sweep speed=3m/s turns=7\n", 15);
    }
    soon_alike(15);
    change(&served[3], "undo"); /* of what another changed, */
    for (int k = 0; k < many; k++)
        soon_has(k, "layer sea: hue-sweep speed=2m/s turns=7\n", 15);
    change(&served[4], "undo"); /* and one before it, with steps that others have made */
    change(&served[4], "paint l002 red");
    for (int k = 0; k < many; k++) {
        soon_has(k, "layer paint-l002", 15);
        assert_true(!has(k, "turns=7") && has(k, "gold")); /* which came before it */
    }
    change(&served[5], "undo");
    change(&served[5], "paint l003 red");
    for (int k = 0; k < many; k++) {
        soon_has(k, "layer paint-l003", 15);
        assert_true(has(k, "gold") && !has(k, "paint-l002"));
    }
    /* one that is killed has missed something */
    kill(served[1].pid, SIGKILL);
    waitpid(served[1].pid, NULL, 0);
    close(served[1].log_fd);
    change(&served[0], "press bell for 40ms");
    change(&served[many - 1], "master 30%");
    quiet_begins();
    begin_node(1);
    double begin = seconds();
    soon_has(1, "layer paint-l001: steady colour=gold", 15);
    if (quiet_ends())
        assert_true(seconds() - begin < 2);
    rings_are(1, 3);
    soon_alike(15);
    assert_true(number_of(1, NULL, "begun_ms") == begun_ms);
    /* two that begin alone begin two runs; when they meet the older one goes on */
    end_all();
    broker_ends(SIGTERM);
    begin_node(0);
    rest_ms(300);
    for (int k = 1; k < many; k++)
        begin_node(k);
    change(&served[0], "press bell for 40ms");
    change(&served[1], "paint l001 red");
    begun_ms = number_of(0, NULL, "begun_ms");
    assert_true(number_of(1, NULL, "begun_ms") > begun_ms);
    begin_broker();
    soon_alike(15);
    assert_true(number_of(1, NULL, "begun_ms") == begun_ms);
    for (int k = 0; k < many; k++) {
        rings_are(k, 1);
        soon_has(k, "layer paint-l001: steady colour=red", 5);
    }
    end_all();
    broker_ends(SIGTERM);
}

static int kept_changes(void)
{
    int n = 0;
    run("timeout 5 mosquitto_sub -h 127.0.0.1 -p %d -W 1 -v -t '" BASE "/run/change/#' 2>/dev/null",
        PORT);
    for (const char *at = output; (at = strstr(at, "/run/change/")) != NULL; at++)
        n++;
    return n;
}

/* Many changes become the state of the run, and are kept no more; who comes then has all of it. */
static void changes_become_the_state(void **state)
{
    (void)state;
    char line[60];
    int all = many;
    begin_broker();
    many = 4;
    for (int k = 0; k < 3; k++)
        begin_node(k);
    for (int k = 0; k < 80; k++) {
        snprintf(line, sizeof line, k % 2 ? "press bell for 40ms" : "paint l00%d #%06x", k % 3,
                 k * 1000);
        change(&served[k % 3], line);
    }
    assert_in_range(kept_changes(), 80, 80);
    for (double until = seconds() + 30; kept_changes() > 0;) {
        if (seconds() > until)
            fail_msg("%d changes are kept; log:\n%s", kept_changes(), served[0].log);
    }
    run("timeout 5 mosquitto_sub -h 127.0.0.1 -p %d -C 1 -W 3 -t " BASE "/run/state", PORT);
    says("run 1\nbegun ");
    says("\nseen ");
    says("\nshow \"value rings keys");
    begin_node(3);
    soon_alike(10);
    rings_are(3, 40);
    assert_int_equal(number_of(3, NULL, "changes"), 0);
    end_all();
    broker_ends(SIGTERM);
    many = all;
}

/* What node k hears of another comes so late, but for the time that a message takes. */
static void soon_behind(int k, const char *name, double ms)
{
    double found = -1e9;
    for (double until = seconds() + 20; found < ms - 1 || found > ms + 100; rest_ms(200)) {
        if (seconds() > until)
            fail_msg("n%03d: %s is %.1f ms behind", k, name, found);
        found = number_of(k, name, "behind_ms");
    }
}

/* A clock that is off is seen by others; its changes are in order all the same. */
static void clocks_that_are_off_are_told(void **state)
{
    (void)state;
    int all = many;
    begin_broker();
    many = 3;
    begin_node(0);
    setenv("DIACHROME_CLOCK_ERROR", "-1", 1);
    begin_node(1);
    setenv("DIACHROME_CLOCK_ERROR", "3000", 1);
    begin_node(2);
    unsetenv("DIACHROME_CLOCK_ERROR");
    soon_behind(0, "n002", -3000);
    soon_behind(0, "n001", 1);
    soon_behind(2, "n000", 3000);
    change(&served[2], "master 20%"); /* which is 3 s ahead of the others, */
    assert_non_null(logged(&served[0], "change-ahead from="));
    change(&served[0], "master 40%"); /* and this before it */
    for (int k = 0; k < 3; k++) {
        for (double until = seconds() + 10;; rest_ms(100)) {
            assert_int_equal(ask(&served[k], "GET", "/state", NULL), 200);
            if (strstr(answer, "\"master\":20,"))
                break;
            if (seconds() > until)
                fail_msg("n%03d: %.300s", k, answer);
        }
    }
    soon_alike(10);
    end_all();
    broker_ends(SIGTERM);
    many = all;
}

#define SEND "mosquitto_pub -h 127.0.0.1 -p 18832 -q 1 -r -t " BASE "/run/"

/* Anybody who may write to the broker can write anything: it is refused, and names no file. */
static void strange_runs_are_refused(void **state)
{
    (void)state;
    static const struct {
        const char *words, *says;
    } strange[] = {
        {"state -m nonsense", "it is no state of a run"},
        {"state -m 'run 1\nbegun 5\nuntil 4\nby 00000000\nshow \"layer steady\\n\"\n'", NULL},
        {"state -m 'run 1\nbegun 1\nuntil 99999999999999\nby 00000000\nshow \"layer steady\\n\"\n'",
         "the clock of a node is wrong"},
        {"state -m 'run 1\nbegun 1\nuntil 2\nby 00000000\nshow \"layer stedy\\n\"\n'",
         "unknown look 'stedy'"},
        {"state -m 'run 1\nbegun 1\nuntil 2\nby 00000000\nshow \"value t csv file=/etc/passwd\"\n'",
         "names a file that the show does not name"},
        {"state -n", NULL},
        {"change/00000001-1 -m 'sooner or later'", NULL},
        {"change/00000001-0 -m '1795770000123 master 1%'", NULL},
        {"change/0000000-1 -m '1795770000123 master 1%'", NULL},
        {"change/00000001-2 -m '-5 master 1%'", NULL},
        {"change/ -m '1795770000123 master 1%'", NULL},
    };
    static const char own[] = "value tide csv file=own.csv\nlayer steady\n";
    int all = many;
    quiet_begins();
    begin_broker();
    many = 2;
    serve(&served[0], "nodes.rig.yaml --show own.show --node n000");
    begin_node(1);
    soon_alike(15);
    change(&served[0], "paint l001 gold");
    for (size_t k = 0; k < sizeof strange / sizeof strange[0]; k++) {
        assert_int_equal(run(SEND "%s", strange[k].words), 0);
        if (strange[k].says) /* before the next: of two that wait for a frame the newer counts */
            assert_non_null(logged(&served[1], strange[k].says));
        else
            rest_ms(60);
    }
    /* a flood of it does not touch the light */
    assert_int_equal(run("yes 'run 1 and more of it' | head -20000 | mosquitto_pub -h 127.0.0.1 -p "
                         "18832 -q 0 -l -t " BASE "/run/state"),
                     0);
    for (int k = 0; k < 2; k++)
        soon_has(k, "layer paint-l001: steady colour=gold", 5);
    int late = (int)number_of(1, NULL, "late"), quiet = quiet_ends();
    assert_in_range(late, 0, (quiet ? 25 : 1000) + 2 * witness.missed);
    assert_true(strlen(served[1].log) < 8000);
    /* a file that one node's owner brings in is refused by the others, which say so */
    write_file("own.show", own, strlen(own));
    assert_non_null(logged(&served[0], "read-again result=taken"));
    assert_non_null(logged(&served[1], "change-refused from="));
    assert_null(strstr(served[1].log, "change-ahead")); /* -5 is no time */
    write_file("own.show", show_text, strlen(show_text));
    soon_alike(15);
    for (int k = 0; k < 2; k++)
        soon_has(k, "layer sea: hue-sweep", 10);
    end_all();
    /* what is wrong with the command line */
    assert_int_equal(run("timeout 10 $D serve nodes.rig.yaml --node n00"), 2);
    says("there is no node 'n00'; did you mean 'n000'?");
    assert_int_equal(run("timeout 10 $D serve nodes.rig.yaml --real"), 2);
    says("--real drives the parts of one node; say which with --node, such as --node n000");
    assert_int_equal(run("timeout 10 $D run nodes.rig.yaml"), 2);
    says("the rig is driven by 6 nodes; say which with --node, such as --node n000");
    broker_ends(SIGTERM);
    many = all;
}

/* Without --node a process shows all nodes at once: it follows their run, changes it as they do,
 * and is none of those that are expected. */
static void the_whole_is_shown_beside_its_nodes(void **state)
{
    (void)state;
    int all = many, desk = 2;
    static uint8_t at_node[64], at_desk[256];
    many = 2;
    write_file("two.rig.yaml", two, sizeof two - 1);
    begin_broker();
    for (int k = 0; k < 2; k++) {
        char words[100];
        snprintf(words, sizeof words, "two.rig.yaml --show nodes.show --node n%03d", k);
        serve(&served[k], words);
    }
    soon_alike(20);
    change(&served[0], "paint l000[3] #102030");
    serve(&served[desk], "two.rig.yaml --show nodes.show");
    many = 3;                      /* now it is waited for and ended with the others */
    soon_has(desk, "l000[3]", 15); /* what was changed before it came */
    /* the first list that is asked for is whole; it waits a moment, and leaves a body alone */
    assert_int_equal(ask(&served[desk], "GET", "/nodes", "of no use"), 200);
    assert_null(strstr(answer, "\"online\":false"));
    for (int k = 0; k < 2; k++) {
        char name[20];
        snprintf(name, sizeof name, "n%03d", k);
        cJSON *there = node_of(desk, name);
        assert_true(cJSON_IsTrue(cJSON_GetObjectItem(there, "online")));
        assert_true(cJSON_HasObjectItem(there, "state"));
        cJSON_Delete(there);
    }
    change(&served[desk], "paint l001[7] #ff0000");
    soon_has(1, "l001[7]", 10);
    change(&served[0], "pause"); /* what stands still can be compared */
    for (double until = seconds() + 10;; rest_ms(50)) {
        int alike = 1;
        assert_int_equal(ask(&served[desk], "GET", "/frame", NULL), 200);
        memcpy(at_desk, answer + 8, 60);
        for (int k = 0; k < 2; k++) {
            assert_int_equal(ask(&served[k], "GET", "/frame", NULL), 200);
            memcpy(at_node, answer + 8, 30);
            alike = alike && memcmp(at_node, at_desk + 30 * k, 30) == 0;
        }
        if (alike)
            break;
        if (seconds() > until)
            fail_msg("what the whole shows is not what its nodes show");
    }
    assert_true(at_desk[30 + 3 * 7] > 200); /* the pixel that was painted */
    assert_int_equal(ask(&served[desk], "GET", "/state", NULL), 200);
    assert_non_null(strstr(answer, "\"node\":\"_whole\""));
    assert_int_equal(ask(&served[desk], "GET", "/status", NULL), 200);
    assert_non_null(strstr(answer, "\"most_a\":4,")); /* two supplies of 2 A */
    cJSON *node = node_of(0, "_whole");
    assert_true(cJSON_IsTrue(cJSON_GetObjectItem(node, "online")));
    cJSON_Delete(node);
    end_all();
    broker_ends(SIGTERM);
    many = all;
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test_teardown(nodes_show_one_picture, clear),
        cmocka_unit_test_teardown(nodes_show_a_key_press, clear),
        cmocka_unit_test_teardown(nodes_part_and_meet_again, clear),
        cmocka_unit_test_teardown(changes_become_the_state, clear),
        cmocka_unit_test_teardown(clocks_that_are_off_are_told, clear),
        cmocka_unit_test_teardown(strange_runs_are_refused, clear),
        cmocka_unit_test_teardown(the_whole_is_shown_beside_its_nodes, clear),
    };
    if (getenv("NODES_SECONDS")) /* many of them, for long */
        cmocka_set_test_filter("nodes_show_*");
    return cmocka_run_group_tests(tests, begin, NULL);
}
