/* SPDX-License-Identifier: MIT */
#ifndef DIA_TESTS_KERNEL_H
#define DIA_TESTS_KERNEL_H

#include "../quiet.h"
#include "../run.h"

#include <errno.h>
#include <fcntl.h>
#include <signal.h>
#include <time.h>
#include <unistd.h>

#include <umockdev.h>

#include <linux/gpio.h>
#include <linux/i2c-dev.h>
#include <linux/i2c.h>
#include <linux/spi/spidev.h>

#include <diachrome/clocked.h>
#include <diachrome/player.h>

/*
 * A kernel that is none: what a program gives to the devices /dev/spidev*, /dev/gpiochip0 and
 * /dev/i2c-1 becomes edges on the bench of a player, whose models say what real parts would show.
 * The devices are those of umockdev; the program runs as a process of its own.
 */
struct kernel {
    UMockdevTestbed *testbed;
    struct dia_rig rig;
    struct dia_player *player;           /* for its bench; its own port does nothing any more */
    uint64_t began_ns, bench_ns, end_ns; /* end_ns: of the last edge */
    uint8_t level[64], let_go[64], outside[64]; /* outside: 2 where nothing drives */
    uint8_t offsets[64], answers[16], answered;
    uint32_t lines, is_output[64];
    uint64_t rises[64], edges, spi_bytes[2], spi_calls, i2c_messages, line_writes;
    uint32_t spi_hz[2];
    uint32_t refuse_every;        /* each so many transfers and writes is refused; 0: none */
    uint64_t asked, refuse_first; /* so many transfers and writes at the beginning */
    int deaf;                     /* nobody answers on I2C */
    const char *held_by;          /* the first line is in use */
    GMainLoop *loop;
    GPid pid;
    int code, output, input;
    char text[16384];
};
static struct kernel kernel;
static GMutex kernel_mutex; /* the devices answer in a thread; a test has it but while it waits */

static uint64_t real_ns(void)
{
    struct timespec at;
    clock_gettime(CLOCK_MONOTONIC, &at);
    uint64_t ns = (uint64_t)at.tv_sec * 1000000000u + (uint64_t)at.tv_nsec;
    return ns - kernel.began_ns + kernel.bench_ns;
}

static uint64_t kernel_ns(void)
{
    uint64_t t = real_ns();
    return t > kernel.end_ns ? t : kernel.end_ns;
}

/* ---- wires ----------------------------------------------------------------------------------- */

static void edge(uint64_t t_ns, uint8_t pin, uint8_t level, uint8_t let_go)
{
    uint8_t is = let_go ? (kernel.outside[pin] == 2 ? 1 : kernel.outside[pin]) : level;
    kernel.end_ns = t_ns > kernel.end_ns ? t_ns : kernel.end_ns;
    kernel.let_go[pin] = let_go;
    if (kernel.level[pin] == is && !let_go)
        return;
    kernel.level[pin] = is;
    struct dia_edge one = {.t_ns = t_ns, .pin = pin, .level = is, .let_go = let_go};
    kernel.edges++;
    kernel.rises[pin] += is;
    dia_bench_take(dia_player_bench(kernel.player), &one, 1);
    while (kernel.answered) { /* what models drive counts where the controller has let go */
        uint8_t on = kernel.answers[--kernel.answered];
        if (kernel.let_go[on])
            edge(kernel.end_ns, on, 0, 1);
    }
}

static void answer(void *self, uint64_t t_ns, uint8_t pin, uint8_t level)
{
    (void)self;
    (void)t_ns;
    kernel.outside[pin] = level;
    kernel.answers[kernel.answered++ % sizeof kernel.answers] = pin;
}

/* ---- SPI: mode 0, the highest bit first ------------------------------------------------------ */

/* Pins of /dev/spidev0.0 and /dev/spidev1.0 in all rigs of these tests. */
static const uint8_t spi_data[2] = {10, 20}, spi_clock[2] = {11, 21};

