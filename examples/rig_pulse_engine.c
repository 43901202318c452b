/* SPDX-License-Identifier: MIT */
/* A square wave of 855 Hz on two pins in antiphase, and the pulses of a WS2812B, as programs for a
 * pulse engine; the bench runs the second one and looks at 20 pixels. */
#include <inttypes.h>
#include <stdio.h>

#include <diachrome/pulses_run.h>

static void print(const char *what, const struct dia_pulses *plan)
{
    printf("%s: divider %.4f\n", what, plan->divider / 256.0);
    for (uint8_t k = 0; k < plan->count; k++)
        printf("  0x%04x  %s\n", plan->words[k], plan->text[k]);
    for (uint8_t k = 0; k < plan->time_count; k++)
        printf("  %-12s %.3f us wanted, %.3f us\n", plan->times[k].name,
               (double)plan->times[k].wanted_ps / 1e6, (double)plan->times[k].got_ps / 1e6);
}

int main(void)
{
    struct dia_pulses plan;
    struct dia_pulses_seen seen;
    if (!dia_pulses_square(&plan, 125000000, 855000, 1))
        return 1;
    print("855 Hz in antiphase", &plan);
    if (!dia_pulses_onewire(&plan, 125000000, &dia_ws2812b.timing, 24))
        return 1;
    print("WS2812B", &plan);
    if (dia_pulses_run(&plan, &dia_ws2812b, &seen, NULL) != DIA_OK)
        return 1;
    printf("%" PRIu32 " of %d pixels show what was sent\n", seen.right, DIA_PULSES_PIXELS);
    dia_findings_free(&seen.found);
    if (!dia_pulses_square(&plan, 125000000, 1000, 0)) /* 1 Hz */
        printf("1 Hz: %s\n", plan.why);
    return seen.right == DIA_PULSES_PIXELS ? 0 : 1;
}
