/* SPDX-License-Identifier: MIT */
#include <diachrome/check.h>

#include "beacon.h"
#include "family_read.h"
#include "player_private.h"

static const struct family_part parts[] = {{"BEACON", "a made-up sheet"}, {NULL, NULL}};
static const char *const roles[] = {"lamp1", "lamp2", "lamp3", "lamp4", NULL};

/* clang-format off */
static const struct field fields[] = {
    COMMON, PITCH, CURRENT("lamp_current", 20000),
    {"lamps", HOLDS_QUANTITY, 1, DIA_NUMBER, 1, BEACON_LAMPS, AT(lamps), "3"},
    {0},
};
/* clang-format on */

static int needs_pin(const struct dia_rig_device *device, uint8_t role, uint32_t digits)
{
    (void)digits; /* how many lamps there are is not read yet: those behind the first may be left
                     out */
    (void)device;
    return role == 0;
}

static enum dia_status read(struct rig_reader *reader, const struct tree_node *node,
                            const struct device_words *words, struct dia_rig_device *device)
{
    device->lamps = words->lamps;
    device->lamp_ua = words->lamp_ua ? words->lamp_ua : 10000;
    for (uint32_t i = 0; i < device->lamps; i++) {
        if (device->pins[i] == DIA_NO_PIN)
            return dia_rig_wrong_key(reader, node, "'pins' of '%s' has no '%s'; write '%s: 20'",
                                     device->name, roles[i], roles[i]);
        device->output_of[i] = device->place_of[i] = (uint16_t)i;
    }
    return dia_family_place(reader, node, words, device, device->lamps, 20000);
}

static void sizes(const struct dia_rig_device *from, size_t *drawing, size_t *memory)
{
    *drawing = from->lamps;
    *memory = 0;
}

static int on_bench(struct dia_player *player, uint32_t number, struct dia_device_setup *setup)
{
    setup->count = player->desk->rig.devices[number].lamps;
    return bench_beacon(player->bench, setup);
}

static enum dia_status connect_driver(struct dia_player *player, const struct dia_rig_device *from,
                                      struct play_device *device)
{
    return beacon_init((struct beacon *)device->driver, player->port, from->pins,
                       (uint8_t)from->lamps, device->drawing);
}

static struct family_levels levels(const void *sheet, uint32_t supply_mv)
{
    (void)supply_mv;
    return (struct family_levels){
        .supply_min_mv = 3000, .supply_max_mv = 12000, .input_high_mv = 2000, .source = sheet};
}

static void numbers(struct dia_check_device *c, const struct dia_rig *rig,
                    const struct dia_rig_device *device)
{
    (void)rig;
    c->bits = device->lamps;
    c->duty_permille = 1000;
    c->ram_bytes = device->lamps + (uint32_t)sizeof(struct beacon);
    c->output_ua = device->lamp_ua;
    c->drawn_ua = (uint64_t)device->lamps * device->lamp_ua;
}

const struct dia_rig_family family_beacon = {
    .parts = parts,
    .what = "a beacon",
    .roles = roles,
    .fields = fields,
    .read = read,
    .needs_pin = needs_pin,
    .lies = DIA_LIES_LINE,
    .driver_bytes = sizeof(struct beacon),
    .sizes = sizes,
    .on_bench = on_bench,
    .connect = connect_driver,
    .levels = levels,
    .numbers = numbers,
};
