/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include <cjson/cJSON.h>

#include <diachrome/colour_text.h>
#include <diachrome/nearest.h>
#include <diachrome/quantity.h>
#include <diachrome/resistor.h>

#include "cli.h"
#include "json.h"

static int as_json, e12, transistor;
static char *supply_text, *forward_text, *colour_text, *current_text, *resistor_text, *turns_text,
    *row_text, *output_text, *even_text;

const struct poptOption cli_resistor_options[] = {
    {"supply", 0, POPT_ARG_STRING, &supply_text, 0, "5 V without it", "VOLTS"},
    {"colour", 'c', POPT_ARG_STRING, &colour_text, 0, "of the LED's light, red without it",
     "COLOUR"},
    {"forward", 0, POPT_ARG_STRING, &forward_text, 0, "of the LED, as measured; else by colour",
     "VOLTS"},
    {"current", 'i', POPT_ARG_STRING, &current_text, 0, "wanted, in the mean; 10 mA without it",
     "CURRENT"},
    {"resistor", 'R', POPT_ARG_STRING, &resistor_text, 0, "the one that is there: what flows then",
     "OHM"},
    {"turns", 0, POPT_ARG_STRING, &turns_text, 0, "lit in so many turns, one after the other",
     "NUMBER"},
    {"in-a-row", 0, POPT_ARG_STRING, &row_text, 0, "so many LEDs, one after the other in the line",
     "NUMBER"},
    {"transistor", 't', POPT_ARG_NONE, &transistor, 0, "one is in the line, 0.2 V", NULL},
    {"output", 0, POPT_ARG_STRING, &output_text, 0,
     "resistance of the output; 25 ohm, of a pin, without it", "OHM"},
    {"e12", 0, POPT_ARG_NONE, &e12, 0, "of the series E12 instead of E24", NULL},
    {"even", 0, POPT_ARG_STRING, &even_text, 0,
     "light of each at the same current: make them alike", "\"red 400, green 1800, blue 700\""},
    {"json", 'j', POPT_ARG_NONE, &as_json, 0, "the same facts for programs", NULL},
    POPT_AUTOHELP POPT_TABLEEND};

struct wanted {
    struct dia_led_circuit led;
    uint32_t ua, turns, row, resistor_mohm, forward_mv;
};

/* What comes of it. */
struct found {
    const char *name;
    uint32_t exact_mohm, mohm, ua, forward_mv, heat_uw;
};

/* The usual names of LEDs' light, and any other colour. */
static int forward_of(const char *name, uint32_t *mv)
{
    struct dia_diagnostic wrong = {""};
    struct dia_rgb colour;
    if (strcmp(name, "amber") == 0 || strcmp(name, "yellow-green") == 0) {
        *mv = dia_led_forward_mv((struct dia_rgb){255, 140, 0});
        return CLI_FINE;
    }
    if (dia_colour_read(name, &colour, &wrong) != DIA_OK)
        return cli_fail(CLI_BAD_INPUT, "resistor", "%s", wrong.text);
    *mv = dia_led_forward_mv(colour);
    return CLI_FINE;
}

static int read_wanted(struct wanted *w)
{
    *w = (struct wanted){.led = {.supply_mv = 5000, .output_mohm = DIA_OUTPUT_PIN_MOHM},
                         .ua = 10000,
                         .turns = 1,
                         .row = 1};
    w->led.switch_mv = transistor ? DIA_SWITCH_MV : 0;
    int code = cli_quantity("resistor", "--supply", supply_text, DIA_VOLTAGE, 1000, 60000,
                            &w->led.supply_mv);
    if (code == CLI_FINE)
        code =
            cli_quantity("resistor", "--current", current_text, DIA_CURRENT, 100, 1000000, &w->ua);
    if (code == CLI_FINE)
        code = cli_quantity("resistor", "--turns", turns_text, DIA_NUMBER, 1, 64, &w->turns);
    if (code == CLI_FINE)
        code = cli_quantity("resistor", "--in-a-row", row_text, DIA_NUMBER, 1, 16, &w->row);
    if (code == CLI_FINE)
        code = cli_quantity("resistor", "--resistor", resistor_text, DIA_RESISTANCE, 1000,
                            1000000000, &w->resistor_mohm);
    if (code == CLI_FINE)
        code = cli_quantity("resistor", "--output", output_text, DIA_RESISTANCE, 0, 1000000,
                            &w->led.output_mohm);
    if (code == CLI_FINE)
        code = forward_of(colour_text ? colour_text : "red", &w->forward_mv);
    return code == CLI_FINE ? cli_quantity("resistor", "--forward", forward_text, DIA_VOLTAGE, 1000,
                                           12000, &w->forward_mv)
                            : code;
}

/* 0: there is no resistor for it. */
static int find(const struct wanted *w, uint32_t mean_ua, uint32_t forward_mv, struct found *found)
{
    struct dia_led_circuit led = w->led;
    led.forward_mv = forward_mv * w->row;
    found->forward_mv = forward_mv;
    found->exact_mohm = dia_led_resistor_mohm(&led, mean_ua * w->turns);
    found->mohm = w->resistor_mohm ? w->resistor_mohm
                                   : dia_resistor_next(found->exact_mohm, e12 ? DIA_E12 : DIA_E24);
    if (!w->resistor_mohm && !found->exact_mohm)
        return 0;
    found->ua = dia_led_current_ua(&led, found->mohm);
    found->heat_uw = dia_resistor_heat_uw(found->mohm, found->ua, 1000 / w->turns);
    return found->ua != 0;
}

