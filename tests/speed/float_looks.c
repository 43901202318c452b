/* SPDX-License-Identifier: MIT */
#include <math.h>
#include <stddef.h>

#include "float_looks.h"

#define PITCH 2.0f /* mm */

struct colour {
    float r, g, b;
};

/* Colours are parameters of a look: not to be folded into constants. */
volatile float float_of_code = 1 / 255.0f;

static struct colour rgb(float r, float g, float b)
{
    float one = float_of_code;
    return (struct colour){r * one, g * one, b * one};
}

static struct colour mix(struct colour a, struct colour b, float part)
{
    return (struct colour){a.r + (b.r - a.r) * part, a.g + (b.g - a.g) * part,
                           a.b + (b.b - a.b) * part};
}

static void put(uint8_t *bytes, uint32_t i, struct colour c)
{
    bytes[3 * i] = (uint8_t)(powf(c.r, 2.2f) * 255.0f + 0.5f);
    bytes[3 * i + 1] = (uint8_t)(powf(c.g, 2.2f) * 255.0f + 0.5f);
    bytes[3 * i + 2] = (uint8_t)(powf(c.b, 2.2f) * 255.0f + 0.5f);
}

static float part_of(float x)
{
    return x - floorf(x);
}

static float wave(float turns)
{
    return (1 - cosf(turns * 6.2831853f)) / 2;
}

static float hashed(float x, float y)
{
    return part_of(sinf(x * 12.9898f + y * 78.233f) * 43758.547f);
}

static float smooth(float x)
{
    return x * x * (3 - 2 * x);
}

static float noise(float x, float y)
{
    float fx = floorf(x), fy = floorf(y), ex = smooth(x - fx), ey = smooth(y - fy);
    float a = hashed(fx, fy), b = hashed(fx + 1, fy), c = hashed(fx, fy + 1);
    float d = hashed(fx + 1, fy + 1);
    return (a + (b - a) * ex) * (1 - ey) + (c + (d - c) * ex) * ey;
}

/* mixed in linear light, and back */
static struct colour palette(const struct colour *colours, int count, float value)
{
    float place = value * (float)(count - 1);
    int k = (int)place < count - 1 ? (int)place : count - 2;
    float part = place - (float)k;
    const float *a = &colours[k].r, *b = &colours[k + 1].r;
    float out[3];
    for (int c = 0; c < 3; c++)
        out[c] = powf(powf(a[c], 2.2f) * (1 - part) + powf(b[c], 2.2f) * part, 1 / 2.2f);
    return (struct colour){out[0], out[1], out[2]};
}

/* Two colours, of which the second covers a part of elements: mixed in linear light, and back. */
struct pair {
    struct colour from, to;
};

static struct pair covering(struct colour from, struct colour to)
{
    return (struct pair){{powf(from.r, 2.2f), powf(from.g, 2.2f), powf(from.b, 2.2f)},
                         {powf(to.r, 2.2f), powf(to.g, 2.2f), powf(to.b, 2.2f)}};
}

static struct colour cover(struct pair pair, float part)
{
    struct colour light = mix(pair.from, pair.to, part);
    return (struct colour){powf(light.r, 1 / 2.2f), powf(light.g, 1 / 2.2f),
                           powf(light.b, 1 / 2.2f)};
}

/* How much light of a head of 1 and a tail lies on an element of a width: what lies before its far
 * side less what lies before its near side. */
static float light_up_to(float behind, float head, float tail)
{
    float in_head = fminf(fmaxf(behind, 0), head), in_tail = fminf(fmaxf(behind - head, 0), tail);
    float left = 1 - in_tail / tail;
    return in_head + tail / 3 * (1 - left * left * left);
}

static float tail_on(float behind, float width, float head, float tail)
{
    return (light_up_to(behind, head, tail) - light_up_to(behind - width, head, tail)) / width;
}

static void steady(uint32_t count, uint32_t ms, uint8_t *bytes)
{
    (void)ms;
    for (uint32_t i = 0; i < count; i++)
        put(bytes, i, rgb(255, 180, 100));
}

static void breathe(uint32_t count, uint32_t ms, uint8_t *bytes)
{
    float level = 0.125f + 0.875f * wave((float)ms / 4000);
    for (uint32_t i = 0; i < count; i++)
        put(bytes, i, mix(rgb(0, 0, 0), rgb(255, 170, 80), level));
}

