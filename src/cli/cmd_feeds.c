/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdlib.h>
#include <string.h>

#include <cjson/cJSON.h>

#include <diachrome/colour_text.h>
#include <diachrome/feed_plan.h>
#include <diachrome/nearest.h>
#include <diachrome/quantity.h>

#include "cli.h"
#include "json.h"

static int as_json, beyond;
static char *lane_name, *colour_text, *least_text, *lead_text, *wire_text;

const struct poptOption cli_feeds_options[] = {
    {"lane", 'l', POPT_ARG_STRING, &lane_name, 0, "this lane only", "NAME"},
    {"colour", 'c', POPT_ARG_STRING, &colour_text, 0, "all pixels at once; white without it",
     "COLOUR"},
    {"least", 0, POPT_ARG_STRING, &least_text, 0,
     "what each pixel must have; 90 % of the supply without it", "VOLTS"},
    {"lead", 0, POPT_ARG_STRING, &lead_text, 0,
     "wire from the supply to the first pixel; 1 m without it", "LENGTH"},
    {"wire", 'w', POPT_ARG_STRING, &wire_text, 0, "wires that there are; the thinnest without it",
     "\"0.75 mm2\""},
    {"beyond", 'b', POPT_ARG_NONE, &beyond, 0, "also more than the supply may give", NULL},
    {"json", 'j', POPT_ARG_NONE, &as_json, 0, "the same facts for programs", NULL},
    CLI_NODE,
    POPT_AUTOHELP POPT_TABLEEND};

static struct dia_rig rig;

/* What is planned of a lane. */
struct planned {
    const struct dia_rig_lane *lane;
    struct dia_feed_wish wish;
    struct dia_feed_plan plan;
    enum dia_status status; /* of the plan */
    struct dia_diagnostic wrong;
    double light; /* highest master with the feeds of the file, if it has some */
    struct dia_lane_volts there;
    uint32_t fit;
};

/* What is wished of a lane, in the options. CLI_FINE or the exit code, said. */
static int read_wish(struct dia_feed_wish *wish, uint32_t lane)
{
    struct dia_diagnostic wrong = {""};
    struct dia_rgb colour;
    dia_feed_wish_init(wish, &rig, lane);
    wish->beyond = (uint8_t)beyond;
    if (colour_text && dia_colour_read(colour_text, &colour, &wrong) != DIA_OK)
        return cli_fail(CLI_BAD_INPUT, "feeds", "--colour: %s", wrong.text);
    if (colour_text)
        dia_feed_wish_colour(wish, &rig, lane, colour);
    int code =
        cli_quantity("feeds", "--least", least_text, DIA_VOLTAGE, 1000, 60000, &wish->least_mv);
    if (code == CLI_FINE)
        code = cli_quantity("feeds", "--lead", lead_text, DIA_LENGTH, 0, 100000000, &wish->lead_um);
    if (code == CLI_FINE && wire_text &&
        dia_section_read(wire_text, "--wire", &wish->section_um2, &wrong) != DIA_OK)
        code = cli_fail(CLI_BAD_INPUT, "feeds", "%s", wrong.text);
    return code;
}

static enum dia_status make(struct planned *p, uint32_t number)
{
    p->lane = &rig.lanes[number];
    p->status = dia_feed_plan_make(&p->plan, &rig, number, &p->wish, &p->wrong);
    p->fit = dia_feed_pixels_fit(&rig, number, &p->wish);
    if (p->status == DIA_PORT_FAILED || p->lane->feed_count == 0 || rig.master == 0)
        return p->status;
    struct dia_feed_wish full = p->wish; /* the highest master may be above that of the file */
    for (int c = 0; c < 4; c++)
        full.share[c] = p->wish.share[c] * DIA_SHARE_ONE / rig.master;
    if (dia_feed_light(&p->light, &p->there, &rig, number, &full) != DIA_OK)
        p->status = DIA_PORT_FAILED;
    return p->status;
}

/* ---- for people -------------------------------------------------------------------------------
 */

/* Light in percent of full, as 'master' has it. */
static double of_full(double light)
{
    return 100 * light * rig.master / DIA_SHARE_ONE;
}

static const char *at_text(const struct dia_rig_lane *lane, uint32_t element, char text[16])
{
    snprintf(text, 16, "%" PRIu32, element);
    return element == 0 ? "start" : element == lane->count - 1 ? "end" : text;
}

