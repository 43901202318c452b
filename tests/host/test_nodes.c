/* SPDX-License-Identifier: MIT */
#include "../run.h"

#include <diachrome/flashing.h>
#include <diachrome/outlet.h>
#include <diachrome/player.h>
#include <diachrome/rig.h>
#include <diachrome/scene.h>
#include <diachrome/show.h>

/* Many controllers, one picture: each node's part by itself, and all of them together. */

static const char *const nodes[] = {"west", "middle", "east"};
static struct dia_rig rig, whole, part;
static struct dia_diagnostic wrong;

/* The rig of the demo with its parts given to nodes in turns. */
static void give_parts_to_nodes(void)
{
    size_t length;
    char *all = read_file("demo/quay.rig.yaml", &length), *text = calloc(2 * length, 1), *to = text;
    int given = 0;
    for (char *line = all, *end; (end = strchr(line, '\n')) != NULL; line = end + 1) {
        to += sprintf(to, "%.*s\n", (int)(end - line), line);
        if (strncmp(line, "    chip: ", 10) == 0)
            to += sprintf(to, "    node: %s\n", nodes[given++ % 3]);
    }
    write_file("nodes.rig.yaml", text, strlen(text));
    free(all);
    free(text);
}

/* What each node shows of a show is what one controller shows there. Levels are low, so that no
 * budget is in the way. */
static void nodes_show_pieces_of_one_picture(void **state)
{
    (void)state;
    struct dia_show show;
    int seen = 0;
    give_parts_to_nodes();
    assert_int_equal(dia_rig_load(&rig, "demo/quay.rig.yaml", &wrong), DIA_OK);
    struct dia_player *one = dia_player_new(&rig, &wrong);
    dia_show_init(&show);
    assert_int_equal(dia_show_rig_values(&show, &rig, &wrong), DIA_OK);
    if (dia_show_load(&show, &rig, "demo/evening.show", &wrong) != DIA_OK)
        fail_msg("%s", wrong.text);
    dia_player_master(one, DIA_SHARE_ONE / 20);
    for (uint32_t k = 0; k < 3; k++) {
        struct dia_show own;
        if (dia_rig_load_node(&part, "nodes.rig.yaml", nodes[k], &wrong) != DIA_OK)
            fail_msg("%s", wrong.text);
        assert_true(part.lane_count + part.device_count < rig.lane_count + rig.device_count);
        struct dia_player *player = dia_player_new(&part, &wrong);
        struct dia_scene *scene = dia_scene_new(&part), *all_of_it = dia_scene_new(&rig);
        uint8_t *bytes = calloc(scene->bytes, 1), *those = calloc(all_of_it->bytes, 1);
        dia_player_master(player, DIA_SHARE_ONE / 20);
        dia_show_init(&own); /* read for the part: it knows the whole all the same */
        assert_int_equal(dia_show_rig_values(&own, &part, &wrong), DIA_OK);
        assert_int_equal(dia_show_load(&own, &part, "demo/evening.show", &wrong), DIA_OK);
        for (uint32_t ms = k * 100; ms < 260000; ms += 20000) {
            assert_int_equal(dia_show_play(&show, one, ms, 0, NULL), DIA_OK);
            assert_int_equal(dia_show_play(&own, player, ms, 0, NULL), DIA_OK);
            dia_scene_see(scene, player, bytes);
            dia_scene_see(all_of_it, one, those);
            for (uint32_t t = 0; t < scene->thing_count; t++) {
                const struct dia_scene_thing *a = &scene->things[t], *b = all_of_it->things;
                while (strcmp(a->name, b->name) != 0)
                    b++;
                uint32_t n = (t + 1 < scene->thing_count ? a[1].at : scene->bytes) - a->at;
                if (memcmp(bytes + a->at, those + b->at, n) != 0)
                    fail_msg("%s of %s differs at %u ms", a->name, nodes[k], ms);
                for (uint32_t i = 0; i < n; i++)
                    seen += bytes[a->at + i] != 0;
            }
        }
        free(bytes);
        free(those);
        dia_scene_free(scene);
        dia_scene_free(all_of_it);
        dia_show_free(&own);
        dia_player_free(player);
        dia_rig_free(&part);
    }
    assert_true(seen > 10000); /* they are not all dark */
    assert_int_equal(dia_rig_load_node(&part, "nodes.rig.yaml", "wst", &wrong), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "there is no node 'wst'; did you mean 'west'?"));
    assert_int_equal(dia_rig_load_node(&part, "demo/quay.rig.yaml", "west", &wrong), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "the rig has no nodes"));
    dia_show_free(&show);
    dia_player_free(one);
}

