/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <string.h>

#include <cjson/cJSON.h>

#include <diachrome/check.h>
#include <diachrome/nearest.h>
#include <diachrome/quantity.h>

#include "cli.h"
#include "json.h"

static int as_json;
static char *device_name, *refresh_text, *depth_text, *slices_text, *most_text;

const struct poptOption cli_refresh_options[] = {
    {"device", 'd', POPT_ARG_STRING, &device_name, 0, "this device only", "NAME"},
    {"refresh", 'r', POPT_ARG_STRING, &refresh_text, 0, "wanted; without it that of the file",
     "RATE"},
    {"depth", 0, POPT_ARG_STRING, &depth_text, 0, "bits wanted; without it those of the file",
     "BITS"},
    {"slices", 0, POPT_ARG_STRING, &slices_text, 0, "weighted or even; without it as in the file",
     "WAY"},
    {"most", 'm', POPT_ARG_STRING, &most_text, 0,
     "of the controller's time that ticks may take; 50 % without it", "PART"},
    {"json", 'j', POPT_ARG_NONE, &as_json, 0, "the same facts for programs", NULL},
    CLI_NODE,
    POPT_AUTOHELP POPT_TABLEEND};

static struct dia_rig rig;

struct wanted {
    uint32_t refresh_mhz, depth, most_permille;
    enum dia_slices slices;
};

static int read_wanted(const struct dia_rig_device *device, struct wanted *w)
{
    uint32_t most = 500000;
    *w = (struct wanted){device->refresh_mhz, device->depth ? device->depth : 1, 0,
                         (enum dia_slices)device->slices};
    int code = cli_quantity("refresh", "--refresh", refresh_text, DIA_RATE, 1000, 10000000,
                            &w->refresh_mhz);
    if (code == CLI_FINE)
        code = cli_quantity("refresh", "--depth", depth_text, DIA_NUMBER, 1, 8, &w->depth);
    if (code == CLI_FINE)
        code = cli_quantity("refresh", "--most", most_text, DIA_PERCENT, 1000, 1000000, &most);
    w->most_permille = most / 1000;
    if (code == CLI_FINE && slices_text) {
        if (strcmp(slices_text, "weighted") != 0 && strcmp(slices_text, "even") != 0)
            return cli_fail(CLI_BAD_INPUT, "refresh", "--slices is weighted or even; found '%s'",
                            slices_text);
        w->slices = slices_text[0] == 'e' ? DIA_SLICES_EVEN : DIA_SLICES_WEIGHTED;
    }
    return code;
}

/* ---- for people -------------------------------------------------------------------------------
 */

static const char *way(const struct dia_refresh *r)
{
    return r->slices == DIA_SLICES_EVEN ? "even" : "weighted";
}

static void print_setting(const struct dia_refresh *r, const struct dia_refresh_setup *setup)
{
    int turns = setup->turns != 0;
    struct dia_words w[1];
    const char *rate = dia_quantity_as(r->refresh_mhz / 100 * 100, DIA_RATE, w);
    if (turns)
        printf("%s, turns of %" PRIu32 " us", rate, r->unit_us);
    else if (setup->rows)
        printf("%s, %u bit%s, light from %" PRIu32 " us, for %.0f %% of a turn", rate, r->depth,
               r->depth == 1 ? "" : "s", r->unit_us, r->lit_permille / 10.0);
    else
        printf("%s, %u bit%s, %s slices from %" PRIu32 " us", rate, r->depth,
               r->depth == 1 ? "" : "s", way(r), r->unit_us);
    /* one bit without turns is on or off for good */
    int flickers = r->refresh_mhz < 100000 && (turns || setup->rows || r->depth > 1);
    printf(": %.0f ticks/s, %.1f %%%s\n", r->ticks_mhz / 1e3, r->load_permille / 10.0,
           flickers ? ", flickers" : "");
}

static void print_why(const struct dia_refresh *r, const struct dia_refresh_setup *setup)
{
    if (r->why == DIA_REFRESH_SLICE_SHORT && setup->rows)
        printf("does not fit: %u rows with %u ticks of %" PRIu32 " us each are all there is time "
               "for\n",
               setup->rows, r->depth, r->tick_us);
    else if (r->why == DIA_REFRESH_SLICE_SHORT)
        printf("does not fit: its shortest slice is %" PRIu32 " us, and a tick takes %" PRIu32
               " us\n",
               r->unit_us, r->tick_us > setup->least_us ? r->tick_us : setup->least_us);
    else if (r->why == DIA_REFRESH_SLICE_LONG)
        printf("does not fit: a slice is at most 65,535 us\n");
    else if (r->why == DIA_REFRESH_LOAD)
        printf("does not fit: ticks would take %.1f %% of the time, %.4g %% at most are wanted\n",
               r->load_permille / 10.0, setup->most_permille / 10.0);
    else
        printf("fits\n");
}