static void send_spi(int bus, const uint8_t *bytes, uint32_t n, uint32_t hz)
{
    double half_ns = 5e8 / hz, at = (double)kernel_ns();
    kernel.spi_bytes[bus] += n;
    kernel.spi_hz[bus] = hz;
    for (uint32_t bit = 0; bit < n * 8; bit++) {
        edge((uint64_t)at, spi_data[bus], bytes[bit / 8] >> (7 - bit % 8) & 1, 0);
        edge((uint64_t)(at + half_ns), spi_clock[bus], 1, 0);
        edge((uint64_t)(at + 2 * half_ns), spi_clock[bus], 0, 0);
        at += 2 * half_ns;
    }
}

/* ---- I2C at 100 kHz -------------------------------------------------------------------------- */

enum { SCL = 3, SDA = 2 };

static void wire(uint64_t t_ns, uint8_t pin, int level)
{
    edge(t_ns, pin, 0, level != 0);
}

/* 1: it was answered. */
static int send_i2c_byte(uint64_t *t, uint8_t byte)
{
    int answered = 0;
    for (int bit = 0; bit < 9; bit++) {
        wire(*t + 2500, SDA, bit == 8 || (byte >> (7 - bit) & 1));
        wire(*t + 5000, SCL, 1);
        answered = kernel.level[SDA] == 0;
        wire(*t + 10000, SCL, 0);
        *t += 10000;
    }
    return answered;
}

static int send_i2c(uint8_t address, const uint8_t *bytes, uint32_t n)
{
    uint64_t t = kernel_ns() + 5000;
    kernel.i2c_messages++;
    wire(t, SDA, 0);
    wire(t + 5000, SCL, 0);
    t += 5000;
    int answered = send_i2c_byte(&t, (uint8_t)(address << 1));
    for (uint32_t i = 0; i < n && answered; i++)
        answered = send_i2c_byte(&t, bytes[i]);
    wire(t + 2500, SDA, 0);
    wire(t + 5000, SCL, 1);
    wire(t + 10000, SDA, 1);
    kernel.end_ns = t + 15000;
    return answered;
}

/* ---- GPIO lines ------------------------------------------------------------------------------ */

static void set_lines(const struct gpio_v2_line_values *values)
{
    uint64_t t = kernel_ns();
    kernel.line_writes++;
    for (uint32_t k = 0; k < kernel.lines; k++) {
        if ((values->mask >> k & 1) && kernel.is_output[k])
            edge(t, kernel.offsets[k], values->bits >> k & 1, 0);
    }
}

static void configure_lines(const struct gpio_v2_line_config *config)
{
    uint64_t t = kernel_ns();
    for (uint32_t k = 0; k < kernel.lines; k++) {
        uint64_t flags = config->flags, values = 0;
        for (uint32_t a = 0; a < config->num_attrs; a++) {
            const struct gpio_v2_line_config_attribute *of = &config->attrs[a];
            if (!(of->mask >> k & 1))
                continue;
            if (of->attr.id == GPIO_V2_LINE_ATTR_ID_FLAGS)
                flags = of->attr.flags;
            if (of->attr.id == GPIO_V2_LINE_ATTR_ID_OUTPUT_VALUES)
                values = of->attr.values;
        }
        kernel.is_output[k] = (flags & GPIO_V2_LINE_FLAG_OUTPUT) != 0;
        if (kernel.is_output[k] || (flags & GPIO_V2_LINE_FLAG_BIAS_PULL_UP)) /* else it floats */
            edge(t, kernel.offsets[k], values >> k & 1, !kernel.is_output[k]);
    }
}

static void get_lines(struct gpio_v2_line_values *values)
{
    values->bits = 0;
    for (uint32_t k = 0; k < kernel.lines; k++) {
        if ((values->mask >> k & 1) && kernel.level[kernel.offsets[k]])
            values->bits |= (uint64_t)1 << k;
    }
}

/* ---- what a program asks --------------------------------------------------------------------- */

/* NULL: the program that asks was killed meanwhile, and hears no answer. */
static void *reach(UMockdevIoctlData *data, size_t offset, size_t size, UMockdevIoctlData **keep)
{
    *keep = umockdev_ioctl_data_resolve(data, offset, size, NULL);
    return *keep ? (*keep)->data : NULL;
}