static void print_feeds(const struct planned *p)
{
    struct dia_words w[3];
    char at[16];
    printf("\n  feed      wires                     carries    fuse\n");
    for (uint32_t k = 0; k < p->plan.feed_count; k++) {
        const struct dia_rig_feed *f = &p->plan.feeds[k];
        char wires[60];
        snprintf(wires, sizeof wires, "2 x %.2f m of %s", f->length_um / 1e6,
                 dia_quantity_as(f->section_um2, DIA_SECTION, &w[0]));
        printf("  %-10s%-24s%7.2f A    %s\n", at_text(p->lane, f->element, at), wires,
               p->plan.volts.feed_amps[k], dia_quantity_as(f->fuse_ua, DIA_CURRENT, &w[1]));
    }
    printf("\n  in the rig file, in lane '%s':\n    feeds:\n", p->lane->name);
    for (uint32_t k = 0; k < p->plan.feed_count; k++) {
        const struct dia_rig_feed *f = &p->plan.feeds[k];
        printf("      - { at: %s, length: %.2f m, section: %s, fuse: %s }\n",
               at_text(p->lane, f->element, at), f->length_um / 1e6,
               dia_quantity_as(f->section_um2, DIA_SECTION, &w[0]),
               dia_quantity_as(f->fuse_ua, DIA_CURRENT, &w[1]));
    }
    putchar('\n');
}

/* What a step less would come to, so that one sees what the plan has to spare. */
static void print_less(const struct planned *p)
{
    const struct dia_feed_plan *plan = &p->plan;
    if (plan->fewer_hot)
        printf("  a feed less         its wire or fuse would not carry the current\n");
    else if (plan->fewer_mv)
        printf("  a feed less         %.2f V at the worst pixel\n", plan->fewer_mv / 1e3);
    if (plan->thinner_hot)
        printf("  thinner wire        would get hot, or no fuse protects it\n");
    else if (plan->thinner_mv)
        printf("  thinner wire        %.2f V at the worst pixel\n", plan->thinner_mv / 1e3);
}

static void print_there(const struct planned *p)
{
    if (p->lane->feed_count == 0 || rig.master == 0)
        return;
    printf("  feeds of the file   hold a master of up to %.3g %%: %.2f V at pixel %" PRIu32
           ", %.2f A\n",
           100 * p->light, p->there.least_mv / 1e3, p->there.least_at, p->there.amps);
}

static void print_planned(const struct planned *p, int in_colour)
{
    const struct dia_rig_supply *supply = &rig.supplies[p->lane->supply];
    struct dia_words w[3];
    printf("%s%s: %" PRIu32 " x %s%s on %.3f m, rails of %.3g ohm/m\n", in_colour ? "\033[1m" : "",
           p->lane->name, p->lane->count, p->lane->part.name, in_colour ? "\033[0m" : "",
           p->lane->count * (p->lane->layout.pitch_um / 1e6), p->lane->rail_uohm_m / 1e6);
    printf("  all %s at %.3g %% of full light",
           colour_text        ? colour_text
           : p->wish.colour.b ? "white"
                              : "yellow (of all colours it takes most)",
           of_full(p->plan.light));
    if (p->plan.light < 1)
        printf(", for which %s of '%s' are enough",
               dia_quantity_as(supply->current_ua - supply->reserve_ua, DIA_CURRENT, &w[0]),
               supply->name);
    putchar('\n');
    if (p->status != DIA_OK) {
        printf("  %s\n", p->wrong.text);
    } else {
        printf("  every pixel has %.2f V or more (the worst, pixel %" PRIu32 ", has %.2f V) with\n",
               p->wish.least_mv / 1e3, p->plan.volts.least_at, p->plan.volts.least_mv / 1e3);
        print_feeds(p);
        print_less(p);
        printf("  supply              %.2f A flow; take one for %.1f A or more, of %s\n",
               p->plan.volts.amps, p->plan.volts.amps * DIA_SUPPLY_PERCENT / 100,
               dia_quantity_as(supply->voltage_mv, DIA_VOLTAGE, &w[0]));
    }
    printf("  '%s'%*s%s light %" PRIu32 " pixels at %.3g %%, or all %" PRIu32 " at %.3g %%\n",
           supply->name, 18 - (int)strlen(supply->name) > 1 ? 18 - (int)strlen(supply->name) : 1,
           "", dia_quantity_as(supply->current_ua - supply->reserve_ua, DIA_CURRENT, &w[0]), p->fit,
           of_full(1), p->lane->count,
           of_full(dia_feed_supply_light(&rig, (uint32_t)(p->lane - rig.lanes), &p->wish)));
    print_there(p);
}

