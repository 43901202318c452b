/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include "host_private.h"
#include "player_private.h"

int dia_play_has_nodes(const struct dia_rig *rig)
{
    const char *first;
    return !rig->whole && dia_rig_nodes(rig, &first, 1) != 0;
}

struct play_nodes *dia_play_nodes_new(const struct dia_rig *whole, struct dia_diagnostic *wrong)
{
    const char *names[DIA_RIG_NODES];
    struct play_nodes *nodes = calloc(1, sizeof *nodes);
    uint32_t count = dia_rig_nodes(whole, names, DIA_RIG_NODES);
    if (nodes) {
        nodes->rigs = calloc(count, sizeof *nodes->rigs);
        nodes->players = calloc(count, sizeof(struct dia_player *));
    }
    if (!nodes || !nodes->rigs || !nodes->players) {
        dia_play_nodes_free(nodes);
        dia_play_no_memory(whole, wrong);
        return NULL;
    }
    for (; nodes->count < count; nodes->count++) {
        struct dia_rig *rig = &nodes->rigs[nodes->count];
        struct dia_player *player = NULL;
        if (dia_rig_part(rig, whole, names[nodes->count], wrong) == DIA_OK)
            player = dia_player_new(rig, wrong);
        if (!player) {
            dia_play_nodes_free(nodes);
            return NULL;
        }
        nodes->players[nodes->count] = player;
        for (uint32_t i = 0; i < rig->lane_count; i++)
            nodes->lanes[rig->lanes[i].place] = (struct play_part){player, i};
        for (uint32_t i = 0; i < rig->device_count; i++)
            nodes->devices[rig->devices[i].place] = (struct play_part){player, i};
    }
    return nodes;
}

void dia_play_nodes_free(struct play_nodes *nodes)
{
    if (!nodes)
        return;
    for (uint32_t k = 0; k < nodes->count; k++)
        dia_player_free(nodes->players[k]);
    dia_findings_free(&nodes->findings);
    free(nodes->players);
    free(nodes->rigs);
    free(nodes);
}

/* ---- a frame --------------------------------------------------------------------------------- */

/* The worst of all nodes, and the longest. */
struct frame {
    enum dia_status status;
    uint64_t ns;
};

static void note(struct frame *frame, enum dia_status status, uint64_t ns)
{
    frame->status = status != DIA_OK ? status : frame->status;
    frame->ns = ns > frame->ns ? ns : frame->ns;
}

static enum dia_status finish(struct play_nodes *nodes, const struct frame *frame,
                              uint64_t *frame_ns)
{
    dia_play_nodes_meet(nodes);
    if (frame_ns)
        *frame_ns = frame->ns;
    return frame->status;
}

/* What is wanted of the whole, for the lanes and devices of one node. */
struct part_content {
    const struct dia_content *whole;
    const struct dia_rig *rig;
};

static void part_pixels(void *self, uint32_t lane, uint32_t count, struct dia_rgb *pixels)
{
    const struct part_content *part = self;
    part->whole->pixels(part->whole->self, part->rig->lanes[lane].place, count, pixels);
}

static void part_lamps(void *self, uint32_t device, uint32_t count, uint8_t *levels)
{
    const struct part_content *part = self;
    part->whole->lamps(part->whole->self, part->rig->devices[device].place, count, levels);
}

static const char *part_text(void *self, uint32_t device, uint32_t row)
{
    const struct part_content *part = self;
    return part->whole->text(part->whole->self, part->rig->devices[device].place, row);
}

static void part_cells(void *self, uint32_t device, struct dia_cells_wanted *wanted)
{
    const struct part_content *part = self;
    part->whole->cells(part->whole->self, part->rig->devices[device].place, wanted);
}

enum dia_status dia_play_nodes_content(struct play_nodes *nodes, const struct dia_content *content,
                                       uint32_t slot, uint64_t *frame_ns)
{
    struct frame frame = {DIA_OK, 0};
    for (uint32_t k = 0; k < nodes->count; k++) {
        struct part_content part = {content, &nodes->rigs[k]};
        struct dia_content of = {&part, part_pixels, part_lamps, content->text ? part_text : NULL,
                                 content->cells ? part_cells : NULL};
        uint64_t ns = 0;
        enum dia_status status = dia_player_show_content(nodes->players[k], &of, slot, &ns);
        note(&frame, status, ns);
    }
    return finish(nodes, &frame, frame_ns);
}

/* Each node takes of the layers of the whole what is its own. */
enum dia_status dia_play_nodes_layers(struct play_nodes *nodes, const struct dia_rig_layer *layers,
                                      uint32_t count, uint32_t ms, uint32_t slot,
                                      uint64_t *frame_ns)
{
    struct frame frame = {DIA_OK, 0};
    for (uint32_t k = 0; k < nodes->count; k++) {
        uint64_t ns = 0;
        enum dia_status status =
            dia_player_show_layers(nodes->players[k], layers, count, ms, slot, &ns);
        note(&frame, status, ns);
    }
    return finish(nodes, &frame, frame_ns);
}

