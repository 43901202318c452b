/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>
#include <strings.h>

#include <diachrome/colour_text.h>
#include <diachrome/gradient.h>
#include <diachrome/nearest.h>

#include "colour_names.h"
#include "host_private.h"

#define NAMES 160

static struct dia_rgb of_number(uint32_t rgb)
{
    return (struct dia_rgb){(uint8_t)(rgb >> 16), (uint8_t)(rgb >> 8), (uint8_t)rgb};
}

/* What stands after the '#'. */
static enum dia_status hex(const char *text, struct dia_rgb *colour, struct dia_diagnostic *wrong)
{
    size_t n = strlen(text);
    if ((n != 3 && n != 6) || strspn(text, "0123456789abcdefABCDEF") != n)
        return dia_host_wrong(wrong,
                              "a colour takes three or six hex digits after '#', as in #ff8800; "
                              "found '#%.30s'",
                              text);
    uint32_t value = (uint32_t)strtoul(text, NULL, 16);
    if (n == 3) /* each digit stands for two of it */
        value = (value >> 8) * 0x110000 + (value >> 4 & 15) * 0x1100 + (value & 15) * 0x11;
    *colour = of_number(value);
    return DIA_OK;
}

static enum dia_status named(const char *text, struct dia_rgb *colour, struct dia_diagnostic *wrong)
{
    const char *names[NAMES] = {NULL};
    for (size_t k = 0; dia_colour_names[k].name && k + 1 < NAMES; k++) {
        names[k] = dia_colour_names[k].name;
        if (strcasecmp(text, names[k]) == 0) {
            *colour = of_number(dia_colour_names[k].rgb);
            return DIA_OK;
        }
    }
    const char *near = dia_nearest(text, names);
    if (near)
        return dia_host_wrong(wrong, "unknown colour '%.40s'; did you mean '%s'?", text, near);
    return dia_host_wrong(wrong,
                          "unknown colour '%.40s'; a colour is written as #ff8800, a CSS name "
                          "such as darkorange, rgb(255 136 0), hsl(32 100%% 50%%), "
                          "oklch(75%% 0.17 60) or 2700K",
                          text);
}

/* One of the three values between brackets. */
struct value {
    double number;
    char unit[8]; /* "", "%", "deg", "turn" */
};

/* "(a b c)" or "(a, b, c)", to the end of the text. */
static int three_values(const char *text, struct value values[3])
{
    if (*text++ != '(')
        return 0;
    for (int k = 0; k < 3; k++) {
        char *end;
        size_t n = 0;
        text += strspn(text, " ");
        if (!isdigit((unsigned char)*text) && !strchr("+-.", *text))
            return 0;
        values[k].number = strtod(text, &end);
        if (end == text || !isfinite(values[k].number))
            return 0;
        for (text = end; (isalpha((unsigned char)*text) || *text == '%') && n < 7; text++)
            values[k].unit[n++] = *text;
        values[k].unit[n] = 0;
        text += strspn(text, " ");
        if (k < 2 && *text == ',')
            text++;
    }
    return *text == ')' && text[1] == 0;
}

static int is(const struct value *value, const char *unit, double from, double to)
{
    return strcmp(value->unit, unit) == 0 && value->number >= from && value->number <= to;
}

static uint8_t code(double of_one)
{
    return (uint8_t)(of_one * 255 + 0.5);
}

static enum dia_status rgb(const char *text, struct dia_rgb *colour, struct dia_diagnostic *wrong)
{
    struct value v[3];
    double of[3];
    int right = three_values(text + 3, v), percent = right && strcmp(v[0].unit, "%") == 0;
    for (int k = 0; k < 3 && right; k++) {
        right = percent ? is(&v[k], "%", 0, 100) : is(&v[k], "", 0, 255);
        of[k] = v[k].number / (percent ? 100 : 255);
    }
    if (!right)
        return dia_host_wrong(
            wrong,
            "rgb() takes three numbers of 0 to 255, or three of 0%% to 100%%, as in "
            "rgb(255 136 0); found '%.60s'",
            text);
    *colour = (struct dia_rgb){code(of[0]), code(of[1]), code(of[2])};
    return DIA_OK;
}

/* Degrees where nothing is said; 0 when it is no angle. */
static int turns(const struct value *value, double *turn)
{
    if (is(value, "", -1e6, 1e6) || is(value, "deg", -1e6, 1e6))
        *turn = value->number / 360;
    else if (is(value, "turn", -1e6, 1e6))
        *turn = value->number;
    else
        return 0;
    *turn -= floor(*turn);
    return 1;
}

/* CSS Color 4, 7.1. */
static double hue_channel(double n, double turn, double s, double l)
{
    double k = fmod(n + turn * 12, 12), a = s * fmin(l, 1 - l);
    return l - a * fmax(-1, fmin(fmin(k - 3, 9 - k), 1));
}

