/* SPDX-License-Identifier: MIT */
#include <signal.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#include "linux_private.h"

/*
 * A transfer keeps its caller waiting until it is over, so a long one goes to a thread of the bus.
 * A short one is sent at once: waking a thread would take longer.
 */
#define AT_ONCE_US 200

static void *work(void *self)
{
    struct dia_linux_bus *bus = self;
    pthread_mutex_lock(&bus->mutex);
    while (!bus->ends || bus->is_sending) {
        if (!bus->is_sending) {
            pthread_cond_wait(&bus->wake, &bus->mutex);
            continue;
        }
        struct linux_job job = bus->job;
        pthread_mutex_unlock(&bus->mutex);
        int error = bus->sends(bus, &job);
        pthread_mutex_lock(&bus->mutex);
        bus->error = error;
        bus->is_sending = 0;
    }
    pthread_mutex_unlock(&bus->mutex);
    return NULL;
}

struct dia_linux_bus *dia_linux_bus_new(const char *path, int fd,
                                        int (*sends)(struct dia_linux_bus *bus,
                                                     const struct linux_job *job))
{
    struct dia_linux_bus *bus = calloc(1, sizeof *bus);
    if (!bus)
        return NULL;
    snprintf(bus->path, sizeof bus->path, "%s", path);
    bus->fd = fd;
    bus->sends = sends;
    pthread_mutex_init(&bus->mutex, NULL);
    pthread_cond_init(&bus->wake, NULL);
    return bus;
}

void dia_linux_bus_free(struct dia_linux_bus *bus)
{
    if (!bus)
        return;
    pthread_mutex_lock(&bus->mutex);
    bus->ends = 1;
    pthread_cond_signal(&bus->wake);
    pthread_mutex_unlock(&bus->mutex);
    if (bus->has_thread)
        pthread_join(bus->thread, NULL);
    pthread_cond_destroy(&bus->wake);
    pthread_mutex_destroy(&bus->mutex);
    if (bus->fd >= 0)
        close(bus->fd);
    free(bus);
}

enum dia_status dia_linux_bus_start(struct dia_linux *computer, struct dia_linux_bus *bus,
                                    const struct linux_job *job, uint64_t wire_us)
{
    pthread_mutex_lock(&bus->mutex);
    enum dia_status status = bus->is_sending ? DIA_BUSY : DIA_OK;
    if (status == DIA_OK && wire_us > AT_ONCE_US && !bus->has_thread) {
        sigset_t all, was; /* signals are for the program's own threads */
        sigfillset(&all);
        pthread_sigmask(SIG_BLOCK, &all, &was);
        bus->has_thread = pthread_create(&bus->thread, NULL, work, bus) == 0;
        pthread_sigmask(SIG_SETMASK, &was, NULL);
        if (!bus->has_thread)
            status = dia_linux_wrong(computer, DIA_PORT_FAILED,
                                     "%s: its thread cannot begin: out of memory", bus->path);
    }
    if (status == DIA_OK) {
        bus->error = 0;
        bus->job = *job;
        bus->is_sending = wire_us > AT_ONCE_US;
        if (bus->is_sending)
            pthread_cond_signal(&bus->wake);
    }
    pthread_mutex_unlock(&bus->mutex);
    if (status == DIA_OK && wire_us <= AT_ONCE_US) /* the thread sleeps: nobody else touches it */
        bus->error = bus->sends(bus, job);
    return status;
}

enum dia_status dia_linux_bus_poll(struct dia_linux *computer, struct dia_linux_bus *bus)
{
    pthread_mutex_lock(&bus->mutex);
    int error = bus->error;
    enum dia_status status = bus->is_sending ? DIA_BUSY : error ? DIA_PORT_FAILED : DIA_OK;
    bus->error = 0;
    bus->told = error;
    pthread_mutex_unlock(&bus->mutex);
    if (status == DIA_PORT_FAILED)
        dia_linux_wrong(computer, status, "%s: the transfer was refused: %s", bus->path,
                        strerror(error));
    return status;
}
