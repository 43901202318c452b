/* SPDX-License-Identifier: MIT */
#include "served.h"

/*
 * A lighting network: packets are put together here from tables 4-1 to 4-3 of ANSI E1.31-2018, by
 * code that shares nothing with what reads them, and go over UDP.
 */
#define PORT 15568

static struct served served;
static int udp;

static const char rig_text[] = "rig: Small\ncontroller: RP2040\nframe_rate: 50 Hz\nmaster: 100 %\n"
                               "supplies:\n  usb: { current: 20 A }\n"
                               "lanes:\n  shelf: { pin: 17, chip: WS2812B, count: 200 }\n"
                               "live: { e131: \"127.0.0.1:15568\", listen: \"127.0.0.1:0\" }\n";

static int begin(void **state)
{
    (void)state;
    alarm(100); /* whatever hangs */
    curl_global_init(CURL_GLOBAL_DEFAULT);
    write_file("net.rig.yaml", rig_text, strlen(rig_text));
    udp = socket(AF_INET, SOCK_DGRAM | SOCK_CLOEXEC, 0);
    return udp < 0;
}

/* What a source says; what is 0 is usual. */
struct source {
    uint8_t cid, priority, options;
    uint16_t sync;
    uint8_t sequence; /* of the last; each packet has the next */
};

static size_t put(uint8_t *at, uint32_t value, size_t bytes)
{
    for (size_t k = 0; k < bytes; k++)
        at[k] = (uint8_t)(value >> 8 * (bytes - 1 - k));
    return bytes;
}

/* A data packet of so many slots; how long it is. */
static size_t data_packet(uint8_t bytes[638], struct source *from, uint16_t universe,
                          const uint8_t *slots, size_t count)
{
    size_t n = 0, length = 126 + count;
    n += put(bytes + n, 0x0010, 2); /* preamble */
    n += put(bytes + n, 0, 2);      /* postamble */
    memcpy(bytes + n, "ASC-E1.17\0\0\0", 12);
    n += 12;
    n += put(bytes + n, 0x7000 | (uint32_t)(length - 16), 2);
    n += put(bytes + n, 4, 4); /* VECTOR_ROOT_E131_DATA */
    memset(bytes + n, from->cid, 16);
    n += 16;
    n += put(bytes + n, 0x7000 | (uint32_t)(length - 38), 2);
    n += put(bytes + n, 2, 4); /* VECTOR_E131_DATA_PACKET */
    memset(bytes + n, 0, 64);
    memcpy(bytes + n, "desk", 4);
    n += 64;
    bytes[n++] = from->priority ? from->priority : 100;
    n += put(bytes + n, from->sync, 2);
    bytes[n++] = ++from->sequence;
    bytes[n++] = from->options;
    n += put(bytes + n, universe, 2);
    n += put(bytes + n, 0x7000 | (uint32_t)(length - 115), 2);
    bytes[n++] = 2;    /* VECTOR_DMP_SET_PROPERTY */
    bytes[n++] = 0xa1; /* address and data type */
    n += put(bytes + n, 0, 2);
    n += put(bytes + n, 1, 2);
    n += put(bytes + n, (uint32_t)count + 1, 2);
    bytes[n++] = 0; /* start code */
    memcpy(bytes + n, slots, count);
    assert_int_equal(n + count, length);
    return length;
}

static void send_to(const char *address, const void *bytes, size_t length)
{
    struct sockaddr_in to = {.sin_family = AF_INET, .sin_port = htons(PORT)};
    inet_pton(AF_INET, address, &to.sin_addr);
    sendto(udp, bytes, length, 0, (struct sockaddr *)&to, sizeof to);
}

/* All slots have one level. */
static void say_level(struct source *from, uint16_t universe, uint8_t level)
{
    uint8_t bytes[638], slots[512];
    memset(slots, level, sizeof slots);
    send_to("127.0.0.1", bytes, data_packet(bytes, from, universe, slots, 512));
}

