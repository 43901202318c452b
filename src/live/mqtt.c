/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <errno.h>
#include <poll.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>

#include "mqtt_private.h"
#include "node_clock.h"
#include "presets.h"

#define FIRST_MS 250u /* until a broker that is not there is asked again; then twice as long, */
#define LAST_MS  10000u
#define TURN_MS  100 /* how often the hub is looked at */
#define KEEP_S   20
#define PUSHES   3   /* behind the last change: */
#define PUSH_MS  10u /* after 10, 30 and 70 ms, so that a lost one is there within 100 */

void dia_mqtt_say(const struct mqtt *mqtt, const char *what, const char *more)
{
    char line[400];
    if (!mqtt->log)
        return;
    snprintf(line, sizeof line, "broker-%s host=%s port=%d%s%.200s", what, mqtt->host, mqtt->port,
             more[0] ? " reason=" : "", more);
    mqtt->log(line);
}

/* Subscribes to the run. Our own word comes back behind all that is kept of it. */
static void join_run(struct mqtt *mqtt)
{
    char topic[TOPIC];
    snprintf(topic, sizeof topic, "%s/run/#", mqtt->root);
    mosquitto_subscribe(mqtt->client, NULL, topic, 1);
    dia_nodes_online(mqtt->nodes, 1);
    dia_nodes_ask(mqtt->nodes);
    mqtt->hears_nodes = 0;
}

/* What nodes say of themselves, while somebody looks. */
static void hear_nodes(struct mqtt *mqtt)
{
    static const char *const those[] = {"node", "online"};
    char topic[TOPIC], hello[80];
    int wanted = dia_nodes_wanted(mqtt->nodes);
    if (wanted == mqtt->hears_nodes)
        return;
    mqtt->hears_nodes = wanted;
    for (int k = 0; k < 2; k++) {
        snprintf(topic, sizeof topic, "%s/node/+/%s", mqtt->root, those[k]);
        if (wanted)
            mosquitto_subscribe(mqtt->client, NULL, topic, 0);
        else
            mosquitto_unsubscribe(mqtt->client, NULL, topic);
    }
    dia_nodes_hello(mqtt->nodes, hello, sizeof hello);
    snprintf(topic, sizeof topic, "%s/%s", mqtt->root, hello);
    if (wanted)
        mosquitto_publish(mqtt->client, NULL, topic, (int)strlen(DIA_NODES_LIST), DIA_NODES_LIST, 1,
                          false);
}

static void tell_nodes(struct mqtt *mqtt)
{
    char topic[TOPIC];
    struct nodes_out out;
    while (dia_nodes_out(mqtt->nodes, &out)) {
        snprintf(topic, sizeof topic, "%s/%s", mqtt->root, out.topic);
        mosquitto_publish(mqtt->client, NULL, topic, out.text ? (int)strlen(out.text) : 0, out.text,
                          1, !out.passes);
        if (out.text && strncmp(out.topic, "run/change/", 11) == 0) {
            mqtt->pushes = PUSHES;
            mqtt->push_ms = dia_steady_ms() + PUSH_MS;
        }
        free(out.text);
    }
    if (dia_nodes_joins_again(mqtt->nodes))
        join_run(mqtt);
    hear_nodes(mqtt);
}

/* A packet that is lost with nothing behind it is missed by nobody, and TCP sends it again after
 * 200 ms only; with something behind it at once. So nothing at all follows the last change, to the
 * broker and from there to each node. */
static void push(struct mqtt *mqtt)
{
    char topic[TOPIC];
    if (mqtt->pushes == 0 || dia_steady_ms() < mqtt->push_ms)
        return;
    snprintf(topic, sizeof topic, "%s/run/push", mqtt->root);
    mosquitto_publish(mqtt->client, NULL, topic, 0, NULL, 0, false);
    mqtt->pushes--;
    mqtt->push_ms = dia_steady_ms() + (PUSH_MS << (PUSHES - mqtt->pushes));
}

/* One at a time, so that all else goes on between them. With QoS 0: what the broker ends the
 * connection for would be sent again by the library, for ever. It comes back, which is the answer.
 */
static void tell_file(struct mqtt *mqtt)
{
    char topic[TOPIC];
    struct files_out out;
    if (!dia_files_out(mqtt->files, &out))
        return;
    snprintf(topic, sizeof topic, "%s/%s", mqtt->root, out.topic);
    int code = mosquitto_publish(mqtt->client, NULL, topic, (int)out.size, out.bytes, 0, true);
    free(out.bytes);
    if (code != MOSQ_ERR_SUCCESS)
        dia_files_refused(mqtt->files, mosquitto_strerror(code));
}

