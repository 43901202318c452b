/* SPDX-License-Identifier: MIT */
#include <stddef.h>
#include <string.h>

#include <diachrome/layer.h>

#include "blend.h"
#include "shade.h"

#ifndef DIA_STACK_RUN
#define DIA_STACK_RUN 1024u
#endif

void dia_layer_init(struct dia_layer *layer, const struct dia_surface *surface, dia_render *render,
                    const void *values)
{
    memset(layer, 0, sizeof *layer);
    layer->surface = surface;
    layer->render = render;
    layer->values = values;
    layer->level = DIA_SHARE_ONE;
}

/* What is to begin yet has a time before 0, which is far beyond half of all there are. */
void dia_layers_settle(struct dia_layer *layers, uint8_t count, uint32_t ms)
{
    for (uint8_t k = 0; k < count; k++) {
        struct dia_layer *layer = &layers[k];
        uint32_t gone = ms - layer->start_ms;
        if (gone >= 0x80000000u)
            continue;
        if (layer->length_ms != 0 && gone >= layer->length_ms) {
            layer->level = 0;
            layer->length_ms = 0;
        }
        if (layer->length_ms == 0 && gone >= layer->fade_in_ms)
            layer->fade_in_ms = 0;
    }
}

/* How much of a layer shows at a time, of 256. */
static uint16_t alpha_at(const struct dia_layer *layer, uint32_t ms)
{
    uint32_t gone = ms - layer->start_ms, faded = layer->fade_in_ms + layer->fade_out_ms;
    uint32_t level = 65535u;
    if (layer->length_ms)
        level = dia_envelope(gone, layer->fade_in_ms,
                             layer->length_ms > faded ? layer->length_ms - faded : 0,
                             layer->fade_out_ms);
    else if (gone < layer->fade_in_ms)
        level = dia_envelope(gone, layer->fade_in_ms, 0, 0);
    return shade_256ths((uint16_t)(level * layer->level >> 15));
}

/* What is rendered over, so that a drawing changes nothing where it draws nothing. Looks fill it;
 * they get it too, since a drawing that did not would show what was on the stack. */
static void prepare(const struct dia_layer *layer, uint32_t n, const struct dia_rgb *below,
                    struct dia_rgb *colours)
{
    uint8_t white = layer->blend == DIA_BLEND_MULTIPLY || layer->blend == DIA_BLEND_DARKEN;
    if (layer->blend == DIA_BLEND_OVER)
        memcpy(colours, below, (size_t)(n * sizeof *colours));
    else
        memset(colours, white ? 255 : 0, (size_t)(n * sizeof *colours));
}

/* Elements first.. of a layer over those in out, which lie on the same elements of the frame. */
static void lay(const struct dia_layer *layer, uint16_t alpha, uint32_t ms, uint32_t first,
                uint32_t n, struct dia_rgb *out)
{
    struct dia_rgb colours[DIA_STACK_RUN];
    uint16_t levels[DIA_STACK_RUN];
    uint32_t own_ms = ms - layer->start_ms + layer->ahead_ms;
    if (layer->blend == DIA_BLEND_OVER && alpha == 256u && !layer->mask) {
        layer->render(layer->values, layer->surface, own_ms, first, n, out);
        return;
    }
    prepare(layer, n, out, colours);
    layer->render(layer->values, layer->surface, own_ms, first, n, colours);
    if (!layer->mask) {
        dia_blend_all((uint8_t *)out, (const uint8_t *)colours, n * 3u, layer->blend, alpha);
        return;
    }
    dia_wave_run(layer->mask, layer->surface, own_ms, first, n, levels);
    dia_blend_each(out, colours, n, layer->blend, alpha, levels);
}

static void stack_run(const struct dia_stack *stack, uint32_t ms, uint32_t first, uint32_t n,
                      struct dia_rgb *out)
{
    memset(out, 0, (size_t)(n * sizeof *out));
    for (uint8_t k = 0; k < stack->count; k++) {
        const struct dia_layer *layer = &stack->layers[k];
        uint32_t end = layer->first + layer->surface->count;
        uint32_t from = first > layer->first ? first : layer->first;
        uint32_t to = first + n < end ? first + n : end;
        uint16_t alpha = alpha_at(layer, ms);
        if (from < to && alpha != 0)
            lay(layer, alpha, ms, from - layer->first, to - from, out + (from - first));
    }
}

void dia_stack_render(const struct dia_stack *stack, uint32_t ms, uint32_t first, uint32_t n,
                      struct dia_rgb *out)
{
    while (n != 0) {
        uint32_t run = n < DIA_STACK_RUN ? n : DIA_STACK_RUN;
        stack_run(stack, ms, first, run, out);
        first += run;
        out += run;
        n -= run;
    }
}

void dia_stack_cross(const struct dia_stack *from, const struct dia_stack *to, dia_share share,
                     uint32_t ms, uint32_t first, uint32_t n, struct dia_rgb *out)
{
    uint16_t alpha = (uint16_t)((share + 64u) >> 7);
    struct dia_rgb other[DIA_STACK_RUN];
    while (n != 0) {
        uint32_t run = n < DIA_STACK_RUN ? n : DIA_STACK_RUN;
        stack_run(from, ms, first, run, out);
        stack_run(to, ms, first, run, other);
        dia_blend_all((uint8_t *)out, (const uint8_t *)other, run * 3u, DIA_BLEND_OVER, alpha);
        first += run;
        out += run;
        n -= run;
    }
}