/* All nodes of a rig in one player show what one controller shows, bytes and dots and cells. */
static void all_nodes_show_one_picture(void **state)
{
    (void)state;
    struct dia_show show, own;
    give_parts_to_nodes();
    assert_int_equal(dia_rig_load(&rig, "demo/quay.rig.yaml", &wrong), DIA_OK);
    assert_int_equal(dia_rig_load(&whole, "nodes.rig.yaml", &wrong), DIA_OK);
    struct dia_player *one = dia_player_new(&rig, &wrong), *all = dia_player_new(&whole, &wrong);
    struct dia_scene *scene = dia_scene_new(&whole);
    uint8_t *bytes = calloc(scene->bytes, 1), *those = calloc(scene->bytes, 1);
    int seen = 0;
    dia_show_init(&show);
    dia_show_init(&own);
    assert_int_equal(dia_show_rig_values(&show, &rig, &wrong), DIA_OK);
    assert_int_equal(dia_show_load(&show, &rig, "demo/evening.show", &wrong), DIA_OK);
    assert_int_equal(dia_show_rig_values(&own, &whole, &wrong), DIA_OK);
    assert_int_equal(dia_show_load(&own, &whole, "demo/evening.show", &wrong), DIA_OK);
    dia_player_master(one, DIA_SHARE_ONE / 20); /* no budget is in the way */
    dia_player_master(all, DIA_SHARE_ONE / 20);
    for (uint32_t ms = 0; ms < 260000; ms += 9700) {
        uint64_t frame_ns = 0;
        assert_int_equal(dia_show_play(&show, one, ms, 0, NULL), DIA_OK);
        assert_int_equal(dia_show_play(&own, all, ms, 0, &frame_ns), DIA_OK);
        assert_true(frame_ns > 0);
        dia_scene_see(scene, all, bytes);
        dia_scene_see(scene, one, those);
        if (memcmp(bytes, those, scene->bytes) != 0)
            fail_msg("it differs at %u ms", ms);
        for (uint32_t i = 0; i < scene->bytes; i++)
            seen += bytes[i] != 0;
    }
    assert_true(seen > 10000); /* they are not all dark */
    uint64_t now_ns = dia_player_now_ns(all);
    dia_player_rest_until(all, now_ns + 5000000);
    assert_int_equal(dia_player_now_ns(all), now_ns + 5000000);
    dia_player_refresh(all); /* everything is sent anew, and shows the same */
    assert_int_equal(dia_show_play(&own, all, 250000, 0, NULL), DIA_OK);
    assert_int_equal(dia_show_play(&show, one, 250000, 0, NULL), DIA_OK);
    dia_scene_see(scene, all, bytes);
    dia_scene_see(scene, one, those);
    assert_memory_equal(bytes, those, scene->bytes);
    assert_false(dia_player_is_dark(all));
    assert_int_equal(dia_player_dark(all), DIA_OK);
    assert_true(dia_player_is_dark(all));
    free(bytes);
    free(those);
    dia_scene_free(scene);
    dia_show_free(&show);
    dia_show_free(&own);
    dia_player_free(one);
    dia_player_free(all);
}

/* Three nodes: a supply of that name at two of them, one with nothing on it but a button. */
static const char three[] =
    "rig: three\ncontroller: RP2040\n"
    "supplies: { post: { current: 1 A }, lamp: { current: 1 A } }\n"
    "lanes:\n"
    "  long: { node: west, pin: 2, chip: WS2812B, count: 50, supply: post }\n"
    "  short: { node: east, pin: 2, chip: WS2812B, count: 10, supply: post }\n"
    "devices:\n"
    "  pilot: { node: east, chip: lamps, pins: { lamp1: 4 }, supply: lamp }\n"
    "  panel: { node: west, chip: TM1638, pins: { stb: 5, clk: 6, dio: 7 },\n"
    "           supply: lamp }\n"
    "buttons: { a: { node: east, pin: 8 }, b: { node: gate, pin: 9 },\n"
    "           c: { node: west, pin: 10 } }\n";

static void white(void *self, uint32_t lane, uint32_t count, struct dia_rgb *pixels)
{
    uint32_t *asked = self;
    asked[lane] = count;
    for (uint32_t i = 0; i < count; i++)
        pixels[i] = (struct dia_rgb){255, 255, 255};
}

static void full(void *self, uint32_t device, uint32_t count, uint8_t *levels)
{
    uint32_t *asked = self;
    asked[10 + device] = count;
    memset(levels, 255, count);
}

/* What is said of a supply is said of all of its name; keys and buttons are those of the whole;
 * what is found at a controller says at which. */