static int none(const struct wanted *w, uint32_t forward_mv)
{
    struct dia_words v[3];
    uint32_t taken = forward_mv * w->row + w->led.switch_mv;
    if (taken >= w->led.supply_mv)
        return cli_fail(CLI_LIMIT, "resistor",
                        "nothing flows: the LEDs%s take %s, and the supply has %s",
                        w->led.switch_mv ? " and the transistor" : "",
                        dia_quantity_as(taken, DIA_VOLTAGE, &v[0]),
                        dia_quantity_as(w->led.supply_mv, DIA_VOLTAGE, &v[1]));
    struct dia_led_circuit led = w->led;
    led.forward_mv = forward_mv * w->row;
    return cli_fail(CLI_LIMIT, "resistor",
                    "%s are too much: with no resistor at all %s flow through the output",
                    dia_quantity_as(w->ua * w->turns, DIA_CURRENT, &v[0]),
                    dia_quantity_as(dia_led_current_ua(&led, 0) / 100 * 100, DIA_CURRENT, &v[1]));
}

static void print_one(const struct wanted *w, const struct found *f, cJSON *list)
{
    struct dia_words v[5];
    uint32_t mean = f->ua / w->turns, rating = dia_resistor_rating_mw(f->heat_uw);
    if (list) {
        cJSON *json = cJSON_CreateObject();
        cJSON_AddItemToArray(list, json);
        cJSON_AddStringToObject(json, "led", f->name);
        cJSON_AddNumberToObject(json, "forward_mv", f->forward_mv);
        cJSON_AddNumberToObject(json, "exact_mohm", f->exact_mohm);
        cJSON_AddNumberToObject(json, "resistor_mohm", f->mohm);
        cJSON_AddNumberToObject(json, "lit_ua", f->ua);
        cJSON_AddNumberToObject(json, "mean_ua", mean);
        cJSON_AddNumberToObject(json, "heat_uw", f->heat_uw);
        cJSON_AddNumberToObject(json, "rating_mw", rating);
        return;
    }
    printf("%-11s%s", "resistor", dia_quantity_as(f->mohm, DIA_RESISTANCE, &v[0]));
    if (!w->resistor_mohm)
        printf(", the next of %s from %.4g ohm", e12 ? "E12" : "E24", f->exact_mohm / 1e3);
    printf("\n%-11s%s", "current", dia_quantity_as((f->ua + 5) / 10 * 10, DIA_CURRENT, &v[1]));
    if (w->turns > 1)
        printf(" while it is lit, %s in the mean",
               dia_quantity_as((mean + 5) / 10 * 10, DIA_CURRENT, &v[2]));
    printf("\n%-11s%.3g mW: ", "heat", f->heat_uw / 1e3);
    if (rating)
        printf("take one of %u mW\n", (unsigned)rating);
    else
        printf("share it among several\n");
    printf("%-11s%s, %.2f V%s\n", "LED", f->name, f->forward_mv / 1e3,
           forward_text && !even_text ? "" : " (a choice; measure it, and say --forward)");
}

/* "red 400, green 1800": each LED gets the part of the current at which it is as bright as the
 * dimmest is at all of it. */
static int print_even(const struct wanted *w, cJSON *list)
{
    struct {
        char name[24];
        double light;
    } leds[8];
    uint32_t n = 0;
    double least = 0;
    char copy[200], *rest = NULL;
    snprintf(copy, sizeof copy, "%s", even_text);
    for (char *one = strtok_r(copy, ",", &rest); one; one = strtok_r(NULL, ",", &rest)) {
        char end;
        if (n == 8 || sscanf(one, " %23s %lf %c", leds[n].name, &leds[n].light, &end) != 2 ||
            !(leds[n].light > 0 && leds[n].light < 1e9))
            return cli_fail(
                CLI_BAD_INPUT, "resistor",
                "--even takes up to 8 colours, each with its light at one current, such "
                "as \"red 400, green 1800, blue 700\"; found '%.60s'",
                even_text);
        least = n == 0 || leds[n].light < least ? leds[n].light : least;
        n++;
    }
    for (uint32_t k = 0; k < n; k++) {
        struct found found = {.name = leds[k].name};
        uint32_t forward_mv, ua = (uint32_t)(w->ua * least / leds[k].light + 0.5);
        int code = forward_of(leds[k].name, &forward_mv);
        if (code != CLI_FINE)
            return code;
        if (ua == 0 || !find(w, ua, forward_mv, &found))
            return none(w, forward_mv);
        if (k && !list)
            putchar('\n');
        print_one(w, &found, list);
    }
    return CLI_FINE;
}

static int print(const struct wanted *w)
{
    cJSON *list = as_json ? cJSON_CreateArray() : NULL;
    struct found found = {.name = colour_text ? colour_text : "red"};
    int code = CLI_FINE;
    if (even_text)
        code = print_even(w, list);
    else if (find(w, w->ua, w->forward_mv, &found))
        print_one(w, &found, list);
    else
        code = none(w, w->forward_mv);
    if (list && code == CLI_FINE)
        json_print(list);
    else
        cJSON_Delete(list);
    return code;
}

int cli_resistor(const struct cli_command *self, int argc, const char **argv)
{
    struct cli_options options;
    struct wanted wanted;
    int code = CLI_BAD_INPUT;
    if (cli_options_read(&options, self, argc, argv, NULL, NULL) == 0) {
        const char *more = cli_options_argument(&options);
        code = more ? cli_fail(CLI_BAD_INPUT, "resistor",
                               "'%s' is too many; it takes options only, such as '--colour blue'",
                               more)
                    : read_wanted(&wanted);
    }
    cli_options_free(&options);
    if (code == CLI_FINE)
        code = print(&wanted);
    return cli_finish(code);
}
