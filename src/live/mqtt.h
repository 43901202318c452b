/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_MQTT_H
#define DIA_LIVE_MQTT_H

#include <diachrome/serve.h>

#include "files.h"
#include "hub.h"
#include "nodes.h"

/*
 * The broker's side, by libmosquitto, in a thread of its own: it takes from the hub what there is
 * to tell, and gives it what comes in. docs/mqtt.md has the topics. A broker that is not there is
 * asked again, after 0.25 s at first and 10 s at last; everything retained is told anew when it is
 * back. Of a rig of many nodes each has topics of its own, and all have the run together. nodes:
 * NULL for others; files: NULL where they do not go over the broker.
 */
struct mqtt;

struct mqtt *dia_mqtt_new(const struct dia_serve_options *options, struct hub *hub,
                          struct nodes *nodes, struct files *files, struct dia_diagnostic *wrong);
int dia_mqtt_start(struct mqtt *mqtt); /* 0, or -1 */
void dia_mqtt_free(struct mqtt *mqtt); /* says that it goes, if there is a thread */

#endif
