/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include <diachrome/flashing.h>

#include "player_private.h"

/* The numbers of WCAG 2.2, "general flash and red flash thresholds". */
#define CHANGE      6554u  /* a tenth of full white */
#define BRIGHT      52428u /* 80 %: where the darker is above, it is no flash */
#define A_SECOND_MS 1000u

void dia_flashing_init(struct dia_flashing *flashing, uint8_t most)
{
    memset(flashing, 0, sizeof *flashing);
    flashing->most = most < 1 ? 1 : most > DIA_FLASHES_MOST ? DIA_FLASHES_MOST : most;
}

/* Weights of BT.709 in 32768ths: 0.2126, 0.7152, 0.0722. */
dia_light dia_flashing_mean(const struct dia_rgb *pixels, uint32_t n)
{
    uint64_t sum[3] = {0, 0, 0};
    if (n == 0)
        return 0;
    for (uint32_t i = 0; i < n; i++) {
        sum[0] += dia_light_of(pixels[i].r);
        sum[1] += dia_light_of(pixels[i].g);
        sum[2] += dia_light_of(pixels[i].b);
    }
    return (dia_light)((sum[0] * 6966u + sum[1] * 23436u + sum[2] * 2366u) / 32768u / n);
}

dia_light dia_flashing_mean_of_levels(const uint8_t *levels, uint32_t n)
{
    uint64_t sum = 0;
    for (uint32_t i = 0; i < n; i++)
        sum += dia_light_of(levels[i]);
    return n ? (dia_light)(sum / n) : 0;
}

/* A change is over when the brightness turns back by a tenth; until then it goes on, and its end
 * moves along. */
uint8_t dia_flashing_allows(struct dia_flashing *flashing, dia_light mean, uint32_t ms)
{
    uint8_t changes = (uint8_t)(2 * flashing->most);
    if (!flashing->begun) {
        flashing->begun = 1;
        flashing->extreme = mean;
        return 1;
    }
    uint16_t lower = mean < flashing->extreme ? mean : flashing->extreme;
    uint16_t apart =
        (uint16_t)(mean < flashing->extreme ? flashing->extreme - mean : mean - flashing->extreme);
    uint8_t rises = mean > flashing->extreme;
    uint8_t goes_on = flashing->count != 0 && rises == flashing->rises;
    if (goes_on) {
        flashing->extreme = mean;
        return 1;
    }
    if (apart < CHANGE || lower >= BRIGHT)
        return 1; /* too little to be seen as one: the extreme stays */
    if (flashing->count == changes && ms - flashing->at[flashing->next] < A_SECOND_MS)
        return 0;
    flashing->at[flashing->next] = ms;
    flashing->next = (uint8_t)((flashing->next + 1) % changes);
    flashing->count = (uint8_t)(flashing->count < changes ? flashing->count + 1 : changes);
    flashing->rises = rises;
    flashing->extreme = mean;
    return 1;
}

/* ---- of a player ----------------------------------------------------------------------------- */

/* What showed last, of a lane or device. */
struct play_kept {
    struct dia_flashing flashing;
    uint8_t *drawing;
    dia_share master;
};

int dia_player_flashes(struct dia_player *player, uint8_t most)
{
    int failed = 0;
    for (uint32_t k = 0; player->nodes && k < player->nodes->count; k++)
        failed |= dia_player_flashes(player->nodes->players[k], most);
    if (player->nodes)
        return failed;
    uint32_t n = player->set.member_count;
    dia_play_kept_free(player);
    if (most == 0)
        return 0;
    player->kept = calloc(n, sizeof *player->kept);
    for (uint32_t i = 0; player->kept && i < n; i++) {
        const struct dia_driver *driver = player->members[i].driver;
        dia_flashing_init(&player->kept[i].flashing, most);
        player->kept[i].drawing = calloc(driver->drawing_bytes + 1u, 1);
        if (!player->kept[i].drawing)
            dia_play_kept_free(player);
    }
    return player->kept ? 0 : -1;
}

void dia_play_kept_free(struct dia_player *player)
{
    for (uint32_t i = 0; player->kept && i < player->set.member_count; i++)
        free(player->kept[i].drawing);
    free(player->kept);
    player->kept = NULL;
}

static dia_light mean_of(const struct dia_player *player, uint32_t member)
{
    uint32_t devices = player->rig->device_count;
    dia_light mean;
    if (member < devices) {
        const struct dia_rig_device *device = &player->rig->devices[member];
        mean = dia_flashing_mean_of_levels(player->devices[member].levels,
                                           device->lamps * device->channels);
    } else {
        mean = dia_flashing_mean(player->lanes[member - devices].pixels,
                                 player->rig->lanes[member - devices].count);
    }
    uint32_t master = player->members[member].driver->master;
    return (dia_light)((uint64_t)mean * master / DIA_SHARE_ONE);
}

void dia_play_keep_from_flashing(struct dia_player *player)
{
    for (uint32_t i = 0; player->kept && i < player->set.member_count; i++) {
        struct play_kept *kept = &player->kept[i];
        struct dia_driver *driver = player->members[i].driver;
        if (i < player->rig->device_count && player->devices[i].is_cells)
            continue; /* texts do not flash as a light does */
        if (dia_flashing_allows(&kept->flashing, mean_of(player, i), player->run_ms)) {
            memcpy(kept->drawing, driver->drawing, driver->drawing_bytes);
            kept->master = driver->master;
        } else {
            memcpy(driver->drawing, kept->drawing, driver->drawing_bytes);
            driver->master = kept->master;
            player->held_back++;
        }
    }
}

void dia_player_run_ms(struct dia_player *player, uint32_t ms)
{
    for (uint32_t k = 0; player->nodes && k < player->nodes->count; k++)
        dia_player_run_ms(player->nodes->players[k], ms);
    player->run_ms = ms;
}

uint64_t dia_player_held_back(const struct dia_player *player)
{
    uint64_t sum = player->held_back;
    for (uint32_t k = 0; player->nodes && k < player->nodes->count; k++)
        sum += dia_player_held_back(player->nodes->players[k]);
    return sum;
}
