/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/driver.h>

#define SLACK_US 100u /* for the steps of a clock that is coarse, and for short frames */

void dia_driver_clear(struct dia_driver *driver)
{
    memset(driver->drawing, driver->ops->blank, (size_t)driver->drawing_bytes);
}

/* Twice the worst time, as the driver says it. */
static uint32_t patience_us(const struct dia_driver *driver)
{
    struct dia_about about;
    dia_driver_about(driver, &about);
    return 2u * about.worst_us + SLACK_US;
}

enum dia_status dia_driver_wait(struct dia_driver *driver)
{
    const DIA_ROM struct dia_port_ops *ops = driver->port->ops;
    uint32_t began_us = ops->now_us(driver->port), most_us = patience_us(driver);
    enum dia_status status;
    uint8_t over;
    do { /* the last one begins when the time is over: interrupts may have taken all of it */
        over = ops->now_us(driver->port) - began_us > most_us;
        status = dia_driver_poll(driver, NULL);
    } while (status == DIA_BUSY && !over);
    return status;
}

enum dia_status dia_driver_show_and_wait(struct dia_driver *driver)
{
    enum dia_status status = dia_driver_show(driver);
    if (status == DIA_BUSY) {
        status = dia_driver_wait(driver);
        if (status == DIA_OK)
            status = dia_driver_show(driver);
    }
    return status == DIA_OK ? dia_driver_wait(driver) : status;
}
