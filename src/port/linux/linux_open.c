/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <fcntl.h>
#include <glob.h>
#include <grp.h>
#include <stdarg.h>
#include <stdio.h>
#include <string.h>
#include <sys/stat.h>
#include <unistd.h>

#include "linux_private.h"

enum dia_status dia_linux_wrong(struct dia_linux *computer, enum dia_status status,
                                const char *format, ...)
{
    va_list args;
    va_start(args, format);
    vsnprintf(computer->why, sizeof computer->why, format, args);
    va_end(args);
    return status;
}

/* What to switch on, where there is none of a kind. */
static const char *switch_on(const char *kind)
{
    if (strcmp(kind, "/dev/spidev") == 0)
        return "switch SPI on in the settings of the board (its device-tree overlay for spidev)";
    if (strcmp(kind, "/dev/i2c-") == 0)
        return "switch I2C on in the settings of the board, and load the module i2c-dev";
    return "this kernel has no GPIO character device";
}

static void is_not_there(struct dia_linux *computer, const char *path, const char *kind)
{
    char pattern[40], all[200] = "";
    glob_t found;
    snprintf(pattern, sizeof pattern, "%s*", kind);
    int any = glob(pattern, 0, NULL, &found) == 0;
    for (size_t k = 0; any && k < found.gl_pathc && k < 6; k++) {
        size_t used = strlen(all);
        snprintf(all + used, sizeof all - used, "%s%.30s", k ? ", " : "", found.gl_pathv[k]);
    }
    if (any)
        globfree(&found);
    if (all[0])
        dia_linux_wrong(computer, DIA_PORT_FAILED, "%s is not there; this machine has %s", path,
                        all);
    else
        dia_linux_wrong(computer, DIA_PORT_FAILED, "%s is not there, and no other %s*: %s", path,
                        kind, switch_on(kind));
}

static void may_not(struct dia_linux *computer, const char *path)
{
    struct stat about;
    const struct group *group = NULL;
    if (stat(path, &about) == 0 && about.st_gid != 0 && (about.st_mode & S_IRGRP) &&
        (about.st_mode & S_IWGRP))
        group = getgrgid(about.st_gid);
    if (group)
        dia_linux_wrong(computer, DIA_PORT_FAILED,
                        "%s may not be opened; it belongs to the group '%s': run 'sudo usermod "
                        "-aG %s $USER' and log in again",
                        path, group->gr_name, group->gr_name);
    else
        dia_linux_wrong(computer, DIA_PORT_FAILED,
                        "%s may not be opened; it belongs to root alone: a udev rule with "
                        "GROUP=\"gpio\", MODE=\"0660\" gives it to a group that you are in",
                        path);
}

int dia_linux_open(struct dia_linux *computer, const char *path, const char *kind)
{
    int fd = open(path, O_RDWR | O_CLOEXEC);
    if (fd >= 0)
        return fd;
    if (errno == ENOENT || errno == ENXIO || errno == ENODEV)
        is_not_there(computer, path, kind);
    else if (errno == EACCES || errno == EPERM)
        may_not(computer, path);
    else if (errno == EBUSY)
        dia_linux_wrong(computer, DIA_PORT_FAILED, "%s is in use by another program", path);
    else
        dia_linux_wrong(computer, DIA_PORT_FAILED, "%s cannot be opened: %s", path,
                        strerror(errno));
    return -1;
}
