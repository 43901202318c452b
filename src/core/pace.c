/* SPDX-License-Identifier: MIT */
#include <diachrome/pace.h>

void dia_pace_init(struct dia_pace *pace, uint32_t frames, uint32_t seconds)
{
    /* seconds * 1000000 / frames in 32 bits: 1000 ms at a time */
    uint32_t ms = seconds * 1000u, whole_ms = ms / frames, left = ms % frames;
    pace->rate = frames;
    pace->whole_us = whole_ms * 1000u + left * 1000u / frames;
    pace->rest = left * 1000u % frames;
    pace->ms = pace->frame = pace->late_us = pace->dropped = 0;
    pace->due_us = pace->carry = pace->show_us = pace->step_us = 0;
    pace->speed = 256;
    pace->paused = pace->begun = 0;
}

void dia_pace_start(struct dia_pace *pace, uint32_t now_us)
{
    pace->due_us = now_us;
    pace->carry = 0;
}

uint32_t dia_pace_next_us(const struct dia_pace *pace)
{
    return pace->due_us;
}

/* The show's time goes on by us of the clock; 256ths of ms would be lost, so us are kept. */
static void go_on(struct dia_pace *pace, uint32_t us)
{
    if (pace->paused)
        return;
    /* us * speed / 256, in 32 bits */
    uint32_t gone = (us >> 8) * pace->speed + ((us & 255u) * pace->speed >> 8);
    pace->ms += gone / 1000u;
    pace->show_us += gone % 1000u;
    if (pace->show_us >= 1000u) {
        pace->show_us -= 1000u;
        pace->ms++;
    }
}

void dia_pace_step(struct dia_pace *pace)
{
    if (pace->begun) { /* the first frame is at the start */
        pace->frame++;
        go_on(pace, pace->step_us);
    }
    pace->begun = 1;
    pace->step_us = pace->whole_us;
    pace->carry += pace->rest;
    if (pace->carry >= pace->rate) {
        pace->carry -= pace->rate;
        pace->step_us++;
    }
    pace->due_us += pace->step_us;
}

uint8_t dia_pace_due(struct dia_pace *pace, uint32_t now_us)
{
    uint32_t late = now_us - pace->due_us;
    if (late >= 0x80000000u)
        return 0;
    dia_pace_step(pace);
    while (now_us - pace->due_us < 0x80000000u) { /* the one after it is due as well */
        late = now_us - pace->due_us;
        dia_pace_step(pace);
        pace->dropped++;
    }
    pace->late_us = late;
    return 1;
}

void dia_pace_pause(struct dia_pace *pace, uint8_t paused)
{
    pace->paused = paused;
}

void dia_pace_speed(struct dia_pace *pace, uint32_t speed)
{
    pace->speed = speed > 4096u ? 4096u : speed;
}

void dia_pace_seek(struct dia_pace *pace, uint32_t ms)
{
    pace->ms = ms;
    pace->show_us = 0;
    if (pace->begun)
        pace->frame++;
    pace->begun = 0;
}
