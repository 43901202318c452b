/* SPDX-License-Identifier: MIT */
#ifndef DIA_TESTS_LINE_H
#define DIA_TESTS_LINE_H

#include <netinet/tcp.h>
#include <sched.h>
#include <sys/epoll.h>

#include "served.h"

/*
 * A bad line in front of a server on this machine: the kernel drops packets of it in a network of
 * the test's own, so that TCP does what it does where they get lost; and what comes through is held
 * for a millisecond.
 */

/* Before there are threads and servers: from now on the network is the test's own. Of packets to a
 * port `loss` in a hundred get lost, and of those from it: evenly, so that of few on their way none
 * is lost twice. TCP waits for rto_ms before it sends again what it hears nothing of; 0: for 200 ms
 * and more, as it does by itself. Returns 1; 0: this machine lets nobody do that, none are lost. */
static inline int line_of_its_own(unsigned port, unsigned loss, unsigned rto_ms)
{
    char script[1200], map[40], route[200] = "";
    if (rto_ms)
        snprintf(route, sizeof route,
                 "ip route change local 127.0.0.1 dev lo table local proto kernel scope host "
                 "src 127.0.0.1 rto_min %ums\n",
                 rto_ms);
    unsigned every = loss ? 100 / loss : 1;
    uid_t user = getuid();
    int n = snprintf(script, sizeof script,
                     "ip link set lo up\n%s"
                     "nft -f - <<END\n"
                     "table inet line {\n"
                     "    counter lost { }\n"
                     "    chain in {\n"
                     "        type filter hook input priority 0;\n"
                     "        tcp dport %u numgen inc mod %u < %u counter name lost drop\n"
                     "        tcp sport %u numgen inc mod %u < %u counter name lost drop\n"
                     "    }\n"
                     "}\nEND\n",
                     route, port, every, loss != 0, port, every, loss != 0);
    write_file("line.sh", script, (size_t)n);
    if (run("unshare %s sh -e line.sh", user ? "-rn" : "-n") != 0) { /* a trial */
        print_message("no packet is lost, since no network of its own can be had: %s", output);
        return 0;
    }
    assert_int_equal(unshare(user ? CLONE_NEWUSER | CLONE_NEWNET : CLONE_NEWNET), 0);
    n = snprintf(map, sizeof map, "0 %u 1", (unsigned)user);
    if (user)
        write_file("/proc/self/uid_map", map, (size_t)n);
    assert_int_equal(run("sh -e line.sh"), 0);
    return 1;
}

/* Packets that were lost so far. */
static inline long line_has_lost(void)
{
    const char *at =
        run("nft list counter inet line lost") == 0 ? strstr(output, "packets ") : NULL;
    return at ? strtol(at + 8, NULL, 10) : 0;
}

#define LINE_PACKETS 4096 /* on their way, at most */
#define LINE_SOCKETS 2048

struct packet {
    int from;
    double goes;
    size_t length; /* 0: the end */
    char bytes[4096];
};

/* Carries what comes at a socket that listens to a port and back, each packet a millisecond late;
 * for ever. */
static inline void line_carries(int listens, unsigned port)
{
    static struct packet packets[LINE_PACKETS];
    static int others[LINE_SOCKETS]; /* the other end of each socket */
    static char ended[LINE_SOCKETS];
    uint32_t first = 0, end = 0;
    int all = epoll_create1(0), one = 1;
    struct epoll_event event = {EPOLLIN, {.fd = listens}}, events[32];
    epoll_ctl(all, EPOLL_CTL_ADD, listens, &event);
    for (;;) {
        double wait = end != first ? packets[first % LINE_PACKETS].goes - seconds() : 1;
        int n = epoll_wait(all, events, 32, wait > 0 ? (int)(wait * 1e3) + 1 : 0);
        for (int k = 0; k < n; k++) {
            int fd = events[k].data.fd;
            if (fd == listens) {
                int pair[2] = {accept(listens, NULL, NULL), reach("127.0.0.1", port)};
                for (int i = 0; i < 2; i++) {
                    if (pair[i] < 0 || pair[i] >= LINE_SOCKETS)
                        _exit(1);
                    setsockopt(pair[i], IPPROTO_TCP, TCP_NODELAY, &one, sizeof one);
                    others[pair[i]] = pair[1 - i];
                    ended[pair[i]] = 0;
                    event.data.fd = pair[i];
                    epoll_ctl(all, EPOLL_CTL_ADD, pair[i], &event);
                }
            } else if (end - first < LINE_PACKETS) {
                struct packet *packet = &packets[end++ % LINE_PACKETS];
                ssize_t got = recv(fd, packet->bytes, sizeof packet->bytes, MSG_DONTWAIT);
                packet->from = fd;
                packet->goes = seconds() + 0.001;
                packet->length = got > 0 ? (size_t)got : 0;
                if (got <= 0)
                    epoll_ctl(all, EPOLL_CTL_DEL, fd, NULL);
            }
        }
        for (; end != first && packets[first % LINE_PACKETS].goes <= seconds(); first++) {
            const struct packet *packet = &packets[first % LINE_PACKETS];
            int from = packet->from, to = others[from];
            if (packet->length) {
                put_all(to, packet->bytes, packet->length);
                continue;
            }
            ended[from] = 1;
            shutdown(to, SHUT_WR);
            if (ended[to]) {
                close(from);
                close(to);
            }
        }
    }
}

#endif