static void blink(uint32_t count, uint32_t ms, uint8_t *bytes)
{
    for (uint32_t i = 0; i < count; i++)
        put(bytes, i, ms % 1000 < 500 ? rgb(255, 120, 0) : rgb(0, 0, 0));
}

static void alternate(uint32_t count, uint32_t ms, uint8_t *bytes)
{
    for (uint32_t i = 0; i < count; i++)
        put(bytes, i, (i + ms / 500) % 2 ? rgb(20, 60, 255) : rgb(255, 60, 20));
}

static void wipe(uint32_t count, uint32_t ms, uint8_t *bytes)
{
    float phase = part_of((float)ms / 4000) * 2, length = (float)count * PITCH;
    struct colour a = rgb(255, 150, 40), b = rgb(0, 20, 60);
    struct pair both = phase < 1 ? covering(b, a) : covering(a, b);
    float edge = part_of(phase) * (length + 100);
    for (uint32_t i = 0; i < count; i++) {
        float level = fminf(fmaxf((edge - (float)i * PITCH) / 100, 0), 1);
        put(bytes, i, cover(both, level));
    }
}

static void reveal(uint32_t count, uint32_t ms, uint8_t *bytes)
{
    float gone = fmodf((float)ms, (float)count * 100 + 2000), lit = gone / 50;
    if (gone > (float)count * 50)
        lit = (float)count - fmaxf(0, (gone - (float)count * 50 - 1000) / 50);
    for (uint32_t i = 0; i < count; i++)
        put(bytes, i, (float)i < lit ? rgb(255, 190, 90) : rgb(0, 0, 0));
}

static void hue_sweep(uint32_t count, uint32_t ms, uint8_t *bytes)
{
    float moved = (float)ms * 0.0001f;
    for (uint32_t i = 0; i < count; i++) {
        float h = part_of((float)i / (float)count - moved) * 6, f = h - floorf(h), q = 1 - f;
        static const int order[6][3] = {{0, 2, 1}, {3, 0, 1}, {1, 0, 2},
                                        {1, 3, 0}, {2, 1, 0}, {0, 1, 3}};
        float parts[4] = {1, 0, f, q};
        const int *at = order[(int)h];
        put(bytes, i, (struct colour){parts[at[0]], parts[at[1]], parts[at[2]]});
    }
}

static void waves(uint32_t count, uint32_t ms, uint8_t *bytes)
{
    float moved = (float)ms * 0.0001f;
    for (uint32_t i = 0; i < count; i++) {
        float x = (float)i / (float)count;
        put(bytes, i,
            (struct colour){wave(x - moved), wave(2 * x - moved - 0.333f),
                            wave(3 * x - moved - 0.667f)});
    }
}

static void chase(uint32_t count, uint32_t ms, uint8_t *bytes)
{
    struct pair both = covering(rgb(0, 0, 16), rgb(255, 200, 120));
    float width = 3 / (float)count;
    for (uint32_t i = 0; i < count; i++) {
        float behind = 1 - part_of(width * (float)i - (float)ms * 0.0001f);
        put(bytes, i, cover(both, tail_on(behind, width, width, 0.5f - width)));
    }
}

static void pulse(uint32_t count, uint32_t ms, uint8_t *bytes)
{
    struct pair both = covering(rgb(0, 0, 10), rgb(200, 230, 255));
    float front = fmodf((float)ms * 0.8f, (float)count * PITCH + 430 + 800);
    for (uint32_t i = 0; i < count; i++)
        put(bytes, i, cover(both, tail_on(front - (float)i * PITCH, PITCH, 30, 400)));
}

static void bounce(uint32_t count, uint32_t ms, uint8_t *bytes)
{
    struct pair both = covering(rgb(0, 0, 0), rgb(255, 40, 20));
    float phase = part_of((float)ms / 3000) * 2, way = phase < 1 ? phase : 2 - phase;
    float from = way * ((float)count * PITCH - 60), to = from + 60;
    for (uint32_t i = 0; i < count; i++) {
        float low = fmaxf((float)i * PITCH, from), high = fminf((float)(i + 1) * PITCH, to);
        put(bytes, i, cover(both, high > low ? (high - low) / PITCH : 0));
    }
}

static void rings(uint32_t count, uint32_t ms, uint8_t *bytes)
{
    float middle = (float)count / 2;
    for (uint32_t i = 0; i < count; i++) {
        float x = ((float)i - middle) * PITCH, radius = sqrtf(x * x);
        put(bytes, i,
            mix(rgb(0, 8, 24), rgb(90, 210, 255), wave((radius - (float)ms * 0.06f) / 60)));
    }
}