static void synchronise(const struct source *from, uint16_t sync)
{
    uint8_t bytes[49] = {0};
    put(bytes, 0x0010, 2);
    memcpy(bytes + 4, "ASC-E1.17\0\0\0", 12);
    put(bytes + 16, 0x7000 | 33, 2);
    put(bytes + 18, 8, 4); /* VECTOR_ROOT_E131_EXTENDED */
    memset(bytes + 22, from->cid, 16);
    put(bytes + 38, 0x7000 | 11, 2);
    put(bytes + 40, 1, 4); /* VECTOR_E131_EXTENDED_SYNCHRONIZATION */
    put(bytes + 45, sync, 2);
    send_to("127.0.0.1", bytes, sizeof bytes);
}

static int byte_at(size_t at)
{
    assert_int_equal(ask(&served, "GET", "/frame", NULL), 200);
    return (uint8_t)answer[8 + at];
}

/* A byte of the frame is that within some frames, and stays so. */
static void shows(size_t at, int byte, const char *what)
{
    double until = seconds() + 1;
    while (byte_at(at) != byte && seconds() < until)
        rest_ms(10);
    rest_ms(60);
    if (byte_at(at) != byte)
        fail_msg("%s: byte %zu is %d, not %d", what, at, byte_at(at), byte);
}

static void start(const char *show)
{
    write_file("net.show", show, strlen(show));
    serve(&served, "net.rig.yaml --show net.show --listen 127.0.0.1:0");
    rest_ms(100);
}

/* Slot s of universe u has 130 + (37 u + 5 s) mod 120: bright enough for drives to be fine. Which
 * slot is which colour is worked out by hand. */
static void slots_are_pixels_as_the_layer_says(void **state)
{
    (void)state;
    static const struct {
        const char *look;
        uint32_t pixel, universe, slot[3]; /* where its red, green, blue are */
    } cases[] = {
        {"universe", 0, 1, {0, 1, 2}},
        {"universe", 169, 1, {507, 508, 509}}, /* the last of 170 */
        {"universe", 170, 2, {0, 1, 2}},
        {"universe first=3", 199, 4, {87, 88, 89}}, /* 199 - 170 is 29 */
        {"universe channel=4", 0, 1, {3, 4, 5}},
        {"universe channel=4", 168, 1, {507, 508, 509}}, /* 509 slots are left, 169 pixels */
        {"universe channel=4", 169, 2, {0, 1, 2}},
        {"universe order=grb", 0, 1, {1, 0, 2}},
        {"universe order=brg", 0, 1, {1, 2, 0}},
        {"universe packing=split", 170, 1, {510, 511, 512}}, /* 512: the first of the next */
        {"universe packing=split channel=512", 0, 1, {511, 512, 513}},
    };
    for (size_t k = 0; k < sizeof cases / sizeof cases[0]; k++) {
        struct source desk = {.cid = 1};
        char show[100], what[120];
        snprintf(show, sizeof show, "layer net: %s\n", cases[k].look);
        start(show);
        for (uint32_t u = 1; u <= 5; u++) {
            uint8_t bytes[638], slots[512];
            for (uint32_t s = 0; s < 512; s++)
                slots[s] = (uint8_t)(130 + (37 * u + 5 * s) % 120);
            send_to("127.0.0.1", bytes, data_packet(bytes, &desk, (uint16_t)u, slots, 512));
        }
        for (uint32_t c = 0; c < 3; c++) {
            uint32_t slot = cases[k].slot[c] % 512, u = cases[k].universe + cases[k].slot[c] / 512;
            int code = (int)(130 + (37 * u + 5 * slot) % 120), seen = 0;
            snprintf(what, sizeof what, "%s, pixel %u, colour %u", cases[k].look, cases[k].pixel,
                     c);
            for (double until = seconds() + 1; seconds() < until; rest_ms(10)) {
                seen = byte_at(3 * cases[k].pixel + c);
                if (abs(seen - code) <= 1) /* dithering */
                    break;
            }
            if (abs(seen - code) > 1)
                fail_msg("%s: %d, not %d", what, seen, code);
        }
        assert_int_equal(ended(&served, SIGTERM), 0);
    }
}

