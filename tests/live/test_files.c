/* SPDX-License-Identifier: MIT */
#include "broker.h"

#include <sys/stat.h>

/*
 * Files over the broker: a desk that sends what is in its folder, nodes that take it into theirs.
 */
#define PORT   18835
#define CLIENT "-h 127.0.0.1 -p 18835 -q 1"
#define RUN    "house/pier/run"

static struct served desk, west, east;

static const char rig_text[] =
    "rig: Pier\ncontroller: linux\nframe_rate: 50 Hz\nsupplies: { post: { current: 2 A } }\n"
    "live: { mqtt: { broker: \"127.0.0.1:18835\", base: house/pier, password_file: secret } }\n"
    "lanes:\n"
    "  l-west: { node: west, pin: 18, chip: WS2812B, count: 10, shifter: 74AHCT125, "
    "line: { pitch: 10 mm } }\n"
    "  l-east: { node: east, pin: 18, chip: WS2812B, count: 10, shifter: 74AHCT125, "
    "line: { pitch: 10 mm } }\n";
static const char show_text[] = "layer sea: steady colour=white\n";
static const char birds[] =
    "drawings birds.drawings\nlayer a: draw sprite gull x=0mm y=0mm on l-west\n"
    "layer b: draw sprite gull x=0mm y=0mm on l-east\n";
static const char gull[] = "drawing gull\n#.#\n", tern[] = "drawing gull\n###\n";

static void write_in(const char *folder, const char *name, const char *text)
{
    char path[100];
    snprintf(path, sizeof path, "%s/%s", folder, name);
    write_file(path, text, strlen(text));
}

static int begin(void **state)
{
    (void)state;
    alarm(150);
    curl_global_init(CURL_GLOBAL_DEFAULT);
    return 0;
}

/* Three folders that are alike, and a broker that has nothing. */
static int begin_one(void **state)
{
    static const char *const folders[] = {"desk", "west", "east"};
    (void)state;
    assert_int_equal(system("rm -rf desk west east; mkdir desk west east"), 0);
    for (int k = 0; k < 3; k++) {
        write_in(folders[k], "pier.rig.yaml", rig_text);
        write_in(folders[k], "pier.show", show_text);
        write_in(folders[k], "secret", "gull\n");
    }
    broker_begins(PORT, "allow_anonymous true\nmax_packet_size 9000000\n");
    return 0;
}

static int end_one(void **state)
{
    struct served *const all[] = {&desk, &west, &east};
    (void)state;
    for (int k = 0; k < 3; k++) {
        if (all[k]->pid > 0 && kill(all[k]->pid, SIGKILL) == 0)
            waitpid(all[k]->pid, NULL, 0);
        all[k]->pid = 0;
    }
    if (broker > 0 && kill(broker, SIGKILL) == 0)
        waitpid(broker, NULL, 0);
    broker = 0;
    return 0;
}

static void serve_in(struct served *served, const char *folder, const char *words)
{
    char by[60], all[200];
    snprintf(by, sizeof by, "env -C %s", folder);
    snprintf(all, sizeof all, "pier.rig.yaml --show pier.show %s", words);
    served_by = by;
    serve(served, all);
    served_by = "";
    if (!logged(served, "event=broker-connected"))
        fail_msg("%s: %s", folder, served->log);
}

static int has(const char *path, const char *text)
{
    struct stat about;
    if (stat(path, &about) != 0)
        return 0;
    char *is = read_file(path, NULL);
    int same = strcmp(is, text) == 0;
    free(is);
    return same;
}

static void has_soon(struct served *served, const char *path, const char *text)
{
    for (double until = seconds() + 15; !has(path, text); rest_ms(50)) {
        if (seconds() > until) {
            logged(served, "\n.");
            fail_msg("%s has not come:\n%s", path, served->log);
        }
    }
}

/* How many of the bytes of what is shown are not 0. */
static int lit(struct served *served)
{
    int n = 0;
    assert_int_equal(ask(served, "GET", "/frame", NULL), 200);
    for (size_t k = 8; k < answer_length; k++)
        n += answer[k] != 0;
    return n;
}

static void lit_soon(struct served *served, int bytes)
{
    for (double until = seconds() + 15; lit(served) != bytes; rest_ms(50)) {
        if (seconds() > until) {
            logged(served, "\n.");
            fail_msg("%d bytes are lit, not %d:\n%s", lit(served), bytes, served->log);
        }
    }
}

