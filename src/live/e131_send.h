/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_E131_SEND_H
#define DIA_LIVE_E131_SEND_H

#include <diachrome/scene.h>
#include <diachrome/serve.h>

/*
 * What the lanes show, to a lighting network by ANSI E1.31-2018: 170 pixels a universe, each lane
 * from a universe of its own on. At most 44 times a second; what does not change is sent three
 * times more and then every 0.8 s. It never waits: what the network does not take is left out.
 */
struct e131_send;

struct e131_send *dia_e131_send_new(const struct dia_rig_send *settings, const char *name,
                                    struct dia_diagnostic *wrong);
/* A frame of a scene at a time, ms. */
void dia_e131_send_frame(struct e131_send *send, const struct dia_scene *scene,
                         const uint8_t *frame, uint64_t ms);
void dia_e131_send_free(struct e131_send *send); /* ends all streams first */

#endif
