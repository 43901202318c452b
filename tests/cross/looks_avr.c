/* SPDX-License-Identifier: MIT */
#include <avr/interrupt.h>
#include <avr/io.h>
#include <avr/sleep.h>
#include <stddef.h>

#include <diachrome/diachrome.h>

/* Frames of FEW and of MANY pixels of each of LOOKS, which look_cycles.c times: PD6 is high while
 * the look renders; then while all is done that a frame takes, look, limiter and develop, inside
 * the budget; then the same where the limiter has to dim it, without and with a table. */
#define FEW         20
#define MANY        32
#define FRAMES      4
#define MARK_HIGH() (PORTD |= _BV(PD6))
#define MARK_LOW()  (PORTD &= (uint8_t)~_BV(PD6))

static const DIA_ROM struct dia_look *const looks[] = {LOOKS, NULL};
static union dia_look_values values;
static struct dia_rgb pixels[MANY];
static uint8_t bytes[3 * MANY]; /* as they go out */
static uint16_t table[256];

static void whole(const DIA_ROM struct dia_look *look, const struct dia_surface *line, uint32_t ms,
                  uint32_t supply_ua, uint8_t by_table)
{
    struct dia_develop develop;
    struct dia_budget budget;
    struct dia_carry carry;
    uint16_t count = (uint16_t)line->count;
    dia_develop_init(&develop, by_table ? &dia_channels_rgb_table : &dia_channels_rgb);
    dia_develop_order(&develop, dia_ws2812b.order);
    MARK_HIGH();
    look->render(&values, line, ms, 0, count, pixels);
    dia_develop_begin(&develop, ms);
    dia_budget_init(&budget, supply_ua, 1000);
    dia_budget_add(&budget, &develop, &dia_ws2812b.power, pixels, count);
    dia_develop_limit(&develop, dia_budget_share(&budget));
    if (by_table)
        dia_develop_prepare(&develop, table);
    dia_carry_begin(&carry, &develop);
    dia_develop_run(&develop, &carry, pixels, count, bytes);
    MARK_LOW();
}

static void frame(const DIA_ROM struct dia_look *look, uint8_t count, uint32_t ms)
{
    struct dia_surface line;
    dia_surface_line(&line, count, 0, 16667);
    MARK_HIGH();
    look->render(&values, &line, ms, 0, count, pixels);
    MARK_LOW();
    uint32_t hardly = 1000u * count + 10000u; /* more than dark pixels take */
    whole(look, &line, ms, 50000000, 0);
    whole(look, &line, ms, hardly, 0);
    whole(look, &line, ms, hardly, 1);
}

/* What the stack never reached holds this. Where it came down to the variables, what was counted
 * is of something else. */
#define UNTOUCHED 0xa5
extern uint8_t __heap_start[]; /* behind the variables, by the linker */

static void mark_stack(void)
{
    for (uint8_t *at = __heap_start; at < (uint8_t *)SP - 32; at++)
        *at = UNTOUCHED;
}

static uint8_t stack_was_enough(void)
{
    for (uint8_t k = 0; k < 16; k++) {
        if (__heap_start[k] != UNTOUCHED)
            return 0;
    }
    return 1;
}

int main(void)
{
    mark_stack();
    DDRD |= _BV(PD6);
    cli();
    MARK_LOW();
    for (uint8_t k = 0; looks[k]; k++) {
        looks[k]->defaults(&values);
        for (uint32_t i = 0; i < FRAMES; i++) {
            frame(looks[k], FEW, 777 + i * 1111);
            frame(looks[k], MANY, 777 + i * 1111);
        }
    }
    while (!stack_was_enough())
        ; /* it does not come to its end */
    sleep_mode();
    return 0;
}