static int spi_asks(int bus, gulong request, UMockdevIoctlData *arg)
{
    UMockdevIoctlData *message, *bytes;
    if (_IOC_NR(request) != 0) /* mode, bits: as they are */
        return 0;
    uint32_t n = _IOC_SIZE(request) / sizeof(struct spi_ioc_transfer);
    const struct spi_ioc_transfer *transfers = reach(arg, 0, _IOC_SIZE(request), &message);
    if (!transfers)
        return EINTR;
    kernel.spi_calls++;
    for (uint32_t k = 0; k < n; k++) {
        size_t at = k * sizeof *transfers + offsetof(struct spi_ioc_transfer, tx_buf);
        if (transfers[k].len > 4096)
            g_error("a transfer of %u bytes is more than the kernel takes", transfers[k].len);
        const uint8_t *tx = reach(message, at, transfers[k].len, &bytes);
        if (!tx)
            break;
        send_spi(bus, tx, transfers[k].len, transfers[k].speed_hz);
        umockdev_ioctl_data_unref(bytes);
    }
    umockdev_ioctl_data_unref(message);
    return 0;
}

static int i2c_asks(gulong request, UMockdevIoctlData *arg)
{
    UMockdevIoctlData *at, *list, *bytes;
    int error = 0;
    if (request == I2C_FUNCS) {
        unsigned long *can = reach(arg, 0, sizeof *can, &at);
        if (!can)
            return EINTR;
        *can = I2C_FUNC_I2C;
        umockdev_ioctl_data_unref(at);
        return 0;
    }
    if (request != I2C_RDWR)
        g_error("I2C is asked for %lx", request);
    const struct i2c_rdwr_ioctl_data *all = reach(arg, 0, sizeof *all, &at);
    if (!all)
        return EINTR;
    uint32_t n = all->nmsgs;
    const struct i2c_msg *messages =
        reach(at, offsetof(struct i2c_rdwr_ioctl_data, msgs), n * sizeof *messages, &list);
    for (uint32_t k = 0; messages && k < n && !error; k++) {
        size_t where = k * sizeof *messages + offsetof(struct i2c_msg, buf);
        const uint8_t *buf = reach(list, where, messages[k].len, &bytes);
        if (!buf)
            break;
        int answered = send_i2c((uint8_t)messages[k].addr, buf, messages[k].len);
        error = answered && !kernel.deaf ? 0 : EREMOTEIO;
        umockdev_ioctl_data_unref(bytes);
    }
    if (messages)
        umockdev_ioctl_data_unref(list);
    umockdev_ioctl_data_unref(at);
    return error;
}

static int chip_asks(gulong request, UMockdevIoctlData *arg)
{
    UMockdevIoctlData *at;
    int error = 0;
    if (request == GPIO_V2_GET_LINEINFO_IOCTL) {
        struct gpio_v2_line_info *info = reach(arg, 0, sizeof *info, &at);
        if (!info)
            return EINTR;
        info->flags = kernel.held_by ? GPIO_V2_LINE_FLAG_USED : 0;
        if (kernel.held_by)
            snprintf(info->consumer, sizeof info->consumer, "%s", kernel.held_by);
    } else {
        struct gpio_v2_line_request *wanted = reach(arg, 0, sizeof *wanted, &at);
        if (request != GPIO_V2_GET_LINE_IOCTL)
            g_error("the GPIO chip is asked for %lx", request);
        if (!wanted)
            return EINTR;
        error = kernel.held_by ? EBUSY : 0;
        kernel.lines = wanted->num_lines;
        for (uint32_t k = 0; k < kernel.lines; k++)
            kernel.offsets[k] = (uint8_t)wanted->offsets[k];
        if (!error)
            configure_lines(&wanted->config);
    }
    umockdev_ioctl_data_unref(at);
    return error;
}

static int lines_ask(gulong request, UMockdevIoctlData *arg)
{
    UMockdevIoctlData *at;
    if (request == GPIO_V2_LINE_SET_CONFIG_IOCTL) {
        const struct gpio_v2_line_config *config = reach(arg, 0, sizeof *config, &at);
        if (!config)
            return EINTR;
        configure_lines(config);
    } else {
        struct gpio_v2_line_values *values = reach(arg, 0, sizeof *values, &at);
        if (!values)
            return EINTR;
        if (request == GPIO_V2_LINE_SET_VALUES_IOCTL)
            set_lines(values);
        else
            get_lines(values);
    }
    umockdev_ioctl_data_unref(at);
    return 0;
}

