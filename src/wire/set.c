/* SPDX-License-Identifier: MIT */
#include <diachrome/set.h>

enum dia_status dia_set_init(struct dia_set *set, struct dia_set_supply *supplies,
                             uint8_t supply_count, struct dia_set_member *members,
                             uint8_t member_count)
{
    if (supply_count == 0 || member_count == 0)
        return DIA_BAD_VALUE;
    for (uint8_t i = 0; i < member_count; i++) {
        if (!members[i].driver || members[i].supply >= supply_count)
            return DIA_BAD_VALUE;
        members[i].takes_ua = 0;
        members[i].asks_ua = 0;
        members[i].status = DIA_OK;
    }
    for (uint8_t i = 0; i < supply_count; i++) {
        dia_budget_init(&supplies[i].budget, supplies[i].given_ua, 0);
        supplies[i].kept_ua = 0;
    }
    *set = (struct dia_set){supplies, members, supply_count, member_count};
    return DIA_OK;
}

static uint32_t larger(uint32_t a, uint32_t b)
{
    return a > b ? a : b;
}

static uint32_t sum_or_most(uint32_t a, uint32_t b)
{
    uint32_t sum = a + b;
    return sum < a ? UINT32_MAX : sum;
}

/* A lamp's frames change at moments of their own: what counts is the larger of two. */
static void ask_lamps(struct dia_set *set)
{
    for (uint8_t i = 0; i < set->member_count; i++) {
        struct dia_set_member *m = &set->members[i];
        struct dia_budget *budget = &set->supplies[m->supply].budget;
        if (!m->driver->ops->asks_ua)
            continue;
        m->asks_ua = m->driver->ops->asks_ua(m->driver, m->lamp_ua);
        uint32_t *kept_ua = &set->supplies[m->supply].kept_ua;
        *kept_ua = sum_or_most(*kept_ua, larger(m->asks_ua, m->takes_ua));
        budget->idle_ua = *kept_ua; /* strips add theirs */
    }
}

/* The light of each strip, and what dithering may add to it. */
static void ask_strips(struct dia_set *set)
{
    for (uint8_t i = 0; i < set->member_count; i++) {
        struct dia_set_member *m = &set->members[i];
        struct dia_budget *budget = &set->supplies[m->supply].budget;
        uint32_t light = budget->light_ua, held = budget->held_ua;
        if (!m->driver->ops->budget)
            continue;
        m->driver->ops->budget(m->driver, budget);
        m->asks_ua = budget->light_ua - light;
        m->held_ua = budget->held_ua - held;
    }
}

/* A share of a current, rounded up; both parts fit 32 bits. */
static uint32_t share_of(uint32_t ua, dia_share share)
{
    return (ua >> 15) * share + (((ua & 0x7fffu) * share + 0x7fffu) >> 15);
}

static void limit_strips(struct dia_set *set)
{
    for (uint8_t i = 0; i < set->supply_count; i++)
        set->supplies[i].darker = 0;
    for (uint8_t i = 0; i < set->member_count; i++) {
        struct dia_set_member *m = &set->members[i];
        if (!m->driver->ops->budget)
            continue;
        m->driver->share = dia_set_share(set, m->supply);
        m->asks_ua = share_of(m->asks_ua, m->driver->share) + m->held_ua;
        if (m->asks_ua < m->takes_ua)
            set->supplies[m->supply].darker = 1;
    }
}

static enum dia_status first_error(enum dia_status a, enum dia_status b)
{
    return a != DIA_OK && a != DIA_BUSY ? a : b;
}

enum dia_status dia_set_show(struct dia_set *set)
{
    enum dia_status status = dia_set_poll(set, 0);
    if (status != DIA_OK)
        return status;
    for (uint8_t i = 0; i < set->supply_count; i++) {
        dia_budget_init(&set->supplies[i].budget, set->supplies[i].given_ua, 0);
        set->supplies[i].kept_ua = 0;
    }
    ask_lamps(set);
    ask_strips(set);
    limit_strips(set);
    for (uint8_t i = 0; i < set->member_count; i++) {
        struct dia_set_member *m = &set->members[i];
        m->driver->hold = m->asks_ua > m->takes_ua && set->supplies[m->supply].darker;
        enum dia_status answer = dia_driver_show(m->driver);
        if (answer == DIA_BUSY)
            answer = DIA_PORT_FAILED; /* it was at rest just now */
        status = first_error(status, answer);
        m->status = (uint8_t)(answer == DIA_OK ? DIA_BUSY : answer);
        if (answer != DIA_OK) /* it may have taken some of it */
            m->takes_ua = larger(m->takes_ua, m->asks_ua);
        else if (!m->driver->ops->asks_ua)
            m->takes_ua = m->asks_ua; /* in its order */
    }
    return status;
}

