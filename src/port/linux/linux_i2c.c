/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdint.h>
#include <sys/ioctl.h>
#include <unistd.h>

#include <linux/i2c-dev.h>
#include <linux/i2c.h>

#include "linux_private.h"

#define BYTE_US 90 /* on the wire, at 100 kHz: 8 bits and the answer */

static int sends(struct dia_linux_bus *bus, const struct linux_job *job)
{
    struct i2c_msg message = {
        .addr = job->address, .len = (uint16_t)job->n, .buf = (uint8_t *)(uintptr_t)job->bytes};
    struct i2c_rdwr_ioctl_data all = {.msgs = &message, .nmsgs = 1};
    return ioctl(bus->fd, I2C_RDWR, &all) < 0 ? (errno ? errno : EIO) : 0;
}

enum dia_status dia_linux_i2c(struct dia_linux *computer, uint8_t bus, const char *path)
{
    unsigned long can = 0;
    if (bus >= 16 || computer->i2c[bus])
        return dia_linux_wrong(computer, DIA_BAD_VALUE, "I2C bus %u is given twice, or above 15",
                               bus);
    int fd = dia_linux_open(computer, path, "/dev/i2c-");
    if (fd < 0)
        return DIA_PORT_FAILED;
    if (ioctl(fd, I2C_FUNCS, &can) != 0 || !(can & I2C_FUNC_I2C)) {
        close(fd);
        return dia_linux_wrong(computer, DIA_UNSUPPORTED,
                               "%s sends no plain I2C messages, only those of SMBus", path);
    }
    computer->i2c[bus] = dia_linux_bus_new(path, fd, sends);
    if (computer->i2c[bus])
        return DIA_OK;
    close(fd);
    return dia_linux_wrong(computer, DIA_PORT_FAILED, "%s: out of memory", path);
}

enum dia_status dia_linux_i2c_start(struct dia_port *port, uint8_t bus, uint8_t address,
                                    const uint8_t *bytes, uint32_t n)
{
    struct dia_linux *computer = (struct dia_linux *)port;
    if (bus >= 16 || !computer->i2c[bus] || n == 0 || n > 8192)
        return dia_linux_wrong(computer, DIA_BAD_VALUE,
                               "there is no I2C bus %u, or it is not 1 to 8192 bytes", bus);
    struct linux_job job = {.bytes = bytes, .n = n, .address = address};
    return dia_linux_bus_start(computer, computer->i2c[bus], &job, (n + 1ull) * BYTE_US);
}

enum dia_status dia_linux_i2c_poll(struct dia_port *port, uint8_t bus)
{
    struct dia_linux *computer = (struct dia_linux *)port;
    if (bus >= 16 || !computer->i2c[bus])
        return DIA_BAD_VALUE;
    enum dia_status status = dia_linux_bus_poll(computer, computer->i2c[bus]);
    int error = computer->i2c[bus]->told;
    if (status == DIA_PORT_FAILED && (error == EREMOTEIO || error == ENXIO)) /* as drivers say it */
        return dia_linux_wrong(computer, status,
                               "%s: nobody answers at the address 0x%02x; check its wires, its "
                               "supply and its address",
                               computer->i2c[bus]->path, (unsigned)computer->i2c[bus]->job.address);
    return status;
}