static gboolean asks(UMockdevIoctlBase *base, UMockdevIoctlClient *client, gpointer self)
{
    (void)base;
    (void)self;
    const char *node = umockdev_ioctl_client_get_devnode(client);
    gulong request = umockdev_ioctl_client_get_request(client) & 0xffffffffu;
    UMockdevIoctlData *arg = umockdev_ioctl_client_get_arg(client);
    int error = 0;
    g_mutex_lock(&kernel_mutex);
    kernel.asked++;
    int is_transfer = request == GPIO_V2_LINE_SET_VALUES_IOCTL || request == I2C_RDWR ||
                      (strstr(node, "spidev") && _IOC_NR(request) == 0);
    int is_refused =
        is_transfer &&
        ((kernel.refuse_every && kernel.asked % kernel.refuse_every == 0) || kernel.refuse_first);
    kernel.refuse_first -= is_transfer && kernel.refuse_first;
    if (is_refused)
        error = EIO;
    else if (strstr(node, "spidev"))
        error = spi_asks(node[strlen("/dev/spidev")] - '0', request, arg);
    else if (strstr(node, "i2c"))
        error = i2c_asks(request, arg);
    else if (strstr(node, "gpiochip"))
        error = chip_asks(request, arg);
    else
        error = lines_ask(request, arg);
    while (real_ns() < kernel.end_ns) /* a transfer takes the time of its wire */
        ;
    g_mutex_unlock(&kernel_mutex);
    umockdev_ioctl_client_complete(client, error ? -1 : 0, error);
    return TRUE;
}

/* ---- from its beginning to its end ----------------------------------------------------------- */

static void device(const char *subsystem, const char *node)
{
    char text[200], path[80];
    GError *error = NULL;
    snprintf(text, sizeof text, "P: /devices/%s\nN: %s\nE: SUBSYSTEM=%s\nE: DEVNAME=/dev/%s\n",
             node, node, subsystem, node);
    assert_true(umockdev_testbed_add_from_string(kernel.testbed, text, &error));
    UMockdevIoctlBase *handler = umockdev_ioctl_base_new();
    g_signal_connect(handler, "handle-ioctl", G_CALLBACK(asks), NULL);
    snprintf(path, sizeof path, "/dev/%s", node);
    assert_true(umockdev_testbed_attach_ioctl(kernel.testbed, path, handler, &error));
}

static void kernel_begin(const char *rig)
{
    struct dia_diagnostic wrong = {""};
    g_mutex_trylock(&kernel_mutex); /* a test that failed has it still */
    memset(&kernel, 0, sizeof kernel);
    memset(kernel.outside, 2, sizeof kernel.outside);
    kernel.testbed = umockdev_testbed_new();
    device("spidev", "spidev0.0");
    device("spidev", "spidev1.0");
    device("i2c-dev", "i2c-1");
    device("gpio", "gpiochip0");
    device("gpio", "gpio-lines");
    if (dia_rig_load(&kernel.rig, rig, &wrong) != DIA_OK)
        fail_msg("%s", wrong.text);
    kernel.player = dia_player_new(&kernel.rig, &wrong);
    assert_non_null(kernel.player);
    dia_bench_answers(dia_player_bench(kernel.player), answer, NULL);
    for (uint8_t pin = 0; pin < 64; pin++)
        kernel.level[pin] = dia_player_level(kernel.player, pin);
    struct timespec at;
    clock_gettime(CLOCK_MONOTONIC, &at);
    kernel.began_ns = (uint64_t)at.tv_sec * 1000000000u + (uint64_t)at.tv_nsec;
    kernel.bench_ns = kernel.end_ns = dia_player_now_ns(kernel.player) + 1000000;
    wire(kernel.end_ns, SCL, 1); /* a bus rests high */
    wire(kernel.end_ns, SDA, 1);
    kernel.loop = g_main_loop_new(NULL, FALSE);
}