/* By depth: the highest refresh of rows of a panel. */
static void print_rows(const struct dia_refresh_setup *setup)
{
    printf("\n  depth   levels            up to      load    light in a turn\n");
    for (uint8_t depth = 1; depth <= 8; depth++) {
        struct dia_refresh r;
        printf("  %-8u%-10u", depth, 1u << depth);
        if (dia_refresh_highest(&r, setup, depth, DIA_SLICES_WEIGHTED))
            printf("%12.*f Hz%8.1f %%%17.0f %%\n", r.refresh_mhz < 100000, r.refresh_mhz / 1e3,
                   r.load_permille / 10.0, r.lit_permille / 10.0);
        else
            printf("%15s\n", "none");
    }
}

/* By depth: the highest refresh of both ways. */
static void print_table(const struct dia_refresh_setup *setup)
{
    printf("\n  depth   levels    weighted, up to      load    even, up to          load\n");
    for (uint8_t depth = 1; depth <= 8; depth++) {
        printf("  %-8u%-10u", depth, 1u << depth);
        for (int k = 0; k < 2; k++) {
            struct dia_refresh r;
            if (dia_refresh_highest(&r, setup, depth, k ? DIA_SLICES_EVEN : DIA_SLICES_WEIGHTED))
                printf("%10.*f Hz%13.1f %%%s", r.refresh_mhz < 100000, r.refresh_mhz / 1e3,
                       r.load_permille / 10.0, k ? "\n" : "    ");
            else
                printf("%10s%18s%s", "none", "", k ? "\n" : "    ");
        }
    }
}

static int plan_text(const struct dia_rig_device *device, const struct dia_refresh_setup *setup,
                     const struct wanted *w)
{
    struct dia_refresh now, near[DIA_REFRESH_NEAR];
    struct dia_words clock[1];
    int in_colour = cli_in_colour();
    dia_refresh_at(&now, setup, w->refresh_mhz, (uint8_t)w->depth, w->slices);
    printf("%s%s: %s%s at %s; a tick takes up to %" PRIu32 " us (%" PRIu32 " cycles)\n",
           in_colour ? "\033[1m" : "", device->name, device->chip, in_colour ? "\033[0m" : "",
           dia_quantity_as(rig.controller.clock_hz, DIA_CLOCK, clock), now.tick_us,
           setup->tick_cycles);
    printf("  ");
    print_setting(&now, setup);
    printf("  ");
    print_why(&now, setup);
    uint32_t n = now.why == DIA_REFRESH_FITS ? 0
                                             : dia_refresh_nearest(near, setup, w->refresh_mhz,
                                                                   (uint8_t)w->depth, w->slices);
    for (uint32_t k = 0; k < n; k++) {
        printf("  %-6s", k ? "or" : "near:");
        print_setting(&near[k], setup);
    }
    if (setup->rows) {
        print_rows(setup);
    } else if (!setup->turns) {
        print_table(setup);
    } else {
        struct dia_refresh most;
        if (dia_refresh_highest(&most, setup, 1, DIA_SLICES_WEIGHTED)) {
            printf("  up to ");
            print_setting(&most, setup);
        }
    }
    return now.why == DIA_REFRESH_FITS ? CLI_FINE : CLI_LIMIT;
}

/* ---- for programs -------------------------------------------------------------------------------
 */

static cJSON *setting(const struct dia_refresh *r)
{
    static const char *const why[] = {"fits", "slice-short", "slice-long", "load"};
    cJSON *json = cJSON_CreateObject();
    cJSON_AddNumberToObject(json, "refresh_hz", r->refresh_mhz / 1e3);
    cJSON_AddNumberToObject(json, "depth", r->depth);
    cJSON_AddStringToObject(json, "slices", way(r));
    cJSON_AddNumberToObject(json, "levels", r->levels);
    cJSON_AddNumberToObject(json, "slice_us", r->unit_us);
    cJSON_AddNumberToObject(json, "light", r->lit_permille / 1e3);
    cJSON_AddNumberToObject(json, "ticks_hz", r->ticks_mhz / 1e3);
    cJSON_AddNumberToObject(json, "load", r->load_permille / 1e3);
    cJSON_AddStringToObject(json, "verdict", why[r->why]);
    return json;
}

