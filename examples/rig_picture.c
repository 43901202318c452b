/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/reel.h>
#include <diachrome/rig_layer.h>

/* A rig from its file, layers on it through the wire to the bench, and a picture of what shows:
 * with the host library. Usage: rig_picture RIG PICTURE.png */
int main(int argc, char **argv)
{
    static struct dia_rig rig;
    struct dia_diagnostic wrong = {"usage: rig_picture RIG PICTURE.png"};
    struct dia_rig_layer layers[2];
    struct dia_reel reel;
    int failed = argc != 3;

    if (failed || dia_rig_load(&rig, argv[1], &wrong) != DIA_OK ||
        dia_rig_layer_read(&layers[0], &rig, "water", &wrong) != DIA_OK ||
        dia_rig_layer_read(&layers[1], &rig, "chase colour=gold on handrail", &wrong) != DIA_OK) {
        fprintf(stderr, "%s\n", wrong.text);
        return 2;
    }
    struct dia_player *player = dia_player_new(&rig, &wrong);
    failed = !player || dia_reel_init(&reel, &rig, "water and chase", 1, &wrong) != DIA_OK;
    if (!failed) {
        failed = dia_player_show_layers(player, layers, 2, 1500, 75, NULL) != DIA_OK;
        dia_reel_add(&reel, player, 1500000);
        printf("%.2f A from the supply\n", (double)reel.gives_ua[0] / 1e6);
        failed |= dia_reel_write_png(&reel, argv[2], &wrong) != DIA_OK;
        dia_reel_free(&reel);
    }
    if (failed)
        fprintf(stderr, "%s\n", wrong.text);
    dia_player_free(player);
    return failed ? 3 : 0;
}
