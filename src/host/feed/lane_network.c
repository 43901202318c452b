/* SPDX-License-Identifier: MIT */
#include <math.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/feeding.h>

double dia_wire_ohm(uint32_t length_um, uint32_t section_um2)
{
    return DIA_COPPER_OHM_UM * length_um / section_um2;
}

uint32_t dia_awg_um2(int gauge)
{
    double wide_um = 127 * pow(92, (36 - gauge) / 39.0);
    return (uint32_t)(wide_um * wide_um * 0.78539816339745e-3 + 0.5) * 1000;
}

uint32_t dia_rail_uohm_m(uint32_t copper_um)
{
    double ohm_m = DIA_COPPER_OHM_UM * 1e6 / (DIA_RAIL_WIDE_UM * (double)copper_um);
    return (uint32_t)(ohm_m * 1e6 + 0.5);
}

uint32_t dia_volts_wanted_mv(const struct dia_rig *rig, const struct dia_rig_lane *lane)
{
    return rig->supplies[lane->supply].voltage_mv / 10 * 9;
}

void dia_lane_network(struct dia_lane_network *network, const struct dia_rig *rig,
                      const struct dia_rig_lane *lane)
{
    struct dia_rails_setup *setup = &network->setup;
    double rail_ohm = lane->rail_uohm_m * 1e-6 * lane->layout.pitch_um * 1e-6;
    memset(network, 0, sizeof *network);
    dia_bench_need(lane->part.name, rig->supplies[lane->supply].voltage_mv, &network->need);
    if (lane->channel_ua)
        network->need.channel_amp = lane->channel_ua * 1e-6;
    if (lane->idle_ua)
        network->need.quiet_amp = lane->idle_ua * 1e-6;
    *setup = (struct dia_rails_setup){.count = lane->count,
                                      .supply_ohm = rail_ohm,
                                      .ground_ohm = rail_ohm,
                                      .feeds = network->feeds,
                                      .feed_count = lane->feed_count,
                                      .need = network->need.rails};
    for (uint32_t i = 0; i < lane->feed_count; i++) {
        const struct dia_rig_feed *feed = &lane->feeds[i];
        double ohm = dia_wire_ohm(feed->length_um, feed->section_um2);
        uint8_t is_ground = feed->supply == DIA_RIG_NO_SUPPLY;
        network->feeds[i] = (struct dia_rails_feed){feed->element, is_ground ? -1 : ohm, ohm};
        network->volts[i] = is_ground ? 0 : rig->supplies[feed->supply].voltage_mv * 1e-3;
    }
}

struct dia_lane_lit dia_lane_white(const struct dia_rig_lane *lane)
{
    return (struct dia_lane_lit){{1, 1, 1, 1}, 0, lane->count};
}

static void want(const struct dia_lane_network *network, const struct dia_lane_lit *lit,
                 float (*amps)[4])
{
    float each[4] = {0};
    double most = 0;
    for (int c = 0; c < network->need.channels; c++) {
        each[c] = (float)(lit->share[c] * network->need.channel_amp);
        most = lit->share[c] > most ? lit->share[c] : most;
    }
    if (network->need.series)
        memcpy(each, (float[4]){(float)(most * network->need.channel_amp)}, sizeof each);
    for (uint32_t k = 0; k < lit->count; k++)
        memcpy(amps[lit->first + k], each, sizeof each);
}

static uint32_t mv_of(const struct dia_rails *rails, uint32_t element)
{
    double volts = dia_rails_volts(rails, element);
    return volts < 0 ? 0 : (uint32_t)(volts * 1000 + 0.5);
}

static void read_off(const struct dia_lane_network *network, const struct dia_rails *rails,
                     struct dia_lane_volts *volts)
{
    memset(volts, 0, sizeof *volts);
    volts->least_at = dia_rails_worst(rails);
    volts->least_mv = mv_of(rails, volts->least_at);
    volts->last_mv = mv_of(rails, network->setup.count - 1);
    volts->feeds_mv = UINT32_MAX;
    for (uint32_t i = 0; i < network->setup.feed_count; i++) {
        double in = fabs(dia_rails_feed_amps(rails, i));
        double out = fabs(dia_rails_feed_ground_amps(rails, i));
        uint32_t mv = mv_of(rails, network->feeds[i].element);
        if (network->feeds[i].supply_ohm >= 0 && mv < volts->feeds_mv)
            volts->feeds_mv = mv;
        volts->feed_amps[i] = in > out ? in : out;
        volts->amps += dia_rails_feed_ground_amps(rails, i);
    }
}

enum dia_status dia_lane_volts(const struct dia_lane_network *network,
                               const struct dia_lane_lit *lit, struct dia_lane_volts *volts)
{
    struct dia_rails *rails = dia_rails_new(&network->setup);
    float(*amps)[4] = calloc(network->setup.count, sizeof *amps);
    if (rails && amps) {
        want(network, lit, amps);
        dia_rails_solve(rails, network->volts, (const float(*)[4])amps, network->need.quiet_amp);
        read_off(network, rails, volts);
    }
    enum dia_status status = rails && amps ? DIA_OK : DIA_PORT_FAILED;
    free(amps);
    dia_rails_free(rails);
    return status;
}