static void kernel_end(void)
{
    g_main_loop_unref(kernel.loop);
    dia_player_free(kernel.player);
    g_mutex_unlock(&kernel_mutex);
    g_object_unref(kernel.testbed);
}

/* The bench as of now. */
static void kernel_settle(void)
{
    dia_bench_settle(dia_player_bench(kernel.player), kernel_ns());
}

/* Whether the chains with a clock have had whole frames: those without a latch time begin anew with
 * a settled bench. */
static int frames_are_whole(void)
{
    for (uint32_t i = 0; i < kernel.rig.lane_count; i++) {
        const struct dia_rig_lane *lane = &kernel.rig.lanes[i];
        if (lane->part.family == DIA_CLOCKED &&
            kernel.rises[lane->clock_pin] % (8 * dia_clocked_bytes(&lane->part, lane->count)) != 0)
            return 0;
    }
    return 1;
}

static void has_ended(GPid pid, gint status, gpointer self)
{
    (void)self;
    kernel.code = WIFEXITED(status) ? WEXITSTATUS(status) : 128 + WTERMSIG(status);
    g_spawn_close_pid(pid);
    kernel.pid = 0;
    g_main_loop_quit(kernel.loop);
}

static void read_output(void)
{
    size_t used = strlen(kernel.text);
    ssize_t n;
    while ((n = read(kernel.output, kernel.text + used, sizeof kernel.text - 1 - used)) > 0)
        used += (size_t)n;
    kernel.text[used] = 0;
}

/* A command of the shell, with the emulated devices; `$D` is diachrome. */
static void kernel_start(const char *line)
{
    char command[1000], preload[600];
    int pipes[2], in[2];
    snprintf(command, sizeof command, "D=\"$DIACHROME\"; %s", line);
    snprintf(preload, sizeof preload, "%s libumockdev-preload.so.0", getenv("DIACHROME_LINE_FD"));
    assert_int_equal(pipe(pipes), 0);
    assert_int_equal(pipe2(in, O_CLOEXEC), 0);
    kernel.text[0] = 0;
    kernel.pid = fork();
    if (kernel.pid == 0) {
        dup2(pipes[1], 1);
        dup2(pipes[1], 2);
        close(pipes[0]);
        close(pipes[1]);
        for (int number = 1; number < 20; number++)
            signal(number, SIG_DFL); /* what the test was started with does not count */
        dup2(in[0], 0);
        setenv("LD_PRELOAD", preload, 1);
        setenv("TSAN_OPTIONS", "handle_segv=0", 0);
        setenv("ASAN_OPTIONS", "verify_asan_link_order=0:handle_segv=0",
               0); /* where the program has sanitizers */
        execl("/bin/sh", "sh", "-c", command, (char *)NULL);
        _exit(127);
    }
    close(pipes[1]);
    fcntl(pipes[0], F_SETFL, O_NONBLOCK);
    close(in[0]);
    kernel.input = in[1];
    kernel.output = pipes[0];
    g_child_watch_add(kernel.pid, has_ended, NULL);
}

static gboolean time_is_over(gpointer self)
{
    *(int *)self = 1;
    g_main_loop_quit(kernel.loop);
    return G_SOURCE_REMOVE;
}

/* Lets the program, or what it has left behind, go on for a while, or until it ends. */
static void kernel_go_on(unsigned ms)
{
    int over = 0;
    guint timer = g_timeout_add(ms, time_is_over, &over);
    g_mutex_unlock(&kernel_mutex);
    g_main_loop_run(kernel.loop);
    g_mutex_lock(&kernel_mutex);
    if (!over)
        g_source_remove(timer);
    read_output();
}

static void kernel_close(void)
{
    close(kernel.input);
    close(kernel.output);
}

/* The exit code of a command. */
static int kernel_run(const char *line)
{
    kernel_start(line);
    kernel_go_on(60000);
    assert_int_equal(kernel.pid, 0);
    kernel_close();
    kernel_settle();
    if (kernel.code)
        print_message("exit code %d: %s\n", kernel.code, kernel.text);
    return kernel.code;
}

#endif