static int plan_json(const struct dia_rig_device *device, const struct dia_refresh_setup *setup,
                     const struct wanted *w, cJSON *list)
{
    struct dia_refresh r, near[DIA_REFRESH_NEAR];
    cJSON *json = cJSON_CreateObject();
    cJSON_AddItemToArray(list, json);
    dia_refresh_at(&r, setup, w->refresh_mhz, (uint8_t)w->depth, w->slices);
    cJSON_AddStringToObject(json, "device", device->name);
    cJSON_AddNumberToObject(json, "tick_cycles", setup->tick_cycles);
    cJSON_AddNumberToObject(json, "tick_us", r.tick_us);
    cJSON_AddItemToObject(json, "wanted", setting(&r));
    int code = r.why == DIA_REFRESH_FITS ? CLI_FINE : CLI_LIMIT;
    uint32_t n = code == CLI_FINE ? 0
                                  : dia_refresh_nearest(near, setup, w->refresh_mhz,
                                                        (uint8_t)w->depth, w->slices);
    cJSON *nearest = cJSON_AddArrayToObject(json, "near");
    for (uint32_t k = 0; k < n; k++)
        cJSON_AddItemToArray(nearest, setting(&near[k]));
    cJSON *highest = cJSON_AddArrayToObject(json, "highest");
    for (uint8_t depth = 1; depth <= (setup->turns ? 1 : 8); depth++) {
        for (int k = 0; k < (setup->turns || setup->rows ? 1 : 2); k++) {
            if (dia_refresh_highest(&r, setup, depth, k ? DIA_SLICES_EVEN : DIA_SLICES_WEIGHTED))
                cJSON_AddItemToArray(highest, setting(&r));
        }
    }
    return code;
}

static int not_there(void)
{
    const char *names[DIA_RIG_DEVICES + 1];
    uint32_t n = 0;
    struct dia_refresh_setup setup;
    for (uint32_t i = 0; i < rig.device_count; i++) {
        if (dia_check_ticks(&rig, &rig.devices[i], &setup))
            names[n++] = rig.devices[i].name;
    }
    names[n] = NULL;
    if (n == 0)
        return cli_fail(CLI_BAD_INPUT, "refresh", "'%s' has no lamps that ticks light", rig.name);
    const char *near = dia_nearest(device_name, names);
    return cli_fail(CLI_BAD_INPUT, "refresh", "no device '%s' with lamps that ticks light; %s '%s'",
                    device_name, near ? "did you mean" : "there is", near ? near : names[0]);
}

/* CLI_LIMIT where one does not fit. */
static int plan_all(void)
{
    cJSON *list = as_json ? cJSON_CreateArray() : NULL;
    int worst = CLI_FINE, any = 0;
    for (uint32_t i = 0; i < rig.device_count; i++) {
        const struct dia_rig_device *device = &rig.devices[i];
        struct dia_refresh_setup setup;
        struct wanted wanted;
        if ((device_name && strcmp(device->name, device_name) != 0) ||
            !dia_check_ticks(&rig, device, &setup))
            continue;
        int code = read_wanted(device, &wanted);
        if (code != CLI_FINE) {
            cJSON_Delete(list);
            return code;
        }
        setup.most_permille = wanted.most_permille;
        if (!list && any)
            putchar('\n');
        code = list ? plan_json(device, &setup, &wanted, list) : plan_text(device, &setup, &wanted);
        worst = code > worst ? code : worst;
        any = 1;
    }
    if (any && list)
        json_print(list);
    else
        cJSON_Delete(list);
    return any ? worst : not_there();
}

int cli_refresh(const struct cli_command *self, int argc, const char **argv)
{
    struct cli_options options;
    int code = CLI_BAD_INPUT;
    if (cli_options_read(&options, self, argc, argv, NULL, NULL) == 0)
        code = cli_load_rig(&options, &rig);
    cli_options_free(&options);
    if (code == CLI_FINE)
        code = plan_all();
    return cli_finish(code);
}