static void sources_are_merged_by_the_standard(void **state)
{
    (void)state;
    struct source a = {.cid = 1}, b = {.cid = 2};
    start("layer under: steady colour=#000000\nlayer net: universe\n");
    say_level(&a, 1, 255);
    shows(0, 255, "one source");
    b.priority = 120;
    say_level(&b, 1, 0);
    shows(0, 0, "the higher priority counts");
    b.priority = 100;
    say_level(&b, 1, 0);
    shows(0, 255, "of one priority the highest level counts");
    a.options = 0x80;
    say_level(&a, 1, 0);
    shows(0, 255, "preview is not for light");
    a.options = 0;
    a.sequence--; /* the preview was not heard */
    a.sequence -= 5;
    say_level(&a, 1, 0); /* 4 behind */
    shows(0, 255, "what comes late is left out");
    a.sequence -= 25;
    say_level(&a, 1, 0); /* far behind: it began anew */
    shows(0, 0, "one that began anew counts");
    say_level(&a, 1, 255);
    a.options = 0x40;
    for (int k = 0; k < 3; k++)
        say_level(&a, 1, 255);
    shows(0, 0, "a stream that has ended is gone, and the other stays");
    /* 2.5 s of nothing, and what is below shows */
    assert_int_equal(ask(&served, "POST", "/changes", "set under.colour=#00ff00"), 200);
    say_level(&b, 1, 255);
    shows(0, 255, "it is there");
    rest_ms(2200);
    assert_int_equal(byte_at(0), 255);
    shows(0, 0, "lost");
    assert_int_equal(byte_at(1), 255);
    change(&served, "set net.lost=hold");
    shows(0, 255, "held");
    change(&served, "set net.lost=dark");
    shows(1, 0, "dark");
    assert_int_equal(ended(&served, SIGTERM), 0);
}

static void synchronised_universes_change_together(void **state)
{
    (void)state;
    struct source desk = {.cid = 9, .sync = 7}, other = {.cid = 9, .sync = 7};
    start("layer net: universe\n");
    say_level(&desk, 1, 255);
    say_level(&other, 2, 255);
    shows(0, 255, "nothing waits before the first synchronisation");
    synchronise(&desk, 7);
    rest_ms(50);
    say_level(&desk, 1, 0);
    say_level(&other, 2, 0);
    rest_ms(100);
    assert_int_equal(byte_at(0), 255);
    synchronise(&desk, 8); /* of others */
    rest_ms(100);
    assert_int_equal(byte_at(0), 255);
    synchronise(&desk, 7);
    shows(0, 0, "now");
    assert_int_equal(byte_at(3 * 180), 0);
    /* when it is lost, what does not force it waits, and what does goes on alone */
    for (int k = 0; k < 6; k++, rest_ms(450))
        say_level(&desk, 1, 255);
    shows(0, 0, "not forced");
    desk.options = 0x20;
    say_level(&desk, 1, 255);
    shows(0, 255, "forced");
    assert_int_equal(ended(&served, SIGTERM), 0);
}

