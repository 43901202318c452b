/* SPDX-License-Identifier: MIT */
/*
 * The kernel answers a request for GPIO lines with a new file. An emulated device cannot make one
 * in another process, so this does, before the program sees the answer: it opens a second emulated
 * device, which stands for the lines.
 */
#include <dlfcn.h>
#include <fcntl.h>
#include <stdarg.h>
#include <sys/ioctl.h>

#include <linux/gpio.h>

typedef int ioctl_function(int fd, unsigned long request, void *arg);

int ioctl(int fd, unsigned long request, ...)
{
    va_list args;
    va_start(args, request);
    void *arg = va_arg(args, void *);
    va_end(args);
    ioctl_function *next;
    *(void **)&next = dlsym(RTLD_NEXT, "ioctl");
    int result = next(fd, request, arg);
    if (result == 0 && request == GPIO_V2_GET_LINE_IOCTL)
        ((struct gpio_v2_line_request *)arg)->fd = open("/dev/gpio-lines", O_RDWR | O_CLOEXEC);
    return result;
}
