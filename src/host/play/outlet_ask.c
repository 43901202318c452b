/* SPDX-License-Identifier: MIT */
#include <signal.h>
#include <stdio.h>
#include <string.h>
#include <time.h>

#include "family.h"
#include "outlet_private.h"

/* What others ask of the thread that drives real parts. */

/* With the first frame: until then nothing is sent. With the mutex held. */
static void start(struct dia_outlet *outlet)
{
    uint64_t now = dia_outlet_now_ns();
    if (outlet->has_thread)
        return;
    for (uint32_t i = 0; i < outlet->count; i++)
        outlet->parts[i].due_ns = dia_driver_has_tick(outlet->parts[i].driver) ? now : 0;
    sigset_t all, was; /* signals are for the program's own thread */
    sigfillset(&all);
    pthread_sigmask(SIG_BLOCK, &all, &was);
    outlet->has_thread = pthread_create(&outlet->thread, NULL, dia_outlet_drive, outlet) == 0;
    pthread_sigmask(SIG_SETMASK, &was, NULL);
    if (outlet->has_thread)
        return;
    outlet->state.errors++;
    outlet->answer = DIA_PORT_FAILED;
    snprintf(outlet->state.trouble, sizeof outlet->state.trouble,
             "the thread of the parts cannot begin: out of memory");
}

void dia_outlet_take(struct dia_outlet *outlet, const struct dia_player *from)
{
    pthread_mutex_lock(&outlet->mutex);
    for (uint32_t i = 0; i < outlet->count; i++) {
        struct outlet_part *part = &outlet->parts[i];
        const struct dia_driver *driver = from->members[i].driver;
        memcpy(part->drawing, driver->drawing, driver->drawing_bytes);
        part->master = driver->master;
        if (part->state)
            memcpy(part->state, driver, part->family->driver_bytes);
        else
            part->slot = from->lanes[i - outlet->drives.rig->device_count].strip.slot;
    }
    outlet->state.skipped += outlet->version != outlet->taken && outlet->set.member_count != 0;
    outlet->version++;
    start(outlet);
    pthread_cond_signal(&outlet->wake);
    pthread_mutex_unlock(&outlet->mutex);
}

void dia_outlet_state(struct dia_outlet *outlet, struct dia_outlet_state *state)
{
    pthread_mutex_lock(&outlet->mutex);
    *state = outlet->state;
    pthread_mutex_unlock(&outlet->mutex);
}

int dia_outlet_key(struct dia_outlet *outlet, uint8_t *key, uint8_t *is_down)
{
    int found = 0;
    pthread_mutex_lock(&outlet->mutex);
    for (uint32_t i = 0; i <= DIA_RIG_DEVICES && !found; i++) {
        unsigned changed = outlet->keys[i] ^ outlet->told[i];
        for (uint8_t k = 0; k < DIA_KEYS && !found; k++) {
            found = changed >> k & 1;
            *key = (uint8_t)(i * DIA_KEYS + k);
            *is_down = outlet->keys[i] >> k & 1;
        }
        if (found)
            outlet->told[i] ^= (uint8_t)(1u << *key % DIA_KEYS);
    }
    pthread_mutex_unlock(&outlet->mutex);
    return found;
}

void dia_outlet_refresh(struct dia_outlet *outlet)
{
    pthread_mutex_lock(&outlet->mutex);
    outlet->refreshes = 1;
    pthread_mutex_unlock(&outlet->mutex);
}

void dia_outlet_repeats(struct dia_outlet *outlet, uint32_t ms)
{
    pthread_mutex_lock(&outlet->mutex);
    outlet->repeat_ns = ms * 1000000ull;
    outlet->sent_ns = dia_outlet_now_ns();
    pthread_cond_signal(&outlet->wake);
    pthread_mutex_unlock(&outlet->mutex);
}

enum dia_status dia_outlet_wait(struct dia_outlet *outlet, uint32_t ms)
{
    uint64_t until = dia_outlet_now_ns() + ms * 1000000ull;
    struct timespec at = {(time_t)(until / 1000000000u), (long)(until % 1000000000u)};
    int late = 0;
    pthread_mutex_lock(&outlet->mutex);
    while (outlet->shown != outlet->version && !late)
        late = pthread_cond_timedwait(&outlet->done, &outlet->mutex, &at) != 0;
    enum dia_status status = outlet->shown != outlet->version ? DIA_BUSY : outlet->answer;
    if (status != DIA_BUSY)
        outlet->answer = DIA_OK;
    pthread_mutex_unlock(&outlet->mutex);
    return status;
}

enum dia_status dia_outlet_dark(struct dia_outlet *outlet)
{
    pthread_mutex_lock(&outlet->mutex);
    start(outlet);
    outlet->goes_dark = outlet->has_thread;
    pthread_cond_signal(&outlet->wake);
    while (outlet->goes_dark)
        pthread_cond_wait(&outlet->done, &outlet->mutex);
    enum dia_status status = outlet->answer;
    outlet->answer = DIA_OK;
    pthread_mutex_unlock(&outlet->mutex);
    return status;
}
