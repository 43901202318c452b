/* SPDX-License-Identifier: MIT */
#include <sched.h>
#include <string.h>
#include <stdio.h>
#include <time.h>

#include "family.h"
#include "outlet_private.h"

/*
 * The thread that drives real parts. It alone touches the drivers, so a tick never comes in the
 * middle of anything: it waits for the end of a poll, which is short. Frames are copied in when the
 * parts have taken the one before.
 */
#define CONTACTS_NS 5000000u   /* buttons are read so often */
#define RETRY_NS    200000000u /* after which what was refused is shown again */
#define LATE_NS     1000000u   /* a tick that is later has missed its time */
#define SHORTEST_NS 50000u     /* it sleeps: asking more often is of no use */
#define LONGEST_NS  1000000000u
#define DARK_NS     2000000000u /* that a part may take to go dark: a choice */
#define PRIORITY    10 /* among those of real time: above all that has none, below the kernel's */

uint64_t dia_outlet_now_ns(void)
{
    struct timespec at;
    clock_gettime(CLOCK_MONOTONIC, &at);
    return (uint64_t)at.tv_sec * 1000000000u + (uint64_t)at.tv_nsec;
}

/* ---- frames ---------------------------------------------------------------------------------- */

/* The newest frame becomes what the driver is going to show. */
static void draw(struct dia_outlet *outlet, struct outlet_part *part)
{
    memcpy(part->driver->drawing, part->drawing, part->driver->drawing_bytes);
    part->driver->master = part->master;
    if (part->strip)
        part->strip->slot = part->slot;
    else if (part->family->copy)
        part->family->copy(part->driver, (const struct dia_driver *)(const void *)part->state);
    uint8_t every = part->family ? part->family->refresh_every : 0;
    if (every && part->frames++ % every == 0)
        dia_driver_refresh(part->driver);
    part->taken = outlet->version;
    part->retry_ns = 0;
}

/* ---- errors, with the mutex held ------------------------------------------------------------- */

static void note(struct dia_outlet *outlet, struct outlet_part *part, enum dia_status status)
{
    if (status == DIA_OK || status == DIA_BUSY)
        return;
    const char *why = outlet->computer.why;
    outlet->state.errors++;
    outlet->answer = status;
    part->retry_ns = dia_outlet_now_ns() + RETRY_NS;
    snprintf(outlet->state.trouble, sizeof outlet->state.trouble, "%s: %.300s", part->name,
             why[0] ? why : "a transfer was refused");
    outlet->computer.why[0] = 0;
}

/* Each error once. */
static void note_members(struct dia_outlet *outlet)
{
    for (uint8_t i = 0; i < outlet->set.member_count; i++) {
        uint8_t *status = &outlet->members[i].status;
        note(outlet, &outlet->parts[outlet->part_of[i]], (enum dia_status) * status);
        if (*status != DIA_BUSY)
            *status = DIA_OK;
    }
}

/* ---- a turn of the thread -------------------------------------------------------------------- */

/* Errors that ticks met come back before a frame is handed over, and may not keep it. */
static void clear_errors(struct dia_outlet *outlet)
{
    if (outlet->is_moving || outlet->set.member_count == 0)
        return;
    enum dia_status status = dia_set_poll(&outlet->set, NULL);
    outlet->is_moving = status == DIA_BUSY;
    if (status == DIA_OK || status == DIA_BUSY)
        return;
    pthread_mutex_lock(&outlet->mutex);
    note_members(outlet);
    pthread_mutex_unlock(&outlet->mutex);
}

/* Whether something that was refused is due again: one of the set, or these cells. */
static int is_due_again(const struct dia_outlet *outlet, const struct outlet_part *cells)
{
    uint64_t now = dia_outlet_now_ns();
    int due = 0;
    for (uint32_t i = 0; i < outlet->count; i++) {
        const struct outlet_part *part = &outlet->parts[i];
        if (cells ? part == cells : !part->is_cells)
            due |= part->retry_ns != 0 && part->retry_ns <= now;
    }
    return due;
}

