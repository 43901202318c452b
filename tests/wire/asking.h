/* SPDX-License-Identifier: MIT */
#ifndef DIA_TESTS_ASKING_H
#define DIA_TESTS_ASKING_H

#include "families.h"

static const uint16_t patterns[] = {0x9d35, 0x0000, 0x5aa7, 0xffff, 0x1240};
#define PATTERNS (sizeof patterns / sizeof patterns[0])

/* As a program that does not give up at once: DIA_BUSY is asked again, for 2 s at most. */
static inline enum dia_status keep_asking(struct dia_driver *driver,
                                          enum dia_status (*what)(struct dia_driver *driver))
{
    uint64_t until_ns = sim.now_ns + 2000000000u;
    enum dia_status status;
    while ((status = what(driver)) == DIA_BUSY && sim.now_ns < until_ns)
        dia_sim_advance_us(&sim, 20);
    return status;
}

static inline enum dia_status poll_once(struct dia_driver *driver)
{
    uint32_t again_us = UINT32_MAX;
    enum dia_status status = dia_driver_poll(driver, &again_us);
    assert_int_not_equal(again_us, UINT32_MAX);
    if (status == DIA_BUSY && again_us > 20)
        dia_sim_advance_us(&sim, again_us - 20);
    return status;
}

/* A busy show is what a program polls for; an error that poll tells is told. */
static uint32_t told;
static inline enum dia_status show_once(struct dia_driver *driver)
{
    enum dia_status status = dia_driver_show(driver);
    if (status == DIA_BUSY && poll_once(driver) == DIA_PORT_FAILED)
        told++;
    return status;
}

#endif