static void a_whole_rig_is_what_its_nodes_are(void **state)
{
    (void)state;
    uint32_t asked[20] = {0};
    const struct dia_content content = {asked, white, full, NULL, NULL};
    write_file("three.rig.yaml", three, sizeof three - 1);
    if (dia_rig_load(&whole, "three.rig.yaml", &wrong) != DIA_OK)
        fail_msg("%s", wrong.text);
    strcpy(whole.faults[whole.fault_count++], "short: dead 3");
    struct dia_player *all = dia_player_new(&whole, &wrong);
    assert_int_equal(dia_player_show_content(all, &content, 0, NULL), DIA_OK);
    assert_int_equal(asked[0], 50);
    assert_int_equal(asked[1], 10);
    assert_int_equal(asked[10], 1);
    assert_int_equal(asked[11], 72); /* of a TM1638: 8 digits of 8 segments, and 8 lamps */
    assert_int_equal(dia_player_alike(all, 0), 2);
    assert_int_equal(dia_player_alike(all, 1), 2);
    uint64_t gives = 0, most = 0, wants = 0;
    dia_share least = DIA_SHARE_ONE;
    for (int k = 0; k < 2; k++) {
        assert_int_equal(dia_rig_part(&part, &whole, k ? "east" : "west", &wrong), DIA_OK);
        struct dia_player *player = dia_player_new(&part, &wrong);
        const struct dia_content own = {asked, white, full, NULL, NULL};
        assert_int_equal(dia_player_show_content(player, &own, 0, NULL), DIA_OK);
        gives += dia_player_gives_ua(player, 0);
        most += dia_player_most_ua(player, 0);
        wants += dia_player_asked_ua(player, 0);
        least = dia_player_share(player, 0) < least ? dia_player_share(player, 0) : least;
        assert_int_equal(dia_player_alike(player, 0), 1);
        dia_player_free(player);
    }
    assert_int_equal(dia_player_gives_ua(all, 0), gives);
    assert_int_equal(dia_player_most_ua(all, 0), most);
    assert_int_equal(dia_player_asked_ua(all, 0), wants);
    assert_int_equal(dia_player_share(all, 0), least);
    assert_true(least < DIA_SHARE_ONE); /* 50 pixels want more than 1 A; 10 do not */
    assert_true(gives > 1000000);       /* which two of 1 A give */
    assert_int_equal(dia_player_share(all, 1), DIA_SHARE_ONE);
    /* lane 1 is its node's lane 0; the dead pixel keeps the light from those behind it */
    assert_int_equal(dia_player_seen(all, 1, 2).r, 255);
    assert_int_equal(dia_player_seen(all, 1, 3).r, 0);
    assert_true(dia_player_lane_ns(all, 0) > dia_player_lane_ns(all, 1));
    assert_int_equal(dia_player_lamp(all, 0, 0), 65535);
    assert_int_equal(dia_player_refused(all, 1), 0);
    for (unsigned held = 0; held < 8; held++) {
        dia_player_hold_buttons(all, (uint8_t)held);
        assert_int_equal(dia_player_buttons(all), held);
    }
    dia_player_hold_keys(all, 1, 0x21);
    dia_player_rest_until(all, dia_player_now_ns(all) + 100000000);
    assert_int_equal(dia_player_show_content(all, &content, 1, NULL), DIA_OK);
    assert_int_equal(dia_player_keys(all, 1), 0x21);
    dia_player_rest_until_tick(all, 1, 2);
    dia_player_restart_pixels(all);
    assert_int_equal(dia_player_seen(all, 1, 0).r, 0); /* until the next frame */

    struct dia_findings found, at_east;
    struct dia_finding one = {.level = DIA_ERROR, .code = "ticks-missed", .place = "controller"};
    dia_findings_init(&found);
    dia_findings_init(&at_east);
    dia_findings_add(&at_east, &one);
    strcpy(one.place, "short");
    dia_findings_add(&at_east, &one);
    dia_findings_of_part(&found, &at_east, &part);
    assert_non_null(dia_findings_find(&found, "ticks-missed", "controller at east"));
    assert_non_null(dia_findings_find(&found, "ticks-missed", "short"));
    dia_findings_free(&found);
    dia_findings_free(&at_east);
    dia_player_free(all);
}

