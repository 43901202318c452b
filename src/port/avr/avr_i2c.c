/* SPDX-License-Identifier: MIT */
#include "avr_private.h"

/*
 * Bus 0 is the two-wire interface: data PC4, clock PC5, 100 kHz. It waits with the clock held low
 * until it is told what comes next, so each poll takes one step and no interrupt is needed.
 */
#define RATE     ((uint8_t)((F_CPU / 100000ul - 16ul) / 2ul)) /* sheet: F / (16 + 2 RATE) */
#define STUCK_US 25000u                                       /* SMBus calls this a time-out */

/* What the interface reports: sheet, status codes of the master transmitter. */
#define STARTED      0x08
#define ADDRESS_SEEN 0x18
#define BYTE_SEEN    0x28

static struct {
    const uint8_t *bytes;
    uint16_t left;
    uint8_t address;
    uint8_t state; /* 0: at rest */
    uint8_t failed;
    uint32_t moved_us; /* when it last went on */
} line;
enum { REST, SENDING, STOPPING };

enum dia_status dia_avr_i2c_start(struct dia_port *port, uint8_t bus, uint8_t address,
                                  const uint8_t *bytes, uint32_t n)
{
    if (bus != 0 || n == 0 || n > UINT16_MAX)
        return DIA_BAD_VALUE;
    if (line.state != REST)
        return DIA_BUSY;
    line.bytes = bytes;
    line.left = (uint16_t)n;
    line.address = address;
    line.failed = 0;
    line.moved_us = dia_avr_now_us(port);
    line.state = SENDING;
    TWSR = 0;
    TWBR = RATE;
    TWCR = _BV(TWINT) | _BV(TWSTA) | _BV(TWEN);
    return DIA_OK;
}

static void stop(uint8_t failed)
{
    line.failed = failed;
    line.state = STOPPING;
    TWCR = _BV(TWINT) | _BV(TWSTO) | _BV(TWEN);
}

static void go_on(void)
{
    uint8_t status = TWSR & 0xf8;
    if (status == STARTED)
        TWDR = (uint8_t)(line.address << 1);
    else if ((status != ADDRESS_SEEN && status != BYTE_SEEN) || line.left == 0) {
        stop(line.left != 0 || status != BYTE_SEEN); /* nobody is there, or said no */
        return;
    } else {
        TWDR = *line.bytes++;
        line.left--;
    }
    TWCR = _BV(TWINT) | _BV(TWEN);
}

enum dia_status dia_avr_i2c_poll(struct dia_port *port, uint8_t bus)
{
    if (bus != 0)
        return DIA_BAD_VALUE;
    if (line.state == REST)
        return DIA_OK;
    uint8_t moves = line.state == SENDING ? TWCR & _BV(TWINT) : !(TWCR & _BV(TWSTO));
    if (!moves && dia_avr_now_us(port) - line.moved_us <= STUCK_US)
        return DIA_BUSY;
    if (!moves) { /* somebody holds a wire: let go of both */
        TWCR = 0;
        line.failed = 1;
        line.state = REST;
    } else if (line.state == SENDING) {
        line.moved_us = dia_avr_now_us(port);
        go_on();
        return DIA_BUSY;
    }
    line.state = REST;
    return line.failed ? DIA_PORT_FAILED : DIA_OK;
}