/* Each of these is changed in one place, and is no packet any more: it changes nothing. */
static void damaged_packets_are_left_out(void **state)
{
    (void)state;
    static const struct {
        size_t at;
        uint8_t byte;
        const char *what;
    } cases[] = {
        {1, 0x11, "preamble"},   {5, 's', "identifier"},      {17, 1, "length of the root"},
        {21, 5, "vector"},       {39, 1, "framing length"},   {43, 1, "framing vector"},
        {108, 201, "priority"},  {116, 1, "property length"}, {117, 3, "property vector"},
        {118, 0xa2, "type"},     {120, 1, "first address"},   {122, 2, "increment"},
        {124, 0, "value count"}, {125, 0xdd, "start code"},
    };
    struct source desk = {.cid = 1};
    uint8_t bytes[638], slots[512];
    start("layer net: universe\n");
    double sound = seconds();
    say_level(&desk, 1, 255);
    shows(0, 255, "sound");
    memset(slots, 0, sizeof slots);
    for (size_t k = 0; k < sizeof cases / sizeof cases[0]; k++) {
        size_t length = data_packet(bytes, &desk, 1, slots, 512);
        bytes[cases[k].at] = cases[k].byte;
        send_to("127.0.0.1", bytes, length);
        desk.sequence--;
    }
    for (size_t cut = 0; cut < 638; cut += 7) {
        size_t length = data_packet(bytes, &desk, 1, slots, 512);
        send_to("127.0.0.1", bytes, length - 1 - cut);
        desk.sequence--;
    }
    rest_ms(150);
    int first = byte_at(0), last = byte_at(3 * 169);
    if (seconds() - sound < 2.4) { /* after 2.5 s without a sound packet the source is gone */
        assert_int_equal(first, 255);
        assert_int_equal(last, 255);
    }
    /* fewer slots than all are right: the others are 0 */
    memset(slots, 255, sizeof slots);
    send_to("127.0.0.1", bytes, data_packet(bytes, &desk, 1, slots, 6));
    shows(6, 0, "slot 7 of 6");
    assert_int_equal(byte_at(5), 255);
    assert_int_equal(ended(&served, SIGTERM), 0);
}

/* A hundred universes, 40 times a second, some packets lost, doubled, out of order or damaged:
 * never a wrong pixel, in time, in less than half a core. */
#define UNIVERSES 100
static void a_hundred_universes(void **state)
{
    (void)state;
    static struct source desks[UNIVERSES];
    static uint8_t old[638];
    size_t old_length = 0;
    struct timespec before, after;
    clockid_t clock;
    uint32_t random = 11;
    int wrong = 0;
    start("layer net: universe first=50\n");
    assert_int_equal(clock_getcpuclockid(served.pid, &clock), 0);
    clock_gettime(clock, &before);
    double begin = seconds();
    for (uint32_t round = 0; round < 120; round++) {
        uint8_t level = round % 2 ? 255 : 128;
        for (uint32_t u = 0; u < UNIVERSES; u++) {
            uint8_t bytes[638], slots[512];
            desks[u].cid = (uint8_t)(u + 1);
            memset(slots, level, sizeof slots);
            size_t length = data_packet(bytes, &desks[u], (uint16_t)(u + 1), slots, 512);
            uint32_t what = random_below(&random, 50);
            if (what == 0)
                continue; /* lost */
            send_to("127.0.0.1", bytes, length);
            if (what == 1 && old_length)
                send_to("127.0.0.1", old, old_length); /* late */
            if (what == 2)
                send_to("127.0.0.1", bytes, length); /* doubled */
            bytes[random_below(&random, 126)] ^= 0x55;
            if (what == 3)
                send_to("127.0.0.1", bytes, random_below(&random, 638));
            if (u == 49) {
                memcpy(old, bytes, sizeof old);
                old_length = 0; /* damaged above: not sent again */
            }
        }
        if (round % 10 == 9) {
            int seen = byte_at(3);
            wrong += seen != 255 && abs(seen - 128) > 3;
        }
        while (seconds() < begin + (round + 1) / 40.0)
            rest_ms(1);
    }
    clock_gettime(clock, &after);
    double share =
        ((double)(after.tv_sec - before.tv_sec) + (double)(after.tv_nsec - before.tv_nsec) / 1e9) /
        (seconds() - begin);
    print_message("%d universes at 40 Hz: %.1f %% of a core\n", UNIVERSES, share * 100);
    assert_int_equal(wrong, 0);
#if !defined(WITH_ADDRESS_SANITIZER) && !defined(WITH_THREAD_SANITIZER)
    assert_true(share < 0.5);
#endif
    assert_int_equal(ask(&served, "GET", "/status", NULL), 200);
    assert_int_equal(ended(&served, SIGTERM), 0);
}

