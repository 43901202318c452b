/* SPDX-License-Identifier: MIT */
#include <arpa/inet.h>
#include <errno.h>
#include <netinet/in.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/random.h>
#include <sys/socket.h>
#include <unistd.h>

#include "e131_packet.h"
#include "e131_send.h"
#include "presets.h"

#define PIXELS      170
#define EVERY_MS    23  /* 44 Hz at most */
#define AGAIN       3   /* times that what stands still is sent, */
#define KEEP_MS     800 /* and how often then */
#define DISCOVER_MS 10000
#define DISCOVERY   64214 /* the universe of that */
#define ENDED       0x40

struct stream {
    uint16_t universe, count; /* slots */
    uint8_t sequence, again;
    uint64_t ms; /* when it was sent last */
    uint8_t slots[E131_SLOTS];
};
struct e131_send {
    int fd;
    struct sockaddr_in to; /* sin_addr 0: multicast */
    uint16_t first, sync;
    uint8_t priority, sync_sequence, cid[16];
    char name[64];
    struct stream *streams;
    uint32_t count, room;
    uint64_t ms, discovered_ms;
};

static uint8_t *put(uint8_t *at, uint32_t value, size_t bytes)
{
    for (size_t k = bytes; k-- > 0; value >>= 8)
        at[k] = (uint8_t)value;
    return at + bytes;
}

/* The root layer of a packet of so many bytes. */
static uint8_t *begin(const struct e131_send *send, uint8_t *at, size_t length, uint32_t vector)
{
    static const char id[12] = "ASC-E1.17";
    at = put(at, 0x0010, 2);
    at = put(at, 0, 2);
    memcpy(at, id, sizeof id);
    at = put(at + sizeof id, 0x7000u | (uint32_t)(length - 16), 2);
    at = put(at, vector, 4);
    memcpy(at, send->cid, sizeof send->cid);
    at += sizeof send->cid;
    return put(at, 0x7000u | (uint32_t)(length - 38), 2);
}

static void put_out(const struct e131_send *send, uint16_t universe, const uint8_t *bytes,
                    size_t length)
{
    struct sockaddr_in to = send->to;
    if (to.sin_addr.s_addr == 0)
        to.sin_addr.s_addr = htonl(0xefff0000u | universe); /* 239.255.high.low */
    sendto(send->fd, bytes, length, MSG_DONTWAIT, (const struct sockaddr *)&to, sizeof to);
}

static void put_data(const struct e131_send *send, struct stream *stream, uint8_t options)
{
    uint8_t bytes[E131_MOST];
    size_t length = 126u + stream->count;
    uint8_t *at = begin(send, bytes, length, 4);
    at = put(at, 2, 4);
    memcpy(at, send->name, sizeof send->name);
    at += sizeof send->name;
    *at++ = send->priority;
    at = put(at, options & ENDED ? 0 : send->sync, 2);
    *at++ = ++stream->sequence;
    *at++ = options;
    at = put(at, stream->universe, 2);
    at = put(at, 0x7000u | (uint32_t)(length - 115), 2);
    *at++ = 2;
    *at++ = 0xa1;
    at = put(at, 0, 2);
    at = put(at, 1, 2);
    at = put(at, stream->count + 1u, 2);
    *at++ = 0; /* start code */
    memcpy(at, stream->slots, stream->count);
    put_out(send, stream->universe, bytes, length);
}

static void put_sync(struct e131_send *send)
{
    uint8_t bytes[49];
    uint8_t *at = begin(send, bytes, sizeof bytes, 8);
    at = put(at, 1, 4);
    *at++ = ++send->sync_sequence;
    at = put(at, send->sync, 2);
    put(at, 0, 2);
    put_out(send, send->sync, bytes, sizeof bytes);
}

/* Pages of 512 universes each, by number. */
static void put_discovery(const struct e131_send *send)
{
    uint32_t pages = (send->count + 511) / 512;
    for (uint32_t page = 0; page < pages; page++) {
        uint8_t bytes[120 + 2 * 512];
        uint32_t first = page * 512, n = send->count - first < 512 ? send->count - first : 512;
        size_t length = 120 + 2 * n;
        uint8_t *at = begin(send, bytes, length, 8);
        at = put(at, 2, 4);
        memcpy(at, send->name, sizeof send->name);
        at = put(at + sizeof send->name, 0, 4);
        at = put(at, 0x7000u | (uint32_t)(length - 112), 2);
        at = put(at, 1, 4);
        *at++ = (uint8_t)page;
        *at++ = (uint8_t)(pages - 1);
        for (uint32_t k = 0; k < n; k++)
            at = put(at, send->streams[first + k].universe, 2);
        put_out(send, DISCOVERY, bytes, length);
    }
}

