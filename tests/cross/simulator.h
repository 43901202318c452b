/* SPDX-License-Identifier: MIT */
#ifndef TESTS_CROSS_SIMULATOR_H
#define TESTS_CROSS_SIMULATOR_H

#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <simavr/avr_ioport.h>
#include <simavr/avr_twi.h>
#include <simavr/avr_uart.h>
#include <simavr/sim_avr.h>
#include <simavr/sim_elf.h>

#include <diachrome/edge.h>

/*
 * The port of the ATmega328P, run in an instruction-level simulator: what comes out of its pins
 * goes to the bench, edge by edge. Programs: *_avr.c, built by cross.sh.
 */
#define PIN   22
#define EDGES (1u << 22)

static struct dia_edge edges[EDGES];
static uint32_t edge_count;

/* What is heard: the pins in a mask, as the port counts them. */
static uint32_t heard_pins;
static avr_t *chip;

static void hear(struct avr_irq_t *irq, uint32_t value, void *param)
{
    (void)irq;
    assert_true(edge_count < EDGES);
    edges[edge_count].t_ns = chip->cycle * 1000 / (chip->frequency / 1000000);
    edges[edge_count].pin = (uint8_t)(uintptr_t)param;
    edges[edge_count++].level = value != 0;
}

/* What a program says on its serial port. */
static char said[1024];
static size_t said_count;

static void hear_serial(struct avr_irq_t *irq, uint32_t value, void *param)
{
    (void)irq;
    (void)param;
    assert_true(said_count < sizeof said - 1);
    said[said_count++] = (char)value;
    said[said_count] = 0;
}

/* A device on the two-wire bus at address 0x27 that takes all it gets. */
static uint8_t taken[16];
static size_t taken_count;

static void hear_bus(struct avr_irq_t *irq, uint32_t value, void *param)
{
    avr_irq_t *answer = param;
    avr_twi_msg_irq_t message = {.u.v = value};
    static uint8_t selected;
    (void)irq;
    if (message.u.twi.msg & TWI_COND_STOP)
        selected = 0;
    if (message.u.twi.msg & TWI_COND_START)
        selected = message.u.twi.addr >> 1 == 0x27;
    if (!selected)
        return;
    if (message.u.twi.msg & TWI_COND_START)
        avr_raise_irq(answer, avr_twi_irq_msg(TWI_COND_ACK, message.u.twi.addr, 1));
    if (message.u.twi.msg & TWI_COND_WRITE) {
        assert_true(taken_count < sizeof taken);
        taken[taken_count++] = message.u.twi.data;
        avr_raise_irq(answer, avr_twi_irq_msg(TWI_COND_ACK, message.u.twi.addr, 1));
    }
}

/* A program, with all of its RAM set to a pattern, at its start. */
static inline avr_t *load(const char *name, uint32_t mhz)
{
    const char *folder = getenv("DIACHROME_CROSS");
    char path[512];
    elf_firmware_t firmware;
    memset(&firmware, 0, sizeof firmware);
    assert_non_null(folder);
    snprintf(path, sizeof path, "%s/avr/%s", folder, name);
    assert_int_equal(elf_read_firmware(path, &firmware), 0);
    avr_t *avr = avr_make_mcu_by_name("atmega328p");
    assert_non_null(avr);
    avr_init(avr);
    firmware.frequency = mhz * 1000000;
    avr_load_firmware(avr, &firmware);
    memset(avr->data + 0x100, 0xa5, 0x800);
    chip = avr;
    edge_count = 0;
    said_count = taken_count = 0;
    for (uint32_t pin = 0; pin < 24; pin++) {
        if (heard_pins >> pin & 1u)
            avr_irq_register_notify(avr_io_getirq(avr,
                                                  (uint32_t)AVR_IOCTL_IOPORT_GETIRQ('B' + pin / 8),
                                                  (int)(pin % 8)),
                                    hear, (void *)(uintptr_t)pin);
    }
    uint32_t quiet = 0; /* without the simulator's own echo */
    avr_ioctl(avr, AVR_IOCTL_UART_SET_FLAGS('0'), &quiet);
    avr_irq_register_notify(avr_io_getirq(avr, AVR_IOCTL_UART_GETIRQ('0'), UART_IRQ_OUTPUT),
                            hear_serial, NULL);
    avr_irq_register_notify(avr_io_getirq(avr, AVR_IOCTL_TWI_GETIRQ(0), TWI_IRQ_OUTPUT), hear_bus,
                            avr_io_getirq(avr, AVR_IOCTL_TWI_GETIRQ(0), TWI_IRQ_INPUT));
    return avr;
}

/* Runs a program to its end. Returns the simulated chip. */
static inline avr_t *run(const char *name, uint32_t mhz)
{
    avr_t *avr = load(name, mhz);
    int state = cpu_Running;
    for (uint32_t i = 0; i < 40000000u && state != cpu_Done && state != cpu_Crashed; i++)
        state = avr_run(avr);
    assert_int_equal(state, cpu_Done);
    return avr;
}

/* Runs one that does not end for some time. */
static inline avr_t *run_for(const char *name, uint32_t mhz, uint32_t ms)
{
    avr_t *avr = load(name, mhz);
    while (avr->cycle < (uint64_t)ms * mhz * 1000u)
        assert_int_not_equal(avr_run(avr), cpu_Crashed);
    return avr;
}

#endif