/* Those that wait for others to get darker go when all others show. */
static uint8_t let_go(struct dia_set *set)
{
    uint8_t any = 0;
    for (uint8_t i = 0; i < set->member_count; i++) {
        any |= set->members[i].driver->hold;
        set->members[i].driver->hold = 0;
    }
    return any;
}

enum dia_status dia_set_poll(struct dia_set *set, uint32_t *again_us)
{
    enum dia_status worst = DIA_OK;
    uint32_t soonest = UINT32_MAX;
    uint8_t busy = 0, moving = 0;
    for (uint8_t i = 0; i < set->member_count; i++) {
        struct dia_set_member *m = &set->members[i];
        uint32_t again;
        enum dia_status status = dia_driver_poll(m->driver, &again);
        worst = first_error(worst, status == DIA_BUSY ? DIA_OK : status);
        if (m->status == DIA_BUSY || (status != DIA_BUSY && status != DIA_OK))
            m->status = (uint8_t)status;
        if (status == DIA_OK && m->driver->ops->asks_ua)
            m->takes_ua = m->asks_ua;
        if (m->status != DIA_BUSY) /* a gap after init keeps nobody */
            continue;
        busy = 1;
        if (m->driver->hold) /* for others, which say when */
            continue;
        if (m->driver->ops->budget)
            moving = 1;
        soonest = again < soonest ? again : soonest;
    }
    if (!moving && let_go(set))
        soonest = 0;
    if (again_us)
        *again_us = busy ? soonest : 0;
    return worst != DIA_OK ? worst : busy ? DIA_BUSY : DIA_OK;
}

/* Member by member would not let those go that wait, so all are polled until each has had its
 * time; the first error is kept. */
enum dia_status dia_set_wait(struct dia_set *set)
{
    struct dia_port *port = set->members[0].driver->port;
    uint32_t began_us = port->ops->now_us(port), most_us = 0;
    enum dia_status worst = DIA_OK, status;
    for (uint8_t i = 0; i < set->member_count; i++) {
        struct dia_about about;
        dia_driver_about(set->members[i].driver, &about);
        most_us += 2u * about.worst_us + 100u;
    }
    uint8_t over;
    do { /* as dia_driver_wait */
        over = port->ops->now_us(port) - began_us > most_us;
        status = dia_set_poll(set, 0);
        worst = first_error(worst, status == DIA_BUSY ? DIA_OK : status);
    } while (status != DIA_OK && !over);
    return worst != DIA_OK ? worst : status;
}

enum dia_status dia_set_show_and_wait(struct dia_set *set)
{
    enum dia_status status = dia_set_show(set);
    if (status == DIA_BUSY) {
        status = dia_set_wait(set);
        if (status == DIA_OK)
            status = dia_set_show(set);
    }
    return status == DIA_OK ? dia_set_wait(set) : status;
}

enum dia_status dia_set_dark(struct dia_set *set)
{
    enum dia_status worst = DIA_OK;
    for (uint8_t i = 0; i < set->member_count; i++) {
        struct dia_set_member *m = &set->members[i];
        enum dia_status status = dia_driver_dark(m->driver);
        worst = status != DIA_OK ? status : worst;
        m->status = (uint8_t)status;
        if (status == DIA_OK)
            m->takes_ua = 0;
    }
    return worst;
}

uint32_t dia_set_asked_ua(const struct dia_set *set, uint8_t supply)
{
    const struct dia_set_supply *from = &set->supplies[supply];
    uint32_t asked_ua = dia_budget_asked_ua(&from->budget);
    if (asked_ua == UINT32_MAX)
        return asked_ua;
    asked_ua -= from->kept_ua;
    for (uint8_t i = 0; i < set->member_count; i++) {
        const struct dia_set_member *m = &set->members[i];
        if (m->supply == supply && m->driver->ops->asks_ua)
            asked_ua = sum_or_most(asked_ua, m->asks_ua);
    }
    return asked_ua;
}

dia_share dia_set_share(const struct dia_set *set, uint8_t supply)
{
    if (set->supplies[supply].given_ua == DIA_NO_LIMIT)
        return DIA_SHARE_ONE;
    return dia_budget_share(&set->supplies[supply].budget);
}