/* A limit of flashing holds at each node. */
static void a_whole_rig_is_kept_from_flashing(void **state)
{
    (void)state;
    uint32_t shown[2] = {0, 0};
    assert_int_equal(dia_rig_load(&whole, "three.rig.yaml", &wrong), DIA_OK);
    struct dia_player *all = dia_player_new(&whole, &wrong);
    assert_int_equal(dia_player_flashes(all, 1), 0);
    for (uint32_t k = 0; k < 20; k++) { /* ten flashes in a second */
        const struct dia_steady colour = {{k % 2 ? 255 : 0, 0, 0}};
        dia_player_run_ms(all, k * 50);
        assert_int_equal(dia_player_show(all, &dia_look_steady, &colour, k * 50, k, NULL), DIA_OK);
        for (uint32_t lane = 0; lane < 2; lane++)
            shown[lane] += k % 2 && dia_player_seen(all, lane, 0).r;
    }
    assert_int_equal(shown[0], 1);
    assert_int_equal(shown[1], 1);
    /* of 19 frames that differ from the one before two are let through, at two lanes and a lamp */
    assert_true(dia_player_held_back(all) >= 3 * 9);
    dia_player_free(all);
}

/* What is of one controller alone is refused, with what would be right. */
static void a_whole_rig_is_no_controller(void **state)
{
    (void)state;
    static struct dia_desk desk;
    int failed = 1;
    assert_int_equal(dia_rig_load(&whole, "three.rig.yaml", &wrong), DIA_OK);
    dia_desk_init(&desk, &whole);
    assert_null(dia_player_on(&whole, &desk, &wrong));
    assert_string_equal(wrong.text,
                        "three.rig.yaml: the rig is driven by nodes; take one at a time");
    memset(&wrong, 0, sizeof wrong);
    assert_null(dia_outlet_open(&whole, &failed, &wrong));
    assert_int_equal(failed, 0);
    assert_string_equal(wrong.text,
                        "three.rig.yaml: the rig is driven by nodes; take one at a time");
    assert_int_equal(dia_rig_part(&part, &whole, "eat", &wrong), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "did you mean 'east'?"));
}

/* Supplies and groups of a part are those that it uses, in the order of the file, under new
 * numbers. */
static void a_part_has_what_it_uses(void **state)
{
    (void)state;
    static const char grouped[] =
        "rig: grouped\ncontroller: RP2040\n"
        "supplies: { a: { current: 1 A }, b: { current: 1 A }, c: { current: 1 A },\n"
        "            d: { current: 1 A } }\n"
        "lanes:\n"
        "  first: { node: west, pin: 2, chip: WS2812B, count: 9, supply: a, group: low }\n"
        "  second: { node: east, pin: 2, chip: WS2812B, count: 9, supply: b, group: high }\n"
        "  third: { node: east, pin: 3, chip: WS2812B, count: 9, supply: d, group: high }\n"
        "  fourth: { node: east, pin: 9, chip: WS2812B, count: 9, supply: d,\n"
        "            feeds: [ { at: start, length: 1 m, section: 0.75 mm2 },\n"
        "                     { at: end, length: 1 m, section: 0.75 mm2, supply: c } ] }\n";
    write_file("grouped.rig.yaml", grouped, sizeof grouped - 1);
    if (dia_rig_load(&whole, "grouped.rig.yaml", &wrong) != DIA_OK)
        fail_msg("%s", wrong.text);
    assert_int_equal(dia_rig_part(&part, &whole, "west", &wrong), DIA_OK);
    assert_int_equal(part.supply_count, 1);
    assert_int_equal(part.group_count, 1);
    assert_string_equal(part.groups[part.lanes[0].group - 1], "low");
    assert_int_equal(dia_rig_part(&part, &whole, "east", &wrong), DIA_OK);
    assert_int_equal(part.supply_count, 3); /* b, c, d */
    assert_int_equal(part.group_count, 1);
    for (int k = 0; k < 2; k++)
        assert_string_equal(part.groups[part.lanes[k].group - 1], "high");
    assert_int_equal(part.lanes[2].group, 0);
    assert_string_equal(part.supplies[part.lanes[0].supply].name, "b");
    assert_string_equal(part.supplies[part.lanes[2].supply].name, "d");
    assert_string_equal(part.supplies[part.lanes[2].feeds[1].supply].name, "c");
    assert_int_equal(dia_rig_part(&part, &whole, "", &wrong), DIA_BAD_VALUE);
    assert_int_equal(dia_rig_part(&part, &whole, "zzzzzz", &wrong), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "there is no node 'zzzzzz'; there is 'west'"));
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(nodes_show_pieces_of_one_picture),
        cmocka_unit_test(all_nodes_show_one_picture),
        cmocka_unit_test(a_whole_rig_is_what_its_nodes_are),
        cmocka_unit_test(a_whole_rig_is_kept_from_flashing),
        cmocka_unit_test(a_whole_rig_is_no_controller),
        cmocka_unit_test(a_part_has_what_it_uses),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
