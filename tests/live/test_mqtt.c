/* SPDX-License-Identifier: MIT */
#include "broker.h"
#include "witness.h"

/* With a real broker, which the tests start, kill and flood; what it has is read by its own
 * client. */
#define BROKER_PORT 18831
#define BASE        "house/pier"

static struct served served;

static const char rig_text[] =
    "rig: Small pier\ncontroller: RP2040\nframe_rate: 50 Hz\n"
    "supplies:\n  usb: { current: 2 A }\n"
    "lanes:\n  shelf: { pin: 17, chip: WS2812B, count: 10 }\n"
    "live:\n  listen: 127.0.0.1:0\n"
    "  mqtt: { broker: \"127.0.0.1:18831\", base: house/pier, user: pier, password_file: password, "
    "version: %s }\n";
static const char show_text[] =
    "value wind input decimals=1\nvalue tide constant is=2.37 decimals=2\n"
    "layer run: steady colour=#000040 on shelf\n";

static void begin_broker(void)
{
    broker_begins(BROKER_PORT, "allow_anonymous false\npassword_file passwords\n");
}

static int begin(void **state)
{
    (void)state;
    alarm(120); /* whatever hangs */
    curl_global_init(CURL_GLOBAL_DEFAULT);
    write_file("small.show", show_text, strlen(show_text));
    write_file("password", "gull\n", 5);
    write_file("wrong-password", "tern\n", 5);
    char text[1000];
    snprintf(text, sizeof text, rig_text, "3.1.1");
    write_file("mqtt.rig.yaml", text, strlen(text));
    snprintf(text, sizeof text, rig_text, "5");
    write_file("mqtt5.rig.yaml", text, strlen(text));
    return system("rm -f passwords broker.log; touch passwords; chmod 600 passwords;"
                  "mosquitto_passwd -b passwords pier gull");
}

#define CLIENT "-h 127.0.0.1 -p 18831 -u pier -P gull"

static void publish(const char *topic, const char *text, const char *more)
{
    assert_int_equal(
        run("mosquitto_pub " CLIENT " -q 1 %s -t " BASE "/%s -m '%s'", more, topic, text), 0);
}

/* Waits until a retained topic has a text, or one that begins so. */
static void retained_by(const char *client, const char *topic, const char *text)
{
    for (double until = seconds() + 15;; rest_ms(50)) {
        run("timeout 3 mosquitto_sub %s -C 1 -W 1 -t " BASE "/%s 2>/dev/null", client, topic);
        if (strncmp(output, text, strlen(text)) == 0)
            return;
        if (seconds() > until)
            fail_msg("%s is %.200s, not %s; log:\n%s", topic, output, text, served.log);
    }
}

static void retained(const char *topic, const char *text)
{
    retained_by(CLIENT, topic, text);
}

static void frame_has(size_t at, int byte)
{
    for (double until = seconds() + 10;; rest_ms(20)) {
        assert_int_equal(ask(&served, "GET", "/frame", NULL), 200);
        if ((uint8_t)answer[8 + at] == byte)
            return;
        if (seconds() > until)
            fail_msg("byte %zu is %d", at, (uint8_t)answer[8 + at]);
    }
}