static void beam(uint32_t count, uint32_t ms, uint8_t *bytes)
{
    float middle = (float)count / 2, turned = (float)ms / 4000;
    for (uint32_t i = 0; i < count; i++) {
        float angle = atan2f((float)i - middle, 0.001f) / 6.2831853f;
        float off = part_of(angle - turned);
        off = off > 0.5f ? 1 - off : off;
        put(bytes, i, mix(rgb(0, 0, 0), rgb(255, 240, 200), off < 0.1f ? 1 - off / 0.1f : 0));
    }
}

static void columns(uint32_t count, uint32_t ms, uint8_t *bytes)
{
    struct pair both = covering(rgb(0, 6, 4), rgb(150, 255, 170));
    const float width = PITCH / 150;
    for (uint32_t i = 0; i < count; i++) {
        float behind = 1 - part_of((float)i * width - (float)ms * 0.001f + hashed(0, 1));
        put(bytes, i, cover(both, tail_on(behind, width, width, 0.5f - width)));
    }
}

static void drift(uint32_t count, uint32_t ms, uint8_t *bytes)
{
    struct colour sea[] = {rgb(4, 16, 72), rgb(0, 96, 128), rgb(40, 200, 160), rgb(230, 245, 200)};
    for (uint32_t i = 0; i < count; i++)
        put(bytes, i, palette(sea, 4, noise((float)i * PITCH / 300, (float)ms / 8000)));
}

static void scatter(uint32_t count, uint32_t ms, uint8_t *bytes)
{
    struct colour some[] = {rgb(255, 60, 30), rgb(255, 170, 40), rgb(40, 200, 90),
                            rgb(40, 110, 255), rgb(190, 60, 255)};
    for (uint32_t i = 0; i < count; i++) {
        float slot = floorf((float)ms / 1000 + hashed((float)i, 0));
        put(bytes, i, some[(int)(hashed((float)i, slot) * 4.999f)]);
    }
}

static void glimmer(uint32_t count, uint32_t ms, uint8_t *bytes)
{
    float at = (float)ms / 400, slot = floorf(at), part = smooth(at - slot);
    for (uint32_t i = 0; i < count; i++) {
        float now = hashed((float)i, slot), next = hashed((float)i, slot + 1);
        put(bytes, i, mix(rgb(255, 190, 110), rgb(0, 0, 0), 0.75f * (now + (next - now) * part)));
    }
}

static void flame(uint32_t count, uint32_t ms, uint8_t *bytes)
{
    struct colour heat[] = {rgb(0, 0, 0), rgb(110, 8, 0), rgb(230, 70, 0), rgb(255, 170, 30),
                            rgb(255, 240, 170)};
    for (uint32_t i = 0; i < count; i++) {
        float y = (float)i * PITCH / 40 + (float)ms * 0.003f;
        put(bytes, i, palette(heat, 5, noise(y, (float)ms / 500) / 2 + 0.5f));
    }
}

static void water(uint32_t count, uint32_t ms, uint8_t *bytes)
{
    struct colour sea[] = {rgb(0, 6, 30), rgb(0, 40, 110), rgb(0, 120, 170), rgb(60, 200, 200),
                           rgb(230, 255, 250)};
    for (uint32_t i = 0; i < count; i++) {
        float y = (float)i * PITCH / 60, t = (float)ms / 2500;
        put(bytes, i, palette(sea, 5, (noise(y, t) + noise(y + 0.5f, t + 99)) / 2));
    }
}

static void draw(uint32_t count, uint32_t ms, uint8_t *bytes)
{
    (void)ms;
    for (uint32_t i = 0; i < count; i++) {
        float x = ((float)i + 0.5f) * PITCH - 50, y = PITCH / 2 - 50;
        put(bytes, i, sqrtf(x * x + y * y) < 50 ? rgb(255, 200, 80) : rgb(0, 0, 0));
    }
}

const struct float_row float_looks[] = {
    {"steady", steady},   {"breathe", breathe}, {"blink", blink},         {"alternate", alternate},
    {"wipe", wipe},       {"reveal", reveal},   {"hue-sweep", hue_sweep}, {"waves", waves},
    {"chase", chase},     {"pulse", pulse},     {"bounce", bounce},       {"rings", rings},
    {"beam", beam},       {"columns", columns}, {"drift", drift},         {"scatter", scatter},
    {"glimmer", glimmer}, {"flame", flame},     {"water", water},         {"draw", draw},
    {NULL, NULL},
};