/* Hands frames to those that rest. The copies are made with the mutex held, the rest without. */
static void hand_over(struct dia_outlet *outlet)
{
    uint8_t shows[OUTLET_PARTS] = {0}, set_shows = 0;
    clear_errors(outlet);
    pthread_mutex_lock(&outlet->mutex);
    int again = outlet->repeat_ns && outlet->version &&
                dia_outlet_now_ns() >= outlet->sent_ns + outlet->repeat_ns;
    if (!outlet->is_moving && outlet->set.member_count && outlet->version &&
        (again || outlet->taken != outlet->version || is_due_again(outlet, NULL))) {
        set_shows = 1;
        outlet->taken = outlet->version;
    }
    if (again)
        outlet->sent_ns = dia_outlet_now_ns();
    for (uint32_t i = 0; i < outlet->count; i++) {
        struct outlet_part *part = &outlet->parts[i];
        shows[i] = part->is_cells
                       ? !part->is_moving && outlet->version &&
                             (again || part->taken != outlet->version || is_due_again(outlet, part))
                       : set_shows;
        if (shows[i] && ((again && !part->is_cells) || outlet->refreshes))
            dia_driver_refresh(part->driver);
        if (shows[i])
            draw(outlet, part);
    }
    outlet->refreshes = 0;
    pthread_mutex_unlock(&outlet->mutex);
    if (set_shows) {
        dia_set_show(&outlet->set);
        outlet->is_moving = 1;
        pthread_mutex_lock(&outlet->mutex);
        note_members(outlet);
        outlet->state.frames++;
        pthread_mutex_unlock(&outlet->mutex);
    }
    for (uint32_t i = 0; i < outlet->count; i++) {
        struct outlet_part *part = &outlet->parts[i];
        if (!shows[i] || !part->is_cells)
            continue;
        enum dia_status status = dia_driver_show(part->driver);
        part->is_moving = 1;
        pthread_mutex_lock(&outlet->mutex);
        note(outlet, part, status);
        pthread_mutex_unlock(&outlet->mutex);
    }
}

static uint64_t sooner(uint64_t a, uint64_t b)
{
    return a < b ? a : b;
}

/* Calls all ticks that are due; when the next one is. */
static uint64_t tick(struct dia_outlet *outlet)
{
    uint64_t next_ns = UINT64_MAX, ticks = 0, missed = 0, latest_ns = 0;
    for (uint32_t i = 0; i < outlet->count; i++) {
        struct outlet_part *part = &outlet->parts[i];
        uint64_t now = dia_outlet_now_ns();
        if (part->due_ns && part->due_ns <= now) {
            uint64_t late_ns = now - part->due_ns;
            latest_ns = late_ns > latest_ns ? late_ns : latest_ns;
            ticks++;
            if (late_ns > LATE_NS) { /* those between are given up */
                missed++;
                part->due_ns = now;
            }
            uint32_t again_us = dia_driver_tick(part->driver);
            part->due_ns = again_us ? part->due_ns + again_us * 1000ull : 0;
        }
        if (part->due_ns)
            next_ns = sooner(next_ns, part->due_ns);
    }
    if (ticks) {
        pthread_mutex_lock(&outlet->mutex);
        outlet->state.ticks += ticks;
        outlet->state.missed += missed;
        if (latest_ns / 1000 > outlet->state.latest_us)
            outlet->state.latest_us = (uint32_t)(latest_ns / 1000);
        pthread_mutex_unlock(&outlet->mutex);
    }
    return next_ns;
}