static void what_comes_in_is_done_and_told(const char *rig)
{
    char words[100];
    begin_broker();
    snprintf(words, sizeof words, "%s --show small.show --listen 127.0.0.1:0", rig);
    serve(&served, words);
    assert_non_null(logged(&served, "broker-connected host=127.0.0.1 port=18831"));
    retained("online", "yes");
    retained("value/tide", "2.37");
    retained("value/wind", "--");
    publish("set/master", "100", "");
    publish("set/paint/shelf", "#ff0000", "");
    frame_has(0, 0xff);
    retained("master", "100");
    publish("change", "paint shelf none\npaint all #00ff00", "");
    frame_has(1, 0xff);
    publish("set/value/wind", "12.5", "");
    retained("value/wind", "12.5");
    retained("state", "{\"kind\":\"state\",\"rig\":\"Small pier\"");
    assert_non_null(strstr(output, "paint-all"));
    /* what is wrong is said, and changes nothing */
    assert_int_equal(run("(timeout 6 mosquitto_sub " CLIENT " -C 1 -t " BASE "/wrong & sleep 0.3;"
                         "mosquitto_pub " CLIENT " -q 1 -t " BASE
                         "/change -m 'paint al red'; wait)"),
                     0);
    says("there is no 'al' that shows looks on this rig");
    frame_has(1, 0xff);
    /* a state that is retained counts whenever it comes; an old change does not */
    publish("set/master", "50%", "-r");
    publish("change", "paint all #0000ff", "-r");
    retained("master", "50");
    assert_int_equal(ended(&served, SIGTERM), 0);
    retained("online", "no");
    serve(&served, words);
    retained("master", "50");
    ask(&served, "GET", "/show", NULL);
    assert_null(strstr(answer, "paint-all"));
    /* one that is killed says nothing itself: its last will does */
    retained("online", "yes");
    kill(served.pid, SIGKILL);
    waitpid(served.pid, NULL, 0);
    close(served.log_fd);
    retained("online", "no");
    broker_ends(SIGTERM);
}

static void with_3_1_1(void **state)
{
    (void)state;
    what_comes_in_is_done_and_told("mqtt.rig.yaml");
}

static void with_5(void **state)
{
    (void)state;
    what_comes_in_is_done_and_told("mqtt5.rig.yaml");
}

/* The broker is killed and comes again, $BROKER_KILLS times; a flood goes over it. All that is
 * retained is right in the end, and the light has kept its rate. */
static void a_broker_that_dies_and_floods(void **state)
{
    (void)state;
    char level[8];
    const char *many = getenv("BROKER_KILLS");
    int kills = many ? atoi(many) : 4;
    alarm(100 + 10 * (unsigned)kills);
    serve(&served, "mqtt.rig.yaml --show small.show --listen 127.0.0.1:0"); /* before the broker */
    assert_non_null(logged(&served, "broker-missing"));
    quiet_begins();
    for (int k = 0; k < kills; k++) {
        begin_broker();
        snprintf(level, sizeof level, "%d", 20 + k % 60);
        retained("online", "yes");
        publish("set/master", level, "");
        retained("master", level);
        broker_ends(k % 2 ? SIGTERM : SIGKILL);
        rest_ms(100);
    }
    begin_broker();
    retained("master", level); /* told anew, by a broker that remembers nothing */
    assert_int_equal(run("yes 'set run.colour=#102030' | head -20000 | mosquitto_pub " CLIENT
                         " -l -t " BASE "/change"),
                     0);
    publish("set/master", "77", "");
    for (double until = seconds() + 10; seconds() < until; rest_ms(100)) {
        assert_int_equal(ask(&served, "GET", "/state", NULL), 200);
        if (strstr(answer, "\"master\":77"))
            break;
        publish("set/master", "77", ""); /* one that found no room is said to be lost */
    }
    assert_non_null(strstr(answer, "\"master\":77"));
    assert_int_equal(ask(&served, "GET", "/status", NULL), 200);
    int quiet = quiet_ends(), late = atoi(strstr(answer, "\"late\":") + 7);
    print_message("%d frames were late\n", late);
    assert_in_range(late, 0, (quiet ? 25 : 1000) + 2 * witness.missed);
    assert_int_equal(ended(&served, SIGTERM), 0);
    broker_ends(SIGTERM);
}

static void wrong_settings_are_told(void **state)
{
    (void)state;
    static const struct {
        const char *words, *says;
    } cases[] = {
        {"mqtt.rig.yaml --mqtt :1883", "the broker ':1883' is no HOST or HOST:PORT"},
        {"mqtt.rig.yaml --mqtt here:0", "the broker 'here:0' is no HOST or HOST:PORT"},
    };
    for (size_t k = 0; k < sizeof cases / sizeof cases[0]; k++) {
        assert_int_equal(run("timeout 10 $D serve %s", cases[k].words), 2);
        says(cases[k].says);
    }
    assert_int_equal(run("sed 's/password_file: password/password_file: none/' mqtt.rig.yaml "
                         ">none.rig.yaml; timeout 10 $D serve none.rig.yaml"),
                     2);
    says("none: the password of the broker cannot be read");
    begin_broker();
    assert_int_equal(run("sed 's/password_file: /password_file: wrong-/' mqtt.rig.yaml "
                         ">none.rig.yaml; timeout 3 $D serve none.rig.yaml"),
                     124);
    says("event=broker-refused host=127.0.0.1 port=18831");
    broker_ends(SIGTERM);
}