/* By multicast: 239.255 and the number of the universe. */
static void multicast_is_heard(void **state)
{
    (void)state;
    struct source desk = {.cid = 3};
    uint8_t bytes[638], slots[512];
    struct in_addr by = {htonl(INADDR_LOOPBACK)};
    assert_int_equal(setsockopt(udp, IPPROTO_IP, IP_MULTICAST_IF, &by, sizeof by), 0);
    start("layer net: universe first=300\n");
    memset(slots, 255, sizeof slots);
    size_t length = data_packet(bytes, &desk, 300, slots, 512);
    send_to("239.255.1.44", bytes, length); /* 300 is 256 + 44 */
    shows(0, 255, "multicast");
    assert_int_equal(ended(&served, SIGTERM), 0);
    assert_int_equal(run("timeout 5 $D serve net.rig.yaml --e131 nowhere"), 2);
    says("E1.31 cannot listen on 'nowhere': write an address of this machine");
}

/* ---- sending --------------------------------------------------------------------------------- */

static uint32_t number(const uint8_t *at, size_t bytes)
{
    uint32_t value = 0;
    while (bytes--)
        value = value << 8 | *at++;
    return value;
}

/* Every field of what is sent, by the standard's tables. 'd' data, 's' synchronisation, 'u' the
 * list of universes; anything else fails. */
static char dissect(const uint8_t *b, size_t n)
{
    assert_true(n >= 49);
    assert_int_equal(number(b, 4), 0x00100000);
    assert_memory_equal(b + 4, "ASC-E1.17\0\0\0", 12);
    assert_int_equal(number(b + 16, 2), 0x7000 | (n - 16));
    assert_int_equal(number(b + 38, 2), 0x7000 | (n - 38));
    if (number(b + 18, 4) == 8 && number(b + 40, 4) == 1) {
        assert_int_equal(n, 49);
        assert_int_equal(number(b + 45, 2), 7000);
        assert_int_equal(number(b + 47, 2), 0);
        return 's';
    }
    assert_string_equal((const char *)b + 44, "Sends");
    if (number(b + 18, 4) == 8) {
        assert_int_equal(number(b + 40, 4), 2);
        assert_int_equal(number(b + 112, 2), 0x7000 | (n - 112));
        assert_int_equal(number(b + 114, 4), 1);
        assert_int_equal(b[118] | b[119], 0); /* page 0 of 0 */
        assert_int_equal(n, 124);
        assert_int_equal(number(b + 120, 4), 40 << 16 | 41);
        return 'u';
    }
    assert_int_equal(number(b + 18, 4), 4);
    assert_int_equal(number(b + 40, 4), 2);
    assert_int_equal(b[108], 150);
    assert_int_equal(number(b + 115, 2), 0x7000 | (n - 115));
    assert_int_equal(number(b + 117, 2), 0x02a1);
    assert_int_equal(number(b + 119, 4), 1);
    assert_int_equal(number(b + 123, 2), n - 125);
    assert_int_equal(b[125], 0);
    return 'd';
}