/* A white gull on a strip of 10 lights two pixels, a tern three: of red, green and blue. */
static void a_drawing_goes_to_all_that_take(void **state)
{
    (void)state;
    serve_in(&desk, "desk", "--files send");
    serve_in(&west, "west", "--files take --node west");
    serve_in(&east, "east", "--node east"); /* which takes nothing */
    write_in("desk", "birds.drawings", gull);
    write_in("desk", "pier.show", birds);
    has_soon(&west, "west/birds.drawings", gull);
    lit_soon(&west, 2 * 3);
    lit_soon(&desk, 4 * 3);
    assert_non_null(logged(&east, "'birds.drawings' names a file that the show does not name"));
    assert_false(has("east/birds.drawings", gull));
    write_in("desk", "birds.drawings", tern);
    has_soon(&west, "west/birds.drawings", tern);
    lit_soon(&west, 3 * 3);
    assert_true(has("west/pier.show", show_text)); /* the text goes with the run */
    /* one that comes later gets all of it, and what is its own is what the desk has */
    assert_int_equal(ended(&east, SIGTERM), 0);
    write_in("east", "birds.drawings", gull);
    serve_in(&east, "east", "--files take --node east");
    has_soon(&east, "east/birds.drawings", tern);
    lit_soon(&east, 3 * 3);
    for (double until = seconds() + 10;; rest_ms(200)) { /* the list says that they have the same */
        ask(&west, "GET", "/nodes", NULL);
        const char *first = strstr(answer, "\"files\":\""), *at = first;
        int alike = first && strncmp(first + 9, "00000000", 8) != 0, n = 0;
        for (; at; n++, at = strstr(at + 1, "\"files\":\""))
            alike &= strncmp(at, first, 17) == 0;
        if (alike && n == 3)
            break;
        if (seconds() > until)
            fail_msg("%s", answer);
    }
    /* a broker that has forgotten all gets all */
    broker_ends(SIGKILL);
    assert_int_equal(remove("east/birds.drawings"), 0);
    broker_begins(PORT, "allow_anonymous true\n");
    has_soon(&east, "east/birds.drawings", tern);
    assert_int_equal(ended(&desk, SIGTERM), 0);
    assert_int_equal(ended(&west, SIGTERM), 0);
    assert_int_equal(ended(&east, SIGTERM), 0);
}

/* A show that names two files which come behind it, one after the other; and a broker that takes no
 * long ones is not asked for ever, and has the others. */
static void what_comes_late_or_is_too_long(void **state)
{
    (void)state;
    static const char both[] = "drawings a.drawings\nvalue n csv file=b.csv\n"
                               "layer a: draw sprite gull x=0mm y=0mm on l-west\n";
    broker_ends(SIGKILL);
    broker_begins(PORT, "allow_anonymous true\nmax_packet_size 20000\n");
    serve_in(&west, "west", "--files take --node west");
    serve_in(&desk, "desk", ""); /* which sends nothing */
    lit_soon(&west, 10 * 3);
    write_in("desk", "a.drawings", gull);
    write_in("desk", "b.csv", "time,name,value\n0,n,1\n");
    write_in("desk", "pier.show", both);
    assert_non_null(logged(&west, "change-refused"));
    assert_int_equal(
        run("mosquitto_pub " CLIENT " -r -f desk/a.drawings -t " RUN "/file/a.drawings"), 0);
    has_soon(&west, "west/a.drawings", gull);
    rest_ms(500);
    lit_soon(&west, 10 * 3); /* it waits for the other */
    assert_int_equal(run("mosquitto_pub " CLIENT " -r -f desk/b.csv -t " RUN "/file/b.csv"), 0);
    lit_soon(&west, 2 * 3);
    assert_int_equal(ended(&desk, SIGTERM), 0);
    char *longer = calloc(1, 30001);
    memset(longer, '\n', 30000);
    memcpy(longer, gull, strlen(gull));
    write_in("desk", "a.drawings", longer);
    write_in("desk", "b.csv", "time,name,value\n0,n,2\n");
    serve_in(&desk, "desk", "--files send");
    assert_non_null(logged(&desk, "file-not-sent name=a.drawings reason=\"the broker ends"));
    has_soon(&west, "west/b.csv", "time,name,value\n0,n,2\n");
    assert_true(has("west/a.drawings", gull));
    free(longer);
    assert_int_equal(ended(&desk, SIGTERM), 0);
    assert_int_equal(ended(&west, SIGTERM), 0);
}

