/* SPDX-License-Identifier: MIT */
#include "broker.h"

/*
 * Two nodes on hosts of their own: network namespaces, joined by a bridge on which the broker
 * listens. Here a cable can be pulled, of which nobody is told.
 */
#define PORT    18841
#define ADDRESS "10.213.77.1"

static struct served served[2];
static int has_hosts;

static const char make_hosts[] =
    "ip link add dia-bridge type bridge\n"
    "ip addr add " ADDRESS "/24 dev dia-bridge\n"
    "ip link set dia-bridge up\n"
    "for k in 0 1; do\n"
    "    ip netns add dia-host$k\n"
    "    ip link add dia-cable$k type veth peer name cable netns dia-host$k\n"
    "    ip link set dia-cable$k master dia-bridge up\n"
    "    ip -n dia-host$k addr add 10.213.77.1$k/24 dev cable\n"
    "    ip -n dia-host$k link set cable up\n"
    "    ip -n dia-host$k link set lo up\n"
    "done\n";
static const char clear_hosts[] = "for k in 0 1; do ip link del dia-cable$k; ip netns del "
                                  "dia-host$k; done\nip link del dia-bridge\n";

static const char rig_text[] =
    "rig: Pier\ncontroller: linux\nframe_rate: 50 Hz\nsupplies: { post: { current: 2 A } }\n"
    "live: { mqtt: { broker: \"" ADDRESS ":18841\", base: house/pier } }\nlanes:\n"
    "  west: { node: west, pin: 18, chip: WS2812B, count: 10, shifter: 74AHCT125 }\n"
    "  east: { node: east, pin: 18, chip: WS2812B, count: 10, shifter: 74AHCT125 }\n";
static const char show_text[] = "layer sea: hue-sweep speed=2m/s\n";

static int clear(void **state)
{
    (void)state;
    for (int k = 0; k < 2; k++) {
        if (served[k].pid > 0 && kill(served[k].pid, SIGKILL) == 0)
            waitpid(served[k].pid, NULL, 0);
    }
    if (broker > 0 && kill(broker, SIGKILL) == 0)
        waitpid(broker, NULL, 0);
    write_file("clear.sh", clear_hosts, sizeof clear_hosts - 1);
    run("sh clear.sh");
    return 0;
}

static int begin(void **state)
{
    clear(state); /* of a test that was killed */
    write_file("make.sh", make_hosts, sizeof make_hosts - 1);
    write_file("pier.rig.yaml", rig_text, sizeof rig_text - 1);
    write_file("pier.show", show_text, sizeof show_text - 1);
    has_hosts = run("sh -e make.sh") == 0;
    if (!has_hosts)
        print_message("no hosts can be made here, nothing is tried: %s", output);
    alarm(240);
    return 0;
}

/* At a host, by its own curl: what a page on it would do. */
static void at_host(int k, const char *line)
{
    assert_int_equal(run("ip netns exec dia-host%d curl -s -m 5 --data-binary '%s' "
                         "http://127.0.0.1:%u/changes",
                         k, line, served[k].port),
                     0);
    assert_string_equal(output, "{}");
}

static int has(int k, const char *text)
{
    assert_int_equal(
        run("ip netns exec dia-host%d curl -sf -m 5 http://127.0.0.1:%u/show", k, served[k].port),
        0);
    return strstr(output, text) != NULL;
}

static void soon_has(int k, const char *text, double within_s)
{
    for (double until = seconds() + within_s; !has(k, text); rest_ms(100)) {
        if (seconds() > until) {
            for (int each = 0; each < 2; each++) { /* all that they have said, and what there is */
                logged(&served[each], "\1");
                print_error("host %d: %s\n", each, served[each].log);
            }
            print_error("has no '%s': %s\n", text, output);
            run("timeout 2 mosquitto_sub -h " ADDRESS " -p 18841 -t 'house/pier/run/#' -v");
            fail_msg("%.4000s", output);
        }
    }
}

static void pull_cable(int k)
{
    assert_int_equal(run("ip link set dia-cable%d down", k), 0);
}

static void plug_cable(int k)
{
    assert_int_equal(run("ip link set dia-cable%d up", k), 0);
}

/* Many changes at both, of which the others hear nothing; both have time to write how the show
 * stands. Nobody has noticed that the network is gone. In the end all has happened at both. */
static void what_is_changed_at_a_host_that_is_cut_off_is_not_lost(void **state)
{
    (void)state;
    static const char *const names[] = {"west", "east"};
    static char lines[3000];
    if (!has_hosts)
        skip();
    broker_begins_at(ADDRESS, PORT, "allow_anonymous true\n");
    for (int k = 0; k < 2; k++) {
        char words[100], within[40];
        snprintf(within, sizeof within, "ip netns exec dia-host%d", k);
        snprintf(words, sizeof words, "pier.rig.yaml --show pier.show --node %s", names[k]);
        served_by = within;
        serve(&served[k], words);
        served_by = "";
    }
    at_host(0, "paint west[1] #010203");
    soon_has(1, "west[1]", 15);
    pull_cable(1);
    for (int k = 0; k < 2; k++) {
        snprintf(lines, sizeof lines, "paint %s[5] #0a0b0c", names[k]);
        at_host(k, lines);
        for (int from = 0; from < 70; from += 35) { /* more than are kept one by one */
            char *at = lines;
            for (int turn = from + 1; turn <= from + 35; turn++)
                at += sprintf(at, "set sea.turns=%d\n", turn);
            at_host(k, lines);
        }
    }
    rest_ms(10000); /* five seconds of rest, and up to three more: then a state is written */
    assert_false(has(0, "east[5]"));
    assert_false(has(1, "west[5]"));
    plug_cable(1);
    for (int k = 0; k < 2; k++) {
        soon_has(k, "east[5]", 60);
        soon_has(k, "west[5]", 60);
        soon_has(k, "turns=70", 60);
    }
    for (int k = 0; k < 2; k++)
        assert_int_equal(ended(&served[k], SIGTERM), 0);
    served[0].pid = served[1].pid = 0;
    broker_ends(SIGTERM);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(what_is_changed_at_a_host_that_is_cut_off_is_not_lost),
    };
    return cmocka_run_group_tests(tests, begin, clear);
}