static void what_is_sent_is_as_the_standard_has_it(void **state)
{
    (void)state;
    static const char text[] = "rig: Sends\ncontroller: RP2040\nframe_rate: 100 Hz\n"
                               "supplies:\n  usb: { current: 20 A }\n"
                               "lanes:\n  shelf: { pin: 17, chip: WS2812B, count: 200 }\n"
                               "live: { send: { to: \"127.0.0.1:15569\", first: 40, priority: 150, "
                               "sync: 7000 } }\n";
    struct sockaddr_in at = {.sin_family = AF_INET, .sin_port = htons(15569)};
    int fd = socket(AF_INET, SOCK_DGRAM | SOCK_CLOEXEC, 0), sequence[2] = {-1, -1},
        ended_of[2] = {0};
    int data = 0, syncs = 0, lists = 0, shown = 0;
    inet_pton(AF_INET, "127.0.0.1", &at.sin_addr);
    assert_int_equal(bind(fd, (struct sockaddr *)&at, sizeof at), 0);
    write_file("send.rig.yaml", text, strlen(text));
    write_file("send.show", "layer a: hue-sweep\n", 19);
    serve(&served, "send.rig.yaml --show send.show");
    double begin = seconds(), end = begin + 2;
    int stopped = 0;
    for (;;) {
        uint8_t b[1500];
        struct pollfd wait = {fd, POLLIN, 0};
        if (seconds() > end && !stopped) {
            stopped = 1;
            kill(served.pid, SIGTERM);
        }
        if (poll(&wait, 1, 300) <= 0 && stopped)
            break;
        ssize_t n = recv(fd, b, sizeof b, MSG_DONTWAIT);
        if (n < 0)
            continue;
        char kind = dissect(b, (size_t)n);
        syncs += kind == 's';
        lists += kind == 'u';
        if (kind != 'd')
            continue;
        uint32_t which = number(b + 113, 2) - 40;
        assert_true(which < 2);
        assert_int_equal(n, 126 + (which ? 90 : 510)); /* 200 pixels: 170 and 30 */
        if (sequence[which] >= 0)
            assert_int_equal(b[111], (sequence[which] + 1) % 256);
        sequence[which] = b[111];
        ended_of[which] += b[112] == 0x40;
        if (b[112] == 0x40)
            continue;
        assert_int_equal(b[112], 0);
        assert_int_equal(number(b + 109, 2), 7000);
        data += which == 0;
        shown += b[126] || b[127] || b[128];
    }
    assert_true(data > 10 && data <= (seconds() - begin) * 44 + 3 && shown > 10);
    assert_true(syncs >= data && lists == 1);
    assert_int_equal(ended_of[0], 3);
    assert_int_equal(ended_of[1], 3);
    close(fd);
    assert_int_equal(ended(&served, 0), 0);
    assert_int_equal(run("timeout 5 $D serve send.rig.yaml --send nowhere"), 2);
    says("E1.31 cannot be sent to 'nowhere': write 'multicast' or the address of a receiver");
}

/* One that sends and one that hears show the same. */
static void one_rig_follows_another(void **state)
{
    (void)state;
    struct served other;
    write_file("send.show", "layer a: steady colour=#80ff40\n", 31);
    start("layer net: universe\n");
    serve(&other,
          "net.rig.yaml --show send.show --send 127.0.0.1:15568 --listen 127.0.0.1:0 --e131 "
          "127.0.0.1:15570");
    shows(1, 255, "followed");
    change(&other, "paint all #ff0000");
    shows(0, 255, "followed");
    shows(1, 0, "followed");
    assert_int_equal(ended(&other, SIGTERM), 0);
    shows(0, 0, "it has ended");
    assert_int_equal(ended(&served, SIGTERM), 0);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(slots_are_pixels_as_the_layer_says),
        cmocka_unit_test(sources_are_merged_by_the_standard),
        cmocka_unit_test(synchronised_universes_change_together),
        cmocka_unit_test(damaged_packets_are_left_out),
        cmocka_unit_test(a_hundred_universes),
        cmocka_unit_test(multicast_is_heard),
        cmocka_unit_test(what_is_sent_is_as_the_standard_has_it),
        cmocka_unit_test(one_rig_follows_another),
    };
    return cmocka_run_group_tests(tests, begin, NULL);
}
