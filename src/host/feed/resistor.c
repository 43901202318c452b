/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include <diachrome/resistor.h>

static const uint8_t e24[] = {10, 11, 12, 13, 15, 16, 18, 20, 22, 24, 27, 30,
                              33, 36, 39, 43, 47, 51, 56, 62, 68, 75, 82, 91};

uint32_t dia_resistor_next(uint32_t mohm, enum dia_series series)
{
    for (uint64_t decade = 1; decade <= 100000000; decade *= 10) {
        for (size_t i = 0; i < sizeof e24; i += series == DIA_E12 ? 2 : 1) {
            if (e24[i] * decade >= mohm && e24[i] * decade <= UINT32_MAX)
                return (uint32_t)(e24[i] * decade);
        }
    }
    return 0;
}

/* Volts that are left for resistors, uV are kept in 64 bits. */
static uint32_t left_mv(const struct dia_led_circuit *circuit)
{
    uint64_t taken = (uint64_t)circuit->forward_mv + circuit->switch_mv;
    return taken >= circuit->supply_mv ? 0 : (uint32_t)(circuit->supply_mv - taken);
}

uint32_t dia_led_resistor_mohm(const struct dia_led_circuit *circuit, uint32_t ua)
{
    uint64_t all = ua ? (uint64_t)left_mv(circuit) * 1000000u / ua : 0;
    return all > circuit->output_mohm && all - circuit->output_mohm <= UINT32_MAX
               ? (uint32_t)(all - circuit->output_mohm)
               : 0;
}

uint32_t dia_led_current_ua(const struct dia_led_circuit *circuit, uint32_t resistor_mohm)
{
    uint64_t mohm = (uint64_t)resistor_mohm + circuit->output_mohm;
    uint64_t ua = mohm ? ((uint64_t)left_mv(circuit) * 1000000u + mohm / 2) / mohm : UINT32_MAX;
    return left_mv(circuit) == 0 ? 0 : ua > UINT32_MAX ? UINT32_MAX : (uint32_t)ua;
}

uint32_t dia_resistor_heat_uw(uint32_t resistor_mohm, uint32_t ua, uint32_t duty_permille)
{
    double uw = (double)resistor_mohm * 1e-3 * ((double)ua * 1e-6) * ua * duty_permille * 1e-3;
    return uw > UINT32_MAX ? UINT32_MAX : (uint32_t)(uw + 0.5);
}

uint32_t dia_resistor_rating_mw(uint32_t heat_uw)
{
    static const uint32_t ratings[] = {250, 500, 1000, 2000};
    for (size_t i = 0; i < sizeof ratings / sizeof ratings[0]; i++) {
        if (ratings[i] * (uint64_t)1000 >= 2 * (uint64_t)heat_uw)
            return ratings[i];
    }
    return 0;
}

uint32_t dia_led_forward_mv(struct dia_rgb colour)
{
    uint8_t most = colour.r > colour.g ? colour.r : colour.g;
    if (colour.b >= most / 3 * 2)
        return 3150; /* blue, white, pink, violet */
    if (colour.g <= colour.r / 3)
        return 1950;
    return colour.r < colour.g / 2 ? 3000 : 2100;
}

/* kohm by segment current (rows, 40 to 10 mA) and forward voltage (1.5 to 3.5 V). */
static const double table[4][5] = {{12.2, 11.8, 11.0, 10.6, 9.69},
                                   {17.8, 17.1, 15.8, 15.0, 14.0},
                                   {29.8, 28.0, 25.9, 24.5, 22.6},
                                   {66.7, 63.7, 59.3, 55.4, 51.2}};

static double at_forward(int row, uint32_t forward_mv)
{
    double at = forward_mv <= 1500 ? 0 : forward_mv >= 3500 ? 4 : (forward_mv - 1500) / 500.0;
    int i = at >= 4 ? 3 : (int)at;
    return table[row][i] + (table[row][i + 1] - table[row][i]) * (at - i);
}

/* Between rows the current goes with 1 / resistance, so that is what is a straight line. */
uint32_t dia_segment_resistor_ohm(uint32_t ua, uint32_t forward_mv)
{
    double ma = ua < 10000 ? 10 : ua > 40000 ? 40 : ua / 1000.0, at = (40 - ma) / 10;
    int i = at >= 3 ? 2 : (int)at;
    double from = 1 / at_forward(i, forward_mv), to = 1 / at_forward(i + 1, forward_mv);
    return (uint32_t)(1000 / (from + (to - from) * (at - i)) + 0.5);
}

uint32_t dia_segment_current_ua(uint32_t ohm, uint32_t forward_mv)
{
    uint32_t low = 10000, high = 40000;
    if (dia_segment_resistor_ohm(high, forward_mv) >= ohm)
        return high;
    while (high - low > 1) { /* the larger the resistor, the smaller the current */
        uint32_t between = low + (high - low) / 2;
        if (dia_segment_resistor_ohm(between, forward_mv) >= ohm)
            low = between;
        else
            high = between;
    }
    return low;
}
