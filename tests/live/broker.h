/* SPDX-License-Identifier: MIT */
#ifndef DIA_TESTS_BROKER_H
#define DIA_TESTS_BROKER_H

#include "served.h"

/* A real broker, which keeps nothing on a disk, so that it has forgotten all when it begins again.
 */
static pid_t broker;

/* Begins it at an address of this machine; more: lines of its settings besides. */
static inline void broker_begins_at(const char *address, unsigned port, const char *more)
{
    char config[400];
    int n = snprintf(config, sizeof config,
                     "listener %u %s\npersistence false\nuser root\n"
                     "%s",
                     port, address, more);
    write_file("broker.conf", config, (size_t)n);
    broker = fork();
    if (broker == 0) {
        prctl(PR_SET_PDEATHSIG, SIGKILL);
        int log = open("broker.log", O_WRONLY | O_CREAT | O_APPEND, 0644);
        dup2(log, 1);
        dup2(log, 2);
        execlp("mosquitto", "mosquitto", "-c", "broker.conf", (char *)NULL);
        execl("/usr/sbin/mosquitto", "mosquitto", "-c", "broker.conf", (char *)NULL);
        _exit(127);
    }
    struct sockaddr_in to = {.sin_family = AF_INET, .sin_port = htons((uint16_t)port)};
    inet_pton(AF_INET, address, &to.sin_addr);
    for (double until = seconds() + 10; seconds() < until; rest_ms(20)) {
        int fd = socket(AF_INET, SOCK_STREAM, 0);
        int there = connect(fd, (struct sockaddr *)&to, sizeof to) == 0;
        close(fd);
        if (there)
            return;
    }
    fail_msg("the broker does not begin");
}

static inline void broker_begins(unsigned port, const char *more)
{
    broker_begins_at("127.0.0.1", port, more);
}

static inline void broker_ends(int signal)
{
    kill(broker, signal);
    waitpid(broker, NULL, 0);
    broker = 0;
}

#endif