/* ---- frames ---------------------------------------------------------------------------------- */

static void end_all(struct e131_send *send)
{
    for (int k = 0; k < 3; k++) {
        for (uint32_t s = 0; s < send->count; s++)
            put_data(send, &send->streams[s], ENDED);
    }
    send->count = 0;
}

/* A stream for each 170 pixels of each lane. 0: no memory. */
static int lay_out(struct e131_send *send, const struct dia_scene *scene)
{
    uint32_t count = 0, universe = send->first;
    for (uint32_t t = 0; t < scene->thing_count; t++)
        count += scene->things[t].is_device ? 0 : (scene->things[t].count + PIXELS - 1) / PIXELS;
    if (count == send->count)
        return 1;
    end_all(send);
    struct stream *streams = calloc(count + 1, sizeof *streams);
    if (!streams)
        return 0;
    free(send->streams);
    send->streams = streams;
    for (uint32_t k = 0; k < count && universe <= 63999; k++)
        send->streams[send->count++].universe = (uint16_t)universe++;
    send->discovered_ms = 0;
    return 1;
}

/* 1: it is to be sent. */
static int is_due(struct stream *stream, const uint8_t *slots, uint16_t count, uint64_t ms)
{
    int changed = count != stream->count || memcmp(slots, stream->slots, count) != 0;
    if (changed) {
        memcpy(stream->slots, slots, count);
        stream->count = count;
        stream->again = AGAIN;
    } else if (stream->again) {
        stream->again--;
        changed = 1;
    }
    if (!changed && ms - stream->ms < KEEP_MS)
        return 0;
    stream->ms = ms;
    return 1;
}

void dia_e131_send_frame(struct e131_send *send, const struct dia_scene *scene,
                         const uint8_t *frame, uint64_t ms)
{
    uint32_t stream = 0;
    int any = 0;
    if ((send->ms && ms - send->ms < EVERY_MS) || !lay_out(send, scene))
        return;
    send->ms = ms;
    for (uint32_t t = 0; t < scene->thing_count; t++) {
        const struct dia_scene_thing *thing = &scene->things[t];
        for (uint32_t p = 0; p < thing->count && !thing->is_device; p += PIXELS, stream++) {
            uint32_t n = thing->count - p < PIXELS ? thing->count - p : PIXELS;
            if (stream < send->count &&
                is_due(&send->streams[stream], frame + thing->at + 3 * p, (uint16_t)(3 * n), ms)) {
                put_data(send, &send->streams[stream], 0);
                any = 1;
            }
        }
    }
    if (any && send->sync)
        put_sync(send);
    if (send->discovered_ms == 0 || ms - send->discovered_ms >= DISCOVER_MS) {
        put_discovery(send);
        send->discovered_ms = ms + 1;
    }
}

/* ---- from its beginning to its end ----------------------------------------------------------- */

struct e131_send *dia_e131_send_new(const struct dia_rig_send *settings, const char *name,
                                    struct dia_diagnostic *wrong)
{
    struct e131_send *send = calloc(1, sizeof *send);
    char address[64];
    const char *colon = strchr(settings->to, ':');
    long port = colon ? strtol(colon + 1, NULL, 10) : E131_PORT;
    int is_multicast = strcmp(settings->to, "multicast") == 0;
    if (!send) {
        dia_live_wrong(wrong, "out of memory");
        return NULL;
    }
    snprintf(address, sizeof address, "%.*s", (int)strcspn(settings->to, ":"), settings->to);
    snprintf(send->name, sizeof send->name, "%s", name);
    send->to.sin_family = AF_INET;
    send->to.sin_port = htons((uint16_t)port);
    send->first = (uint16_t)settings->first;
    send->sync = (uint16_t)settings->sync;
    send->priority = (uint8_t)settings->priority;
    send->fd = socket(AF_INET, SOCK_DGRAM | SOCK_NONBLOCK | SOCK_CLOEXEC, 0);
    if ((!is_multicast && inet_pton(AF_INET, address, &send->to.sin_addr) != 1) || port < 1 ||
        port > 65535)
        dia_live_wrong(wrong,
                       "E1.31 cannot be sent to '%.60s': write 'multicast' or the address "
                       "of a receiver, such as 192.168.1.30",
                       settings->to);
    else if (send->fd < 0 || getrandom(send->cid, sizeof send->cid, 0) != sizeof send->cid)
        dia_live_wrong(wrong, "E1.31 cannot be sent: %s", strerror(errno));
    else
        return send;
    dia_e131_send_free(send);
    return NULL;
}

void dia_e131_send_free(struct e131_send *send)
{
    if (!send)
        return;
    end_all(send);
    if (send->fd >= 0)
        close(send->fd);
    free(send->streams);
    free(send);
}