static void on_connect(struct mosquitto *client, void *self, int code)
{
    struct mqtt *mqtt = self;
    char topic[TOPIC];
    mqtt->answered = 1;
    mqtt->missing = 0;
    if (code != 0) {
        dia_mqtt_say(mqtt, "refused", mosquitto_connack_string(code));
        return;
    }
    mqtt->is_connected = 1;
    dia_mqtt_say(mqtt, "connected", "");
    snprintf(topic, sizeof topic, "%s/change", mqtt->base);
    mosquitto_subscribe(client, NULL, topic, 1);
    snprintf(topic, sizeof topic, "%s/set/#", mqtt->base);
    mosquitto_subscribe(client, NULL, topic, 1);
    dia_mqtt_tell(mqtt, "online", "", "yes", 1);
    mqtt->state_number = mqtt->status_number = 0; /* all of it is told anew */
    cJSON_Delete(mqtt->values);
    mqtt->values = NULL;
    mqtt->told_ms = 0;
    if (mqtt->nodes)
        join_run(mqtt);
}

static void gone(struct mqtt *mqtt)
{
    mqtt->is_connected = mqtt->pushes = 0;
    if (mqtt->nodes)
        dia_nodes_online(mqtt->nodes, 0);
    if (mqtt->files)
        dia_files_lost(mqtt->files);
}

static void on_disconnect(struct mosquitto *client, void *self, int code)
{
    struct mqtt *mqtt = self;
    (void)client;
    if (mqtt->is_connected && code != 0)
        dia_mqtt_say(mqtt, "lost", "");
    gone(mqtt);
}

static void rest(struct mqtt *mqtt, uint32_t ms)
{
    for (; ms && !mqtt->ends; ms -= ms < 50 ? ms : 50) {
        struct timespec time = {0, (ms < 50 ? ms : 50) * 1000000L};
        nanosleep(&time, NULL);
    }
}

/* Says that it goes, and waits for that to be out, a second at most. */
static void leave(struct mqtt *mqtt)
{
    if (!mqtt->is_connected)
        return;
    dia_mqtt_tell(mqtt, "online", "", "no", 1);
    for (int k = 0; k < 50 && mosquitto_want_write(mqtt->client); k++)
        mosquitto_loop(mqtt->client, 20, 1);
    mosquitto_disconnect(mqtt->client);
    mosquitto_loop(mqtt->client, 20, 1);
}

/* One turn: what comes, what goes, and waiting for either, at most TURN_MS. */
static int turn(struct mqtt *mqtt)
{
    int want_write = mosquitto_want_write(mqtt->client);
    struct pollfd waits[2] = {
        {mosquitto_socket(mqtt->client), (short)(POLLIN | (want_write ? POLLOUT : 0)), 0},
        {mqtt->nodes ? dia_nodes_wakes(mqtt->nodes) : -1, POLLIN, 0}};
    if (waits[0].fd < 0)
        return MOSQ_ERR_NO_CONN;
    int wait_ms = mqtt->pushes ? (int)PUSH_MS / 5 : TURN_MS;
    poll(waits, 2, mqtt->nodes ? dia_nodes_due_ms(mqtt->nodes, wait_ms) : wait_ms);
    int code = MOSQ_ERR_SUCCESS;
    if (mqtt->nodes && mqtt->is_connected) {
        tell_nodes(mqtt);
        push(mqtt);
    }
    if (mqtt->files && mqtt->is_connected)
        tell_file(mqtt);
    if (waits[0].revents & (POLLIN | POLLHUP | POLLERR) || mqtt->is_tls)
        code = mosquitto_loop_read(mqtt->client, 1);
    if (code == MOSQ_ERR_SUCCESS && mosquitto_want_write(mqtt->client))
        code = mosquitto_loop_write(mqtt->client, 1);
    return code == MOSQ_ERR_SUCCESS ? mosquitto_loop_misc(mqtt->client) : code;
}

/* Why the broker is not there, once until that is something else. */
static void say_missing(struct mqtt *mqtt, int code)
{
    if (mqtt->answered || code == mqtt->missing)
        return;
    mqtt->missing = code;
    dia_mqtt_say(mqtt, "missing",
                 code == MOSQ_ERR_ERRNO ? strerror(errno)
                 : code != MOSQ_ERR_TLS ? mosquitto_strerror(code)
                                        : "no TLS, or no certificate that ca_file vouches for");
}

static void *run(void *self)
{
    struct mqtt *mqtt = self;
    uint32_t wait_ms = FIRST_MS;
    int code = mosquitto_connect(mqtt->client, mqtt->host, mqtt->port, KEEP_S);
    while (!mqtt->ends) {
        if (code == 0)
            code = turn(mqtt);
        if (code == 0) {
            wait_ms = mqtt->is_connected ? FIRST_MS : wait_ms;
            dia_mqtt_tell_all(mqtt);
            continue;
        }
        say_missing(mqtt, code);
        gone(mqtt);
        rest(mqtt, wait_ms);
        mqtt->answered = 0;
        wait_ms = wait_ms * 2 < LAST_MS ? wait_ms * 2 : LAST_MS;
        code = mqtt->ends ? 0 : mosquitto_reconnect(mqtt->client);
    }
    leave(mqtt);
    return NULL;
}

/* ---- from its beginning to its end ----------------------------------------------------------- */

/* "diachrome/petrel-quay" of a rig "Petrel Quay". */
static void usual_base(const char *name, char *base, size_t size)
{
    size_t n = (size_t)snprintf(base, size, "diachrome/");
    for (; *name && n < size - 1; name++) {
        if (isalnum((unsigned char)*name))
            base[n++] = (char)tolower((unsigned char)*name);
        else if (base[n - 1] != '-' && base[n - 1] != '/')
            base[n++] = '-';
    }
    base[n] = 0;
}

