/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_JUDGE_H
#define DIACHROME_JUDGE_H

#include "capture.h"
#include "finding.h"
#include "linkage.h"
#include "player.h"

DIA_BEGIN

/*
 * A capture of real wires, heard by the models of a rig: what would be seen, and what is outside of
 * the sheets.
 *
 *   struct dia_judge judge;
 *   status = dia_judge_capture(&judge, &rig, "wire.vcd", maps, n, 0, &wrong);
 *   dia_player_shown(judge.player, 0)->drive[17][1]       green of pixel 17, at the end
 *   dia_judge_free(&judge);
 *
 * A capture may begin in the middle of a frame: what comes before the first rest of a lane is left
 * aside. Displays are taken as set up. Where the capture was sampled, pulses may be off by one
 * sample: sheets are judged with that much more room.
 *
 * Cost: two passes over the file, some 10 MB a second; memory of a player.
 * Context: one thread at a time for an object; not from an interrupt.
 */

/* A wire of the capture and the wire of the rig that it is: "D0" and "handrail", "board_DIN". */
struct dia_judge_map {
    const char *capture, *rig;
};

/* What a wire of the rig had. */
struct dia_judge_wire {
    char name[64];    /* as a trace calls it */
    char capture[80]; /* of the capture; empty: it is not there */
    uint8_t pin;
    uint64_t edges;
    uint64_t unknown; /* times it went to x or z, when the last level was taken to stay */
};

/* A frame that a lane showed. */
struct dia_judge_frame {
    uint32_t lane;
    uint64_t t_ns; /* when it latched, since the time 0 of the file */
};

/* Called for each frame; what it shows can be asked of the player. */
typedef void dia_judge_sees(void *self, struct dia_player *player,
                            const struct dia_judge_frame *frame);

struct dia_judge {
    struct dia_player *player; /* as it shows the end of the capture */
    struct dia_judge_wire
        wires[DIA_RIG_LANES * 2 + DIA_RIG_DEVICES * DIA_RIG_PINS + DIA_RIG_BUTTONS];
    uint32_t wire_count;
    uint32_t lane_wires;            /* of these, the first: of lanes */
    uint32_t frames[DIA_RIG_LANES]; /* that each lane showed */
    uint64_t from_ns, to_ns;        /* first and last time of the capture */
    uint32_t sampled_khz;           /* rate at which it was sampled; 0: it was not, or none fits */
    uint32_t slack_ns;
    struct dia_findings findings; /* of the bench, with times of the capture */
    struct dia_rig *desk;         /* private: the rig without faults */
};

/*
 * Wires are joined by `maps`, by equal names, and where one wire of each is left, those.
 * sampled_khz 0: found out by the times of the edges; files that we wrote ourselves are exact.
 * `sees` may be NULL.
 *
 * DIA_BAD_VALUE and a diagnostic: the file is damaged, or no wire fits. DIA_PORT_FAILED: memory ran
 * out, or it cannot be read. The caller frees whatever comes back.
 */
enum dia_status dia_judge_capture(struct dia_judge *judge, const struct dia_rig *rig,
                                  const char *path, const struct dia_judge_map *maps, uint32_t n,
                                  uint32_t sampled_khz, dia_judge_sees *sees, void *self,
                                  struct dia_diagnostic *wrong);
void dia_judge_free(struct dia_judge *judge);

/* The edges of a capture alone, on the pins of the rig, for a listener: in the order of time, which
 * begins with that of the file. until_ns: its last time. Errors as above. */
enum dia_status dia_judge_hear(const struct dia_rig *rig, const char *path,
                               const struct dia_judge_map *maps, uint32_t n,
                               dia_edge_listener *take, void *self, uint64_t *until_ns,
                               struct dia_diagnostic *wrong);

DIA_END

#endif