/* What a node could not play leaves its file as it is; what it could, it plays at once. */
static void a_rig_goes_too_where_it_is_right(void **state)
{
    char *longer = strdup(rig_text), *at = longer;
    (void)state;
    for (; (at = strstr(at, "count: 10")); at++)
        at[8] = '2'; /* 12 each */
    serve_in(&west, "west", "--files take --node west");
    assert_int_equal(chmod("west/pier.rig.yaml", 0640), 0);
    lit_soon(&west, 10 * 3);
    assert_int_equal(run("printf 'rig: no\\n' | mosquitto_pub " CLIENT " -r -s -t " RUN "/rig"), 0);
    assert_non_null(
        logged(&west, "file-refused name=rig reason=\"pier.rig.yaml:1:1: a rig file has"));
    assert_true(has("west/pier.rig.yaml", rig_text));
    write_in("desk", "pier.rig.yaml", longer);
    serve_in(&desk, "desk", "--files send");
    has_soon(&west, "west/pier.rig.yaml", longer);
    struct stat about;
    assert_int_equal(stat("west/pier.rig.yaml", &about), 0);
    assert_int_equal(about.st_mode & 0777, 0640);
    lit_soon(&west, 12 * 3);
    /* places of a lane are a table of their own, which may come behind the rig */
    assert_int_equal(ended(&desk, SIGTERM), 0);
    assert_int_equal(run("sed '/node: west/s/line: {.*/points: places.csv }/' "
                         "desk/pier.rig.yaml >placed && "
                         "mosquitto_pub " CLIENT " -r -f placed -t " RUN "/rig"),
                     0);
    assert_non_null(logged(&west, "reason=\"pier.rig.yaml:7:88: places.csv: cannot be read"));
    assert_int_equal(run("seq 0 11 | sed 's/.*/&,&,0/; 1i index,x,y' | "
                         "mosquitto_pub " CLIENT " -r -s -t " RUN "/file/places.csv"),
                     0);
    char *placed = read_file("placed", NULL);
    has_soon(&west, "west/pier.rig.yaml", placed);
    free(placed);
    free(longer);
    assert_int_equal(ended(&west, SIGTERM), 0);
}

/* Nobody on the network writes anything but data of shows, in the folder and by plain names. */
static void other_names_are_refused(void **state)
{
    static const char *const names[] = {"secret",    ".profile",         "../up.csv", "deep/a.csv",
                                        "pier.show", "pier.rig.yaml",    "a.csv.sh",  ".hidden.csv",
                                        "a b.csv",   "..%2f..%2fup.csv", ".csv",      "linked.csv",
                                        "folder.csv"};
    (void)state;
    assert_int_equal(system("mkdir west/folder.csv; ln -s ../kept west/linked.csv; echo mine >kept;"
                            "rm -f up.csv; ls -A west | sort >before"),
                     0);
    serve_in(&west, "west", "--files take --node west");
    for (size_t k = 0; k < sizeof names / sizeof names[0]; k++)
        assert_int_equal(
            run("mosquitto_pub " CLIENT " -r -m theirs -t '" RUN "/file/%s'", names[k]), 0);
    assert_int_equal(run("head -c 5000000 /dev/zero | mosquitto_pub " CLIENT " -s -t " RUN
                         "/file/large.csv; mosquitto_pub " CLIENT " -r -m last -t " RUN
                         "/file/last.csv"),
                     0);
    has_soon(&west, "west/last.csv", "last");
    assert_non_null(logged(&west, "name=large.csv reason=\"it is longer than 4 MiB"));
    assert_true(has("kept", "mine\n"));
    assert_true(has("west/secret", "gull\n"));
    assert_int_equal(
        run("ls -A west | grep -v last.csv | sort | diff before - && test ! -e up.csv"), 0);
    assert_non_null(logged(&west, "file-refused name=linked.csv reason=\"there is a link"));
    assert_non_null(logged(&west, "file-refused name=unknown reason=\"it has a name that is not"));
    assert_int_equal(ended(&west, SIGTERM), 0);
}

static void what_is_not_sent_is_said(void **state)
{
    (void)state;
    assert_int_equal(system("mkdir desk/deep"), 0);
    write_in("desk/deep", "far.drawings", gull);
    write_in("desk", "near.txt", "drawing tern\n#.#\n");
    write_in("desk", "pier.show",
             "drawings deep/far.drawings\ndrawings near.txt\n"
             "layer a: draw sprite gull x=0mm y=0mm on l-west\n");
    serve_in(&desk, "desk", "--files send");
    assert_non_null(
        logged(&desk, "file-not-sent name=deep/far.drawings reason=\"it is in another"));
    assert_non_null(
        logged(&desk, "file-not-sent name=near.txt reason=\"its name has other letters"));
    assert_null(strstr(desk.log, "secret"));
    assert_int_equal(ended(&desk, SIGTERM), 0);
    assert_int_equal(run("cd desk && $D serve pier.rig.yaml --files give"), 2);
    says("--files is 'send' or 'take', not 'give'");
    assert_int_equal(run("$D serve desk/pier.rig.yaml --files take --node west"), 2);
    says("desk/pier.rig.yaml: it is in another folder");
    assert_int_equal(run("sed 's/node: [a-z]*, //; /l-east/d' desk/pier.rig.yaml >lone.rig.yaml;"
                         "$D serve lone.rig.yaml --files take"),
                     2);
    says("files go over the broker of a rig with nodes; this one has no nodes");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test_setup_teardown(a_drawing_goes_to_all_that_take, begin_one, end_one),
        cmocka_unit_test_setup_teardown(what_comes_late_or_is_too_long, begin_one, end_one),
        cmocka_unit_test_setup_teardown(a_rig_goes_too_where_it_is_right, begin_one, end_one),
        cmocka_unit_test_setup_teardown(other_names_are_refused, begin_one, end_one),
        cmocka_unit_test_setup_teardown(what_is_not_sent_is_said, begin_one, end_one),
    };
    return cmocka_run_group_tests(tests, begin, NULL);
}
