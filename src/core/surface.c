/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include <diachrome/config.h>
#include <diachrome/layout.h>

enum dia_status dia_surface_line(struct dia_surface *surface, uint32_t count, int32_t start_um,
                                 int32_t pitch_um)
{
    if (count == 0 || pitch_um <= 0)
        return DIA_BAD_VALUE;
    int64_t length = (int64_t)count * pitch_um;
    if (length > INT32_MAX || start_um + length > INT32_MAX)
        return DIA_BAD_VALUE;
    surface->count = count;
    surface->start_um = start_um;
    surface->pitch_um = pitch_um;
    surface->layout = NULL;
    surface->of = NULL;
    surface->axis = DIA_ALONG;
    return DIA_OK;
}

static int32_t scaled(int32_t length_um, int32_t by, int32_t of)
{
    int64_t product = (int64_t)length_um * by, half = product < 0 ? -(of / 2) : of / 2;
    product = (product + half) / of;
    return product > INT32_MAX ? INT32_MAX : product < -INT32_MAX ? -INT32_MAX : (int32_t)product;
}

int32_t dia_surface_px_um(const struct dia_surface *surface, int32_t px_1000ths)
{
    return scaled(surface->pitch_um, px_1000ths, 1000);
}

int32_t dia_surface_part_um(const struct dia_surface *surface, int32_t millionths)
{
    return scaled(dia_surface_length_um(surface), millionths, 1000000);
}

void dia_ramp_init(struct dia_ramp *ramp, const struct dia_surface *surface, uint64_t span,
                   uint32_t start)
{
    ramp->start = start;
    ramp->surface = surface->layout || surface->axis != DIA_ALONG ? surface : NULL;
    ramp->fine = (uint16_t)span;
    ramp->step = (uint32_t)(ramp->surface ? span >> 16 : span / surface->count);
}

/* In products of 16 bits, which both small controllers and vectors have. */
static void run_on_layout(const struct dia_ramp *ramp, uint32_t first, uint32_t n, uint32_t *out)
{
    const uint32_t start = ramp->start;
    const uint16_t fine = ramp->fine, low = (uint16_t)ramp->step,
                   high = (uint16_t)(ramp->step >> 16);
    uint16_t shares[DIA_RUN] = {0};
    for (uint32_t done = 0; done < n; done += DIA_RUN) {
        uint32_t run = n - done < DIA_RUN ? n - done : DIA_RUN;
        dia_surface_shares(ramp->surface, (enum dia_axis)ramp->surface->axis, first + done, run,
                           shares);
        if ((low | fine) == 0) { /* whole turns: that is all there is */
            for (uint32_t i = 0; i < run; i++)
                out[done + i] = start + ((uint32_t)(uint16_t)((uint32_t)shares[i] * high) << 16);
            continue;
        }
        for (uint32_t i = 0; i < run; i++)
            out[done + i] = start + ((uint32_t)shares[i] * high << 16) + (uint32_t)shares[i] * low +
                            ((uint32_t)shares[i] * fine >> 16);
    }
}

void dia_ramp_run(const struct dia_ramp *ramp, uint32_t first, uint32_t n, uint32_t *out)
{
    const uint32_t step = ramp->step; /* out might be the ramp, for all a compiler knows */
    uint32_t value = ramp->start + first * step;
    if (ramp->surface) {
        run_on_layout(ramp, first, n, out);
        return;
    }
    for (uint32_t i = 0; i < n; i++) {
        out[i] = value;
        value += step;
    }
}
