/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_LINUX_PORT_H
#define DIACHROME_LINUX_PORT_H

#include <stdint.h>

#include "linkage.h"
#include "port.h"

DIA_BEGIN

/*
 * The port of a small Linux computer: real parts on its header, by the kernel's own interfaces.
 *
 *   struct dia_linux computer;
 *   dia_linux_init(&computer);
 *   dia_linux_pulses(&computer, 10, "/dev/spidev0.0", 180, &dia_ws2812b.timing);
 *   dia_strip_init(&strip, &computer.port, 10, &dia_ws2812b, pixels, memory, 60);
 *   ...
 *   dia_linux_close(&computer);
 *
 * What goes by what:
 *   one-wire pixels    the data line of an SPI bus (spidev): each bit is 3 to 8 bits of SPI. One
 *                      frame is one transfer, which must fit the kernel's buffer (spidev.bufsiz)
 *   SPI                spidev, or pins of the GPIO chip one after the other
 *   I2C                i2c-dev, at the clock that the kernel has for that bus
 *   pins               the GPIO character device, second version (Linux 5.10 and later)
 * Parallel lanes (planes_start) are not offered.
 *
 * Pins:    numbers of lines of the GPIO chip, 0..63. Lines are inputs until they are first written.
 * Time:    a write of a pin is a system call of about a microsecond, or some. Nothing keeps the
 *          kernel from giving the processor to others in between: pulses and clocks of pins get
 *          longer then, and ticks late. SPI and I2C are timed by hardware.
 * Context: one thread at a time, for the calls below and those of the port; not from a signal. Each
 *          bus has a thread of its own that sends what takes longer than 200 us.
 * Cost:    starting a frame of pulses writes 3 to 8 bytes for each of its bytes; SPI and I2C copy
 *          nothing. What takes less than 200 us on the wire is sent before the call returns.
 * Memory:  the struct is yours; what it needs besides is on the heap until dia_linux_close.
 * Errors:  DIA_BAD_VALUE    a number is out of range, or a pin or bus is given twice
 *          DIA_UNSUPPORTED  this kernel or this device cannot do it
 *          DIA_PORT_FAILED  the device is not there, may not be opened, is in use, or memory ran
 *                           out. why says which, and what would be right; so it does after an error
 *                           of a transmission.
 */
struct dia_linux {
    struct dia_port port;          /* first: the port that drivers get */
    char why[400];                 /* of the last error, a sentence without a full stop */
    struct dia_linux_lines *lines; /* private, as all below */
    struct dia_linux_bus *spi[16], *i2c[16];
    struct dia_linux_pulse *pulses;
};

void dia_linux_init(struct dia_linux *computer);

/* Lines of a GPIO chip, "/dev/gpiochip0": bit k of pins for line k. Once. */
enum dia_status dia_linux_gpio(struct dia_linux *computer, const char *path, uint64_t pins);

/* SPI bus number 0..15 is this device, "/dev/spidev0.0". Its own select is not needed: leave it
 * unconnected, selects of drivers are pins. */
enum dia_status dia_linux_spi(struct dia_linux *computer, uint8_t bus, const char *path);

/* SPI bus number 0..15 is these two pins, which dia_linux_gpio has: two writes a bit. */
enum dia_status dia_linux_spi_pins(struct dia_linux *computer, uint8_t bus, uint8_t clock_pin,
                                   uint8_t data_pin);

/*
 * One-wire pixels: pin is the data line of this SPI device, and frames have at most n bytes with
 * these pulses. DIA_UNSUPPORTED: no SPI clock keeps the pulses, or a frame does not fit the
 * kernel's buffer.
 */
enum dia_status dia_linux_pulses(struct dia_linux *computer, uint8_t pin, const char *path,
                                 uint32_t n, const struct dia_pulse_timing *timing);

/* I2C bus number 0..15 is this device, "/dev/i2c-1". */
enum dia_status dia_linux_i2c(struct dia_linux *computer, uint8_t bus, const char *path);

/* What was chosen for the pulses of a pin: SPI clock, Hz; bits of SPI for a bit; and bytes in the
 * buffer for a frame, of those that there are. 0: there are no pulses on that pin. */
struct dia_linux_pulse_facts {
    uint32_t clock_hz, bits, bytes, room;
};
int dia_linux_pulse_facts(const struct dia_linux *computer, uint8_t pin,
                          struct dia_linux_pulse_facts *facts);

/* Bytes that an SPI bus sends in one piece; between two pieces its clock rests. 0: there is none,
 * or it has pins. */
uint32_t dia_linux_spi_room(const struct dia_linux *computer, uint8_t bus);

/* Waits for what is on its way, gives everything back to the kernel. Pins become inputs. */
void dia_linux_close(struct dia_linux *computer);

DIA_END

#endif