uint64_t dia_play_nodes_now_ns(const struct play_nodes *nodes)
{
    uint64_t latest = 0;
    for (uint32_t k = 0; k < nodes->count; k++) {
        uint64_t now_ns = dia_player_now_ns(nodes->players[k]);
        latest = now_ns > latest ? now_ns : latest;
    }
    return latest;
}

void dia_play_nodes_meet(struct play_nodes *nodes)
{
    uint64_t now_ns = dia_play_nodes_now_ns(nodes);
    for (uint32_t k = 0; k < nodes->count; k++)
        dia_player_rest_until(nodes->players[k], now_ns);
}

/* ---- what they have to say ------------------------------------------------------------------- */

/* A lane or device has its name once in the whole rig; a controller or a supply is there at many
 * nodes. */
static int is_one_of(const struct dia_rig *rig, const char *place)
{
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        if (strcmp(rig->lanes[i].name, place) == 0)
            return 1;
    }
    for (uint32_t i = 0; i < rig->device_count; i++) {
        if (strcmp(rig->devices[i].name, place) == 0)
            return 1;
    }
    return 0;
}

void dia_findings_of_part(struct dia_findings *whole, const struct dia_findings *from,
                          const struct dia_rig *part)
{
    for (uint32_t i = 0; i < from->count; i++) {
        struct dia_finding finding = from->items[i];
        if (!is_one_of(part, finding.place))
            snprintf(finding.place, sizeof finding.place, "%.27s at %.31s", from->items[i].place,
                     part->node);
        dia_findings_add(whole, &finding);
    }
    whole->lost |= from->lost;
}

const struct dia_findings *dia_play_nodes_findings(struct play_nodes *nodes)
{
    dia_findings_free(&nodes->findings);
    dia_findings_init(&nodes->findings);
    for (uint32_t k = 0; k < nodes->count; k++)
        dia_findings_of_part(&nodes->findings, dia_player_findings(nodes->players[k]),
                             &nodes->rigs[k]);
    return &nodes->findings;
}

/* ---- supplies -------------------------------------------------------------------------------- */

/* Number of a supply at a node, or its count of them. */
static uint32_t supply_at(const struct dia_rig *rig, const char *name)
{
    uint32_t s = 0;
    while (s < rig->supply_count && strcmp(rig->supplies[s].name, name) != 0)
        s++;
    return s;
}

uint64_t dia_play_nodes_sum_ua(const struct play_nodes *nodes, const char *supply,
                               enum play_sum what)
{
    uint64_t sum = 0;
    for (uint32_t k = 0; k < nodes->count; k++) {
        const struct dia_player *player = nodes->players[k];
        uint32_t s = supply_at(&nodes->rigs[k], supply);
        if (s < nodes->rigs[k].supply_count)
            sum += what == PLAY_ASKED   ? dia_player_asked_ua(player, s)
                   : what == PLAY_GIVES ? dia_player_gives_ua(player, s)
                                        : dia_player_most_ua(player, s);
    }
    return sum;
}

dia_share dia_play_nodes_share(const struct play_nodes *nodes, const char *supply)
{
    dia_share least = DIA_SHARE_ONE;
    for (uint32_t k = 0; k < nodes->count; k++) {
        uint32_t s = supply_at(&nodes->rigs[k], supply);
        dia_share share = s < nodes->rigs[k].supply_count ? dia_player_share(nodes->players[k], s)
                                                          : DIA_SHARE_ONE;
        least = share < least ? share : least;
    }
    return least;
}

uint32_t dia_play_nodes_with(const struct play_nodes *nodes, const char *supply)
{
    uint32_t with = 0;
    for (uint32_t k = 0; k < nodes->count; k++)
        with += supply_at(&nodes->rigs[k], supply) < nodes->rigs[k].supply_count;
    return with;
}

/* ---- buttons --------------------------------------------------------------------------------- */

void dia_play_nodes_hold_buttons(struct play_nodes *nodes, uint8_t held)
{
    for (uint32_t k = 0; k < nodes->count; k++) {
        const struct dia_rig *rig = &nodes->rigs[k];
        unsigned own = 0;
        for (uint32_t b = 0; b < rig->button_count; b++)
            own |= (held >> rig->buttons[b].place & 1u) << b;
        dia_player_hold_buttons(nodes->players[k], (uint8_t)own);
    }
}

uint8_t dia_play_nodes_buttons(struct play_nodes *nodes)
{
    unsigned held = 0;
    for (uint32_t k = 0; k < nodes->count; k++) {
        const struct dia_rig *rig = &nodes->rigs[k];
        uint8_t own = dia_player_buttons(nodes->players[k]);
        for (uint32_t b = 0; b < rig->button_count; b++)
            held |= (own >> b & 1u) << rig->buttons[b].place;
    }
    return (uint8_t)held;
}
