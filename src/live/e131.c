/* SPDX-License-Identifier: MIT */
#include <arpa/inet.h>
#include <errno.h>
#include <netinet/in.h>
#include <poll.h>
#include <pthread.h>
#include <stdatomic.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/socket.h>
#include <unistd.h>

#include "e131.h"
#include "node_clock.h"
#include "presets.h"

/* A socket may be in so many groups (net.ipv4.igmp_max_memberships is 20 as Linux comes). */
#define GROUPS  20
#define SOCKETS 52
#define AT_ONCE 64 /* packets for one lock */
#define AGE_MS  100

struct e131 {
    struct in_addr address;
    uint16_t port;
    struct pollfd sockets[SOCKETS];
    nfds_t socket_count;
    uint16_t joined[SOCKETS * GROUPS];
    uint32_t join_count;
    pthread_mutex_t lock; /* of the merge, the sockets and what is joined */
    struct e131_merge merge;
    pthread_t thread;
    int runs;
    atomic_int ends;
};

static uint64_t now_ms(void)
{
    return dia_steady_ms() + 1; /* 0: never */
}

/* One more that hears the port. 0, or -1 and errno. */
static int open_socket(struct e131 *e131)
{
    int fd = socket(AF_INET, SOCK_DGRAM | SOCK_NONBLOCK | SOCK_CLOEXEC, 0), on = 1, off = 0;
    int room = 1 << 21;
    struct sockaddr_in at = {.sin_family = AF_INET, .sin_port = htons(e131->port)};
    at.sin_addr = e131->socket_count == 0 ? e131->address : (struct in_addr){INADDR_ANY};
    if (fd < 0 || e131->socket_count == SOCKETS)
        return -1;
    setsockopt(fd, SOL_SOCKET, SO_RCVBUF, &room, sizeof room);
    if (setsockopt(fd, SOL_SOCKET, SO_REUSEADDR, &on, sizeof on) != 0 ||
        setsockopt(fd, IPPROTO_IP, IP_MULTICAST_ALL, &off, sizeof off) != 0 ||
        bind(fd, (struct sockaddr *)&at, sizeof at) != 0) {
        close(fd);
        return -1;
    }
    e131->sockets[e131->socket_count++] = (struct pollfd){fd, POLLIN, 0};
    return 0;
}

void dia_e131_join(struct e131 *e131, uint16_t universe)
{
    pthread_mutex_lock(&e131->lock);
    uint32_t k = 0;
    while (k < e131->join_count && e131->joined[k] != universe)
        k++;
    if (k == e131->join_count && k < SOCKETS * GROUPS - GROUPS) {
        int is_there = k % GROUPS != 0 || open_socket(e131) == 0; /* the first is for unicast */
        struct ip_mreqn group = {.imr_address = e131->address};
        group.imr_multiaddr.s_addr = htonl(0xefff0000u | universe); /* 239.255.high.low */
        if (is_there)
            setsockopt(e131->sockets[e131->socket_count - 1].fd, IPPROTO_IP, IP_ADD_MEMBERSHIP,
                       &group, sizeof group);
        e131->joined[e131->join_count++] = universe;
    }
    pthread_mutex_unlock(&e131->lock);
}

static void take(struct e131 *e131, int fd)
{
    uint8_t bytes[E131_MOST + 1];
    struct e131_packet packet;
    pthread_mutex_lock(&e131->lock);
    uint64_t ms = now_ms();
    for (int k = 0; k < AT_ONCE; k++) {
        ssize_t n = recv(fd, bytes, sizeof bytes, 0);
        if (n < 0)
            break;
        dia_e131_read(bytes, (size_t)n, &packet);
        dia_e131_merge_take(&e131->merge, &packet, ms);
    }
    pthread_mutex_unlock(&e131->lock);
}

static void *run(void *self)
{
    struct e131 *e131 = self;
    while (!e131->ends) {
        struct pollfd sockets[SOCKETS];
        pthread_mutex_lock(&e131->lock);
        nfds_t count = e131->socket_count;
        memcpy(sockets, e131->sockets, sizeof sockets);
        dia_e131_merge_age(&e131->merge, now_ms());
        pthread_mutex_unlock(&e131->lock);
        if (poll(sockets, count, AGE_MS) <= 0)
            continue;
        for (nfds_t k = 0; k < count; k++) {
            if (sockets[k].revents)
                take(e131, sockets[k].fd);
        }
    }
    return NULL;
}

void dia_e131_news(struct e131 *e131, e131_news *each, void *self)
{
    pthread_mutex_lock(&e131->lock);
    dia_e131_merge_news(&e131->merge, each, self);
    pthread_mutex_unlock(&e131->lock);
}

struct e131 *dia_e131_new(const char *listen, struct dia_diagnostic *wrong)
{
    char address[64];
    const char *colon = strchr(listen, ':');
    long port = colon ? strtol(colon + 1, NULL, 10) : E131_PORT;
    struct e131 *e131 = calloc(1, sizeof *e131);
    if (!e131) {
        dia_live_wrong(wrong, "out of memory");
        return NULL;
    }
    pthread_mutex_init(&e131->lock, NULL);
    snprintf(address, sizeof address, "%.*s", (int)strcspn(listen, ":"), listen);
    e131->port = (uint16_t)port;
    if (inet_pton(AF_INET, address, &e131->address) != 1 || port < 1 || port > 65535)
        dia_live_wrong(wrong,
                       "E1.31 cannot listen on '%.60s': write an address of this machine, "
                       "such as 192.168.1.20, or 0.0.0.0 for all",
                       listen);
    else if (open_socket(e131) != 0)
        dia_live_wrong(wrong, "E1.31 cannot listen on %.60s: %s", listen, strerror(errno));
    else
        return e131;
    dia_e131_free(e131);
    return NULL;
}

int dia_e131_start(struct e131 *e131)
{
    e131->runs = pthread_create(&e131->thread, NULL, run, e131) == 0;
    return e131->runs ? 0 : -1;
}

void dia_e131_free(struct e131 *e131)
{
    if (!e131)
        return;
    e131->ends = 1;
    if (e131->runs)
        pthread_join(e131->thread, NULL);
    for (nfds_t k = 0; k < e131->socket_count; k++)
        close(e131->sockets[k].fd);
    dia_e131_merge_free(&e131->merge);
    pthread_mutex_destroy(&e131->lock);
    free(e131);
}