static enum dia_status hsl(const char *text, struct dia_rgb *colour, struct dia_diagnostic *wrong)
{
    struct value v[3];
    double turn;
    if (!three_values(text + 3, v) || !turns(&v[0], &turn) || !is(&v[1], "%", 0, 100) ||
        !is(&v[2], "%", 0, 100))
        return dia_host_wrong(
            wrong,
            "hsl() takes a hue in degrees, saturation and lightness of 0%% to 100%%, "
            "as in hsl(32 100%% 50%%); found '%.60s'",
            text);
    double s = v[1].number / 100, l = v[2].number / 100;
    *colour = (struct dia_rgb){code(hue_channel(0, turn, s, l)), code(hue_channel(8, turn, s, l)),
                               code(hue_channel(4, turn, s, l))};
    return DIA_OK;
}

/* OKLab to linear sRGB: the matrices of CSS Color 4, 10. */
static void linear_of(double l, double a, double b, double out[3])
{
    double p = pow(l + 0.3963377774 * a + 0.2158037573 * b, 3);
    double q = pow(l - 0.1055613458 * a - 0.0638541728 * b, 3);
    double r = pow(l - 0.0894841775 * a - 1.2914855480 * b, 3);
    out[0] = 4.0767416621 * p - 3.3077115913 * q + 0.2309699292 * r;
    out[1] = -1.2684380046 * p + 2.6097574011 * q - 0.3413193965 * r;
    out[2] = -0.0041960863 * p - 0.7034186147 * q + 1.7076147010 * r;
}

static int can_be_shown(const double light[3])
{
    for (int k = 0; k < 3; k++) {
        if (light[k] < -0.0005 || light[k] > 1.0005)
            return 0;
    }
    return 1;
}

static uint8_t encoded(double light)
{
    light = light < 0 ? 0 : light > 1 ? 1 : light;
    return code(light <= 0.0031308 ? 12.92 * light : 1.055 * pow(light, 1 / 2.4) - 0.055);
}

static enum dia_status oklch(const char *text, struct dia_rgb *colour, struct dia_diagnostic *wrong)
{
    struct value v[3];
    double turn, light[3];
    int right = three_values(text + 5, v) && turns(&v[2], &turn);
    right = right && (is(&v[0], "", 0, 1) || is(&v[0], "%", 0, 100)) &&
            (is(&v[1], "", 0, 0.5) || is(&v[1], "%", 0, 125));
    if (!right)
        return dia_host_wrong(
            wrong,
            "oklch() takes a lightness of 0 to 1, a chroma of 0 to 0.5 and a hue in "
            "degrees, as in oklch(0.75 0.17 60); found '%.60s'",
            text);
    double l = v[0].unit[0] ? v[0].number / 100 : v[0].number;
    double c = v[1].unit[0] ? v[1].number / 100 * 0.4 : v[1].number;
    double angle = turn * 2 * acos(-1.0), low = 0, high = c;
    linear_of(l, c * cos(angle), c * sin(angle), light);
    for (int k = 0; k < 24 && !(k == 0 && can_be_shown(light)); k++) {
        c = (low + high) / 2;
        linear_of(l, c * cos(angle), c * sin(angle), light);
        if (can_be_shown(light))
            low = c;
        else
            high = c;
    }
    *colour = (struct dia_rgb){encoded(light[0]), encoded(light[1]), encoded(light[2])};
    return DIA_OK;
}

/* "2700K": 0 when it is no number of kelvin. */
static int temperature(const char *text, double *kelvin)
{
    char *end;
    if (text[0] < '0' || text[0] > '9')
        return 0;
    *kelvin = strtod(text, &end);
    end += *end == ' ';
    return strcmp(end, "K") == 0;
}

enum dia_status dia_colour_read(const char *text, struct dia_rgb *colour,
                                struct dia_diagnostic *wrong)
{
    if (text[0] == '#')
        return hex(text + 1, colour, wrong);
    if (strncasecmp(text, "rgb(", 4) == 0)
        return rgb(text, colour, wrong);
    if (strncasecmp(text, "hsl(", 4) == 0)
        return hsl(text, colour, wrong);
    if (strncasecmp(text, "oklch(", 6) == 0)
        return oklch(text, colour, wrong);
    double kelvin;
    if (temperature(text, &kelvin)) {
        if (!(kelvin >= 1667 && kelvin <= 25000))
            return dia_host_wrong(wrong, "a temperature is 1667 K to 25000 K; found '%.40s'", text);
        *colour = dia_rgb_kelvin((uint32_t)(kelvin + 0.5));
        return DIA_OK;
    }
    return named(text, colour, wrong);
}