/* Keeps all going; when to come again. */
static uint64_t poll_all(struct dia_outlet *outlet)
{
    uint64_t now = dia_outlet_now_ns(), next_ns = UINT64_MAX;
    uint32_t again_us;
    int moves = 0;
    if (outlet->is_moving) {
        enum dia_status status = dia_set_poll(&outlet->set, &again_us);
        if (status == DIA_BUSY)
            next_ns = sooner(next_ns, now + again_us * 1000ull);
        else if (status != DIA_OK) {
            next_ns = now;
            pthread_mutex_lock(&outlet->mutex);
            note_members(outlet);
            pthread_mutex_unlock(&outlet->mutex);
        }
        outlet->is_moving = status != DIA_OK;
        moves |= outlet->is_moving;
    }
    for (uint32_t i = 0; i < outlet->count; i++) {
        struct outlet_part *part = &outlet->parts[i];
        if (!part->is_moving)
            continue;
        enum dia_status status = dia_driver_poll(part->driver, &again_us);
        part->is_moving = status == DIA_BUSY;
        if (status == DIA_BUSY)
            next_ns = sooner(next_ns, now + again_us * 1000ull);
        moves |= part->is_moving;
        pthread_mutex_lock(&outlet->mutex);
        note(outlet, part, status);
        pthread_mutex_unlock(&outlet->mutex);
    }
    pthread_mutex_lock(&outlet->mutex);
    int all_taken = outlet->set.member_count == 0 || outlet->taken == outlet->version;
    for (uint32_t i = 0; i < outlet->count; i++)
        all_taken &= !outlet->parts[i].is_cells || outlet->parts[i].taken == outlet->version;
    if (!moves && all_taken && outlet->shown != outlet->version) {
        outlet->shown = outlet->version;
        pthread_cond_broadcast(&outlet->done);
    }
    if (!moves && !all_taken)
        next_ns = now; /* a newer one has come in the meantime */
    if (outlet->repeat_ns)
        next_ns = sooner(next_ns, outlet->sent_ns + outlet->repeat_ns);
    outlet->state.failing = 0;
    for (uint32_t i = 0; i < outlet->count; i++) {
        if (outlet->parts[i].retry_ns == 0)
            continue;
        outlet->state.failing++;
        next_ns = sooner(next_ns, outlet->parts[i].retry_ns);
    }
    pthread_mutex_unlock(&outlet->mutex);
    return next_ns;
}

static uint64_t read_contacts(struct dia_outlet *outlet)
{
    const struct dia_rig *rig = outlet->drives.rig;
    struct dia_port *port = outlet->drives.port;
    uint8_t keys[DIA_RIG_DEVICES + 1] = {0};
    unsigned buttons = 0;
    int any = rig->button_count != 0;
    for (uint32_t i = 0; i < rig->device_count; i++) {
        const struct dia_rig_family *family = rig->devices[i].family;
        if (family->keys) {
            keys[i] = family->keys(&outlet->drives.devices[i]);
            any = 1;
        }
    }
    uint64_t now = dia_outlet_now_ns();
    if (!any)
        return UINT64_MAX;
    if (now < outlet->contacts_ns)
        return outlet->contacts_ns;
    for (uint32_t k = 0; k < rig->button_count; k++) {
        uint8_t level = !rig->buttons[k].pressed;
        port->ops->pin_read(port, (uint8_t)rig->buttons[k].pin, &level);
        buttons |= (unsigned)(level == rig->buttons[k].pressed) << k;
    }
    keys[DIA_RIG_DEVICES] = (uint8_t)buttons;
    pthread_mutex_lock(&outlet->mutex);
    memcpy(outlet->keys, keys, sizeof keys);
    pthread_mutex_unlock(&outlet->mutex);
    return outlet->contacts_ns = now + CONTACTS_NS;
}

static void rest(uint64_t ns)
{
    struct timespec time = {0, (long)ns};
    nanosleep(&time, NULL);
}

/* Until it rests; ticks go on. DIA_BUSY: the kernel keeps it waiting for too long. */
static enum dia_status finish(struct dia_outlet *outlet, struct dia_driver *driver)
{
    uint64_t until_ns = dia_outlet_now_ns() + DARK_NS;
    enum dia_status status;
    while ((status = dia_driver_poll(driver, NULL)) == DIA_BUSY && dia_outlet_now_ns() < until_ns) {
        tick(outlet);
        rest(SHORTEST_NS);
    }
    return status;
}