/* ---- TLS: an authority of our own, and a broker that it vouches for, by address -------------- */

#define AUTHORITY "-x509 -newkey rsa:2048 -nodes -days 2 -subj"
#define WITH_TLS  "-h 127.0.0.1 -p 18831 --cafile ca.pem -u pier -P gull"

static void tls_begins(void)
{
    broker_begins(BROKER_PORT, "allow_anonymous false\npassword_file passwords\n"
                               "certfile broker.pem\nkeyfile broker.key\n");
}

static void with_tls(void **state)
{
    (void)state;
    alarm(100);
    assert_int_equal(
        run("openssl req " AUTHORITY " '/CN=Pier' -keyout ca.key -out ca.pem 2>&1 && "
            "openssl req " AUTHORITY " '/CN=Another' -keyout other.key -out other.pem 2>&1 && "
            "openssl req -newkey rsa:2048 -nodes -subj '/CN=broker' -keyout broker.key "
            "-out broker.csr 2>&1 && echo subjectAltName=IP:127.0.0.1 >broker.ext && "
            "openssl x509 -req -in broker.csr -CA ca.pem -CAkey ca.key -CAcreateserial -days 2 "
            "-extfile broker.ext -out broker.pem 2>&1 && "
            "sed 's/user: pier/ca_file: ca.pem, user: pier/' mqtt.rig.yaml >tls.rig.yaml && "
            "sed 's/ca_file: ca/ca_file: other/' tls.rig.yaml >other.rig.yaml"),
        0);
    serve(&served, "tls.rig.yaml --show small.show --listen 127.0.0.1:0"); /* before the broker */
    assert_non_null(logged(&served, "broker-missing"));
    for (int k = 0; k < 2; k++) { /* and again, when it was gone */
        tls_begins();
        assert_non_null(logged(&served, "broker-connected host=127.0.0.1 port=18831"));
        assert_int_equal(
            run("mosquitto_pub " WITH_TLS " -q 1 -r -t " BASE "/set/master -m %d", 61 + k), 0);
        retained_by(WITH_TLS, "master", k ? "62" : "61");
        if (k == 0)
            broker_ends(SIGKILL);
    }
    assert_int_equal(ended(&served, SIGTERM), 0);
    assert_int_equal(run("timeout 5 mosquitto_sub " WITH_TLS " -C 1 -t " BASE "/online"), 0);
    says("no");
    /* nothing is told to one that nobody vouches for, nor without TLS */
    assert_int_equal(run("timeout 3 $D serve other.rig.yaml --listen 127.0.0.1:0"), 124);
    says("reason=no TLS, or no certificate that ca_file vouches for");
    assert_null(strstr(output, "broker-connected"));
    assert_int_equal(run("timeout 3 $D serve mqtt.rig.yaml --listen 127.0.0.1:0"), 124);
    says("broker-missing");
    assert_null(strstr(output, "broker-connected"));
    assert_int_equal(run("sed 's/ca_file: ca/ca_file: none/' tls.rig.yaml >none.rig.yaml;"
                         "timeout 10 $D serve none.rig.yaml"),
                     2);
    says("none.pem: certificates cannot be read");
    broker_ends(SIGTERM);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(with_3_1_1),
        cmocka_unit_test(with_5),
        cmocka_unit_test(a_broker_that_dies_and_floods),
        cmocka_unit_test(wrong_settings_are_told),
        cmocka_unit_test(with_tls),
    };
    return cmocka_run_group_tests(tests, begin, NULL);
}