static int read_password(struct mqtt *mqtt, const char *path, struct dia_diagnostic *wrong)
{
    FILE *file = fopen(path, "r");
    if (!file || !fgets(mqtt->password, sizeof mqtt->password, file)) {
        dia_live_wrong(wrong, "%s: the password of the broker cannot be read: %s", path,
                       file ? "it is empty" : strerror(errno));
        if (file)
            fclose(file);
        return -1;
    }
    fclose(file);
    mqtt->password[strcspn(mqtt->password, "\r\n")] = 0;
    return 0;
}

static int set_up(struct mqtt *mqtt, const struct dia_rig_mqtt *as, struct dia_diagnostic *wrong)
{
    char topic[TOPIC];
    int version = strcmp(as->version, "5") == 0 ? MQTT_PROTOCOL_V5 : MQTT_PROTOCOL_V311, code;
    mosquitto_int_option(mqtt->client, MOSQ_OPT_PROTOCOL_VERSION, version);
    mosquitto_int_option(mqtt->client, MOSQ_OPT_TCP_NODELAY, 1); /* a change does not wait */
    mosquitto_connect_callback_set(mqtt->client, on_connect);
    mosquitto_disconnect_callback_set(mqtt->client, on_disconnect);
    mosquitto_message_callback_set(mqtt->client, dia_mqtt_heard);
    snprintf(topic, sizeof topic, "%s/online", mqtt->base);
    code = mosquitto_will_set(mqtt->client, topic, 2, "no", 1, true);
    if (code == 0 && as->password_file[0] && read_password(mqtt, as->password_file, wrong) != 0)
        return -1;
    if (code == 0 && as->user[0])
        code = mosquitto_username_pw_set(mqtt->client, as->user,
                                         as->password_file[0] ? mqtt->password : NULL);
    if (code == 0 && as->ca_file[0]) {
        code = mosquitto_tls_set(mqtt->client, as->ca_file, NULL, NULL, NULL, NULL);
        if (code != 0) {
            dia_live_wrong(wrong, "%s: certificates cannot be read", as->ca_file);
            return -1;
        }
    }
    if (code != 0)
        dia_live_wrong(wrong, "the broker cannot be asked: %s", mosquitto_strerror(code));
    return code == 0 ? 0 : -1;
}

struct mqtt *dia_mqtt_new(const struct dia_serve_options *options, struct hub *hub,
                          struct nodes *nodes, struct files *files, struct dia_diagnostic *wrong)
{
    const struct dia_rig_mqtt *as = options->mqtt;
    struct mqtt *mqtt = calloc(1, sizeof *mqtt);
    if (!mqtt) {
        dia_live_wrong(wrong, "out of memory");
        return NULL;
    }
    mosquitto_lib_init();
    const char *colon = strrchr(as->broker, ':');
    long port = colon ? strtol(colon + 1, NULL, 10) : as->ca_file[0] ? 8883 : 1883;
    snprintf(mqtt->host, sizeof mqtt->host, "%.*s",
             (int)(colon ? colon - as->broker : (long)strlen(as->broker)), as->broker);
    mqtt->port = (int)port;
    mqtt->hub = hub;
    mqtt->log = options->log;
    if (as->base[0])
        snprintf(mqtt->root, sizeof mqtt->root, "%s", as->base);
    else
        usual_base(dia_rig_whole(options->rig)->name, mqtt->root, sizeof mqtt->root);
    mqtt->nodes = nodes;
    mqtt->files = files;
    mqtt->is_tls = as->ca_file[0] != 0;
    snprintf(mqtt->base, sizeof mqtt->base, "%s%s%s", mqtt->root, nodes ? "/node/" : "",
             nodes ? dia_nodes_name(nodes) : "");
    if (port < 1 || port > 65535 || !mqtt->host[0]) {
        dia_live_wrong(wrong, "the broker '%s' is no HOST or HOST:PORT, such as localhost:1883",
                       as->broker);
        dia_mqtt_free(mqtt);
        return NULL;
    }
    mqtt->client = mosquitto_new(NULL, true, mqtt);
    if (!mqtt->client)
        dia_live_wrong(wrong, "out of memory");
    if (mqtt->client && set_up(mqtt, as, wrong) == 0)
        return mqtt;
    dia_mqtt_free(mqtt);
    return NULL;
}

int dia_mqtt_start(struct mqtt *mqtt)
{
    mqtt->runs = pthread_create(&mqtt->thread, NULL, run, mqtt) == 0;
    return mqtt->runs ? 0 : -1;
}

void dia_mqtt_free(struct mqtt *mqtt)
{
    if (!mqtt)
        return;
    mqtt->ends = 1;
    if (mqtt->runs)
        pthread_join(mqtt->thread, NULL);
    if (mqtt->client)
        mosquitto_destroy(mqtt->client);
    cJSON_Delete(mqtt->values);
    mosquitto_lib_cleanup();
    free(mqtt);
}