/* dia_driver_dark allows for twice what the wire takes, and the kernel may take longer: what it has
 * begun then goes on. Of a strip that is a frame. */
static enum dia_status part_dark(struct dia_outlet *outlet, const struct outlet_part *part)
{
    struct dia_driver *driver = part->driver;
    driver->hold = 0;
    enum dia_status status = finish(outlet, driver);
    if (status == DIA_BUSY)
        return status;
    if (part->strip) {
        driver->master = 0; /* until the next frame */
        status = dia_driver_show(driver);
        return status == DIA_OK ? finish(outlet, driver) : status;
    }
    status = dia_driver_dark(driver);
    return status == DIA_BUSY ? finish(outlet, driver) : status;
}

/* What was handed over before is not shown any more. Strips first: they may take a while. */
static void go_dark(struct dia_outlet *outlet)
{
    enum dia_status worst = DIA_OK;
    for (uint32_t k = 0; k < outlet->count; k++) {
        struct outlet_part *part = &outlet->parts[outlet->count - 1 - k];
        enum dia_status status = part_dark(outlet, part);
        worst = status == DIA_OK ? worst : status;
        part->is_moving = 0;
        part->taken = outlet->version;
        pthread_mutex_lock(&outlet->mutex);
        note(outlet, part, status);
        part->retry_ns = 0; /* it is not shown again */
        pthread_mutex_unlock(&outlet->mutex);
    }
    outlet->is_moving = 0;
    pthread_mutex_lock(&outlet->mutex);
    outlet->taken = outlet->shown = outlet->version;
    outlet->answer = worst;
    outlet->goes_dark = 0;
    outlet->repeat_ns = 0;
    pthread_cond_broadcast(&outlet->done);
    pthread_mutex_unlock(&outlet->mutex);
}

static void sleep_until(struct dia_outlet *outlet, uint64_t ns)
{
    uint64_t now = dia_outlet_now_ns();
    ns = ns < now + SHORTEST_NS ? now + SHORTEST_NS : ns > now + LONGEST_NS ? now + LONGEST_NS : ns;
    struct timespec at = {(time_t)(ns / 1000000000u), (long)(ns % 1000000000u)};
    pthread_mutex_lock(&outlet->mutex);
    int has_frame =
        outlet->taken != outlet->version && !outlet->is_moving && outlet->set.member_count != 0;
    if (!outlet->ends && !outlet->goes_dark && !has_frame)
        pthread_cond_timedwait(&outlet->wake, &outlet->mutex, &at);
    pthread_mutex_unlock(&outlet->mutex);
}

void *dia_outlet_drive(void *self)
{
    struct dia_outlet *outlet = self;
    const struct sched_param priority = {.sched_priority = PRIORITY};
    uint8_t has_priority = pthread_setschedparam(pthread_self(), SCHED_FIFO, &priority) == 0,
            ends = 0, dark = 0;
    pthread_mutex_lock(&outlet->mutex);
    outlet->state.has_priority = has_priority;
    pthread_mutex_unlock(&outlet->mutex);
    while (!ends) {
        if (dark)
            go_dark(outlet);
        hand_over(outlet);
        uint64_t next_ns = tick(outlet);
        next_ns = sooner(next_ns, poll_all(outlet));
        next_ns = sooner(next_ns, read_contacts(outlet));
        sleep_until(outlet, next_ns);
        pthread_mutex_lock(&outlet->mutex);
        ends = outlet->ends;
        dark = outlet->goes_dark;
        pthread_mutex_unlock(&outlet->mutex);
    }
    for (uint32_t i = 0; i < outlet->count; i++) {
        if (outlet->parts[i].due_ns)
            part_dark(outlet, &outlet->parts[i]);
    }
    return NULL;
}
