/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

/* A panel whose lamps follow its keys, several at once. */
enum { STB = 14, CLK, DIO };

int main(void)
{
    static struct dia_sim sim; /* on a controller: a port of its own */
    static const uint8_t pins[DIA_PANEL_PINS] = {STB, CLK, DIO};
    static const uint8_t held[] = {0x00, 0x01, 0x09, 0x80};
    struct dia_device_setup desk = {.name = "operator", .part = "TM1638", .pins = pins};
    struct dia_bench *bench = dia_bench_new(); /* what lies on the desk */
    int on_desk = dia_bench_panel(bench, &desk);
    struct dia_panel panel;
    static uint8_t drawing[DIA_PANEL_DRAWING];
    uint8_t digits[8];

    dia_sim_init(&sim, 16000000);
    if (dia_sim_listen(&sim, dia_bench_take, bench) != DIA_OK)
        return 1;
    dia_bench_answers(bench, dia_sim_drive, &sim); /* the panel drives DIO too */
    if (dia_panel_init(&panel, &sim.port, &dia_tm1638, STB, CLK, DIO, drawing) != DIA_OK)
        return 1;
    dia_segments_text("PAnEL", digits, 8);
    for (uint8_t k = 0; k < 8; k++)
        if (dia_panel_digit(&panel, k, digits[k]) != DIA_OK)
            return 1;
    for (int frame = 0; frame < 4; frame++) {
        if (dia_bench_keys(bench, on_desk, held[frame]) != 0)
            return 1;
        for (int twice = 0; twice < 2; twice++) { /* read the keys, then show them */
            if (dia_driver_show_and_wait(&panel.driver) != DIA_OK)
                return 1;
            for (uint8_t k = 0; k < 8; k++)
                if (dia_panel_lamp(&panel, k, panel.keys >> k & 1) != DIA_OK)
                    return 1;
        }
        dia_bench_settle(bench, sim.now_ns);
        printf("keys %02x, lamps ", panel.keys);
        for (int k = 0; k < 8; k++)
            putchar(dia_bench_lamps(bench, on_desk)->level[k * 16 + 8] ? 'O' : '.');
        putchar('\n');
    }
    dia_bench_free(bench);
    return 0;
}