/* ---- for programs -------------------------------------------------------------------------------
 */

static cJSON *as_object(const struct planned *p)
{
    cJSON *json = cJSON_CreateObject();
    uint32_t number = (uint32_t)(p->lane - rig.lanes);
    cJSON_AddStringToObject(json, "lane", p->lane->name);
    cJSON_AddNumberToObject(json, "count", p->lane->count);
    cJSON_AddNumberToObject(json, "wanted_mv", p->wish.least_mv);
    cJSON_AddNumberToObject(json, "light", p->plan.light);
    cJSON_AddBoolToObject(json, "found", p->status == DIA_OK);
    cJSON_AddNumberToObject(json, "least_mv", p->plan.volts.least_mv);
    cJSON_AddNumberToObject(json, "pixel", p->plan.volts.least_at);
    cJSON_AddNumberToObject(json, "amps", p->plan.volts.amps);
    cJSON_AddNumberToObject(json, "supply_amps", p->plan.volts.amps * DIA_SUPPLY_PERCENT / 100);
    cJSON *feeds = cJSON_AddArrayToObject(json, "feeds");
    for (uint32_t k = 0; k < p->plan.feed_count; k++) {
        const struct dia_rig_feed *f = &p->plan.feeds[k];
        cJSON *feed = cJSON_CreateObject();
        cJSON_AddItemToArray(feeds, feed);
        cJSON_AddNumberToObject(feed, "pixel", f->element);
        cJSON_AddNumberToObject(feed, "length_um", f->length_um);
        cJSON_AddNumberToObject(feed, "section_mm2", f->section_um2 / 1e6);
        cJSON_AddNumberToObject(feed, "fuse_ua", f->fuse_ua);
        cJSON_AddNumberToObject(feed, "amps", p->plan.volts.feed_amps[k]);
    }
    cJSON_AddNumberToObject(json, "pixels_fit", p->fit);
    cJSON_AddNumberToObject(json, "supply_light", dia_feed_supply_light(&rig, number, &p->wish));
    if (p->lane->feed_count)
        cJSON_AddNumberToObject(json, "highest_master", p->light);
    return json;
}

static int which(uint32_t *first, uint32_t *end)
{
    const char *names[DIA_RIG_LANES + 1];
    *first = 0;
    *end = rig.lane_count;
    if (rig.lane_count == 0)
        return cli_fail(CLI_BAD_INPUT, "feeds", "'%s' has no lanes of pixels", rig.name);
    for (uint32_t i = 0; lane_name && i < rig.lane_count; i++) {
        names[i] = rig.lanes[i].name;
        if (strcmp(names[i], lane_name) == 0) {
            *first = i;
            *end = i + 1;
            return CLI_FINE;
        }
    }
    if (!lane_name)
        return CLI_FINE;
    names[rig.lane_count] = NULL;
    const char *near = dia_nearest(lane_name, names);
    return cli_fail(CLI_BAD_INPUT, "feeds", "there is no lane '%s'; %s '%s'", lane_name,
                    near ? "did you mean" : "there is", near ? near : names[0]);
}

/* CLI_LIMIT where a lane cannot be fed as wanted. */
static int plan_all(uint32_t first, uint32_t end)
{
    cJSON *list = as_json ? cJSON_CreateArray() : NULL;
    int code = CLI_FINE;
    for (uint32_t i = first; i < end; i++) {
        struct planned p = {0};
        int wish = read_wish(&p.wish, i);
        if (wish == CLI_FINE && make(&p, i) == DIA_PORT_FAILED)
            wish = cli_fail_with(DIA_PORT_FAILED, &p.wrong);
        if (wish != CLI_FINE) {
            cJSON_Delete(list);
            return wish;
        }
        if (p.status != DIA_OK)
            code = CLI_LIMIT;
        if (as_json)
            cJSON_AddItemToArray(list, as_object(&p));
        else
            printf("%s", i > first ? "\n" : "");
        if (!as_json)
            print_planned(&p, cli_in_colour());
    }
    if (as_json)
        json_print(list);
    return code;
}

int cli_feeds(const struct cli_command *self, int argc, const char **argv)
{
    struct cli_options options;
    uint32_t first, end;
    int code = CLI_BAD_INPUT;
    if (cli_options_read(&options, self, argc, argv, NULL, NULL) == 0)
        code = cli_load_rig(&options, &rig);
    cli_options_free(&options);
    if (code == CLI_FINE)
        code = which(&first, &end);
    if (code == CLI_FINE)
        code = plan_all(first, end);
    return cli_finish(code);
}
