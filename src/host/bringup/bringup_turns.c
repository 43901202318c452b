/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include "bringup_device.h"
#include "family.h"

/* Digits that are lit in turns on a shift-register chain: segments and commons on its outputs. */

enum { WHOLE, ONE_DIGIT, ONE_SEGMENT, NOTHING, OTHERWISE, UNSTEADY };

static uint8_t some[DIA_RIG_LAMPS];

/* All segments of all digits are sent. What shows, and which digit or segment does not. */
static uint32_t look(struct run *run, uint32_t *which)
{
    const struct dia_rig_device *device = dia_device_believed(run);
    uint32_t dark_of_digit[DIA_SHIFT_DIGITS_MOST] = {0}, dark_of_segment[17] = {0}, dark = 0, n = 0;
    uint32_t per = device->per_digit;
    memset(some, 255, sizeof some);
    run->lit.levels = some;
    dia_run_show(run);
    if (dia_run_is_unsteady(run))
        return UNSTEADY;
    for (uint32_t k = 0; k < device->lamps; k++) {
        if (device->segment_output[k % per] == DIA_RIG_NOWHERE)
            continue;
        n++;
        if (!dia_device_lamp_is_lit(run, k)) {
            dark++;
            dark_of_digit[k / per]++;
            dark_of_segment[k % per]++;
        }
    }
    for (uint32_t k = 0; k < device->digits; k++) {
        *which = k;
        if (dark && dark_of_digit[k] == dark && dark == n / device->digits && device->digits > 1)
            return ONE_DIGIT;
    }
    for (uint32_t k = 0; k < per; k++) {
        *which = k;
        if (dark && dark_of_segment[k] == dark && dark == device->digits)
            return ONE_SEGMENT;
    }
    return dark == 0 ? WHOLE : dark == n ? NOTHING : OTHERWISE;
}

/* Nothing is sent: is anything lit? */
static int ask_dark(struct run *run)
{
    static const char *const answers[] = {"none", "some", NULL};
    uint32_t lit = 0;
    memset(some, 0, sizeof some);
    run->lit.levels = some;
    dia_run_show(run);
    for (uint32_t k = 0; k < dia_device_believed(run)->lamps; k++)
        lit |= (uint32_t)dia_device_lamp_is_lit(run, k);
    return dia_run_ask(run, answers, lit, "All digits of '%s' are sent off. Which are lit?",
                       dia_device_believed(run)->name);
}

static int ask_lit(struct run *run, uint32_t *which)
{
    static const char *const answers[] = {"all of them, whole",
                                          "all but one digit",
                                          "all, but the same segment is dark on each",
                                          "none",
                                          "otherwise",
                                          "it flickers or changes by itself",
                                          NULL};
    uint32_t says = look(run, which);
    return dia_run_ask(run, answers, says,
                       "All segments of '%s' are sent on. "
                       "Which digits are lit?",
                       dia_device_believed(run)->name);
}

/* As ask_lit; those that are lit whatever is sent are no better than those that are dark. */
static int ask_all(struct run *run, uint32_t *which)
{
    int seen = ask_lit(run, which);
    if (seen != WHOLE)
        return seen;
    int dark = ask_dark(run);
    return dark < 0 ? -1 : dark == 0 ? WHOLE : NOTHING;
}

/* 1: a digit that is sent an 8 is lit, and no other. */
static int is_alone(struct run *run, uint32_t digit)
{
    static const char *const yes_no[] = {"yes", "no", NULL};
    const struct dia_rig_device *device = dia_device_believed(run);
    int alone = 1;
    memset(some, 0, sizeof some);
    memset(some + digit * device->per_digit, 255, device->per_digit);
    run->lit.levels = some;
    dia_run_show(run);
    for (uint32_t k = 0; k < device->lamps; k++) {
        if (k / device->per_digit != digit)
            alone &= !dia_device_lamp_is_lit(run, k);
    }
    int answer = dia_run_ask(run, yes_no, !alone,
                             "Digit %u of '%s', from the left, is sent on. Are all others dark?",
                             (unsigned)digit + 1, device->name);
    return answer < 0 ? -1 : answer == 0;
}

static int otherwise(struct run *run);

static int one_digit(struct run *run, uint32_t says)
{
    static const char *const places[] = {"the 1st",  "the 2nd",  "the 3rd",  "the 4th",
                                         "the 5th",  "the 6th",  "the 7th",  "the 8th",
                                         "the 9th",  "the 10th", "the 11th", "the 12th",
                                         "the 13th", "the 14th", "the 15th", "the 16th"};
    const char *answers[DIA_SHIFT_DIGITS_MOST + 1] = {NULL};
    const struct dia_rig_device *device = dia_device_believed(run);
    memcpy(answers, places, device->digits * sizeof answers[0]);
    int digit = dia_run_ask(run, answers, says, "Which digit of '%s' is dark, from the left?",
                            device->name);
    if (digit < 0)
        return -1;
    int alone = is_alone(run, digit ? 0 : 1);
    if (alone != 1)
        return alone < 0 ? -1 : otherwise(run);
    uint32_t output = device->common_output[digit];
    struct dia_cause *cause =
        dia_run_cause(run, "the common of digit %d does not go on", digit + 1);
    dia_cause_evidence(cause, "that digit is dark while all others are lit");
    dia_cause_wiring(cause, "look at output Q%c of chip %u%s, and at its wire to the digit",
                     (int)('A' + output % 8), (unsigned)(output / 8 + 1),
                     device->inverted ? ", at its transistor" : "");
    return 0;
}

static int one_segment(struct run *run, uint32_t says)
{
    static const char *const of_7[] = {
        "a, the top one",    "b, the upper right", "c, the lower right",
        "d, the bottom one", "e, the lower left",  "f, the upper left",
        "g, the middle one", "the point",          NULL};
    static const char *const of_14[] = {"a", "b", "c", "d", "e", "f", "g1",        "g2",
                                        "h", "j", "k", "l", "m", "n", "the point", NULL};
    static const char *const of_16[] = {"a1", "a2", "b", "c", "d1", "d2", "e", "f",         "g1",
                                        "g2", "h",  "j", "k", "l",  "m",  "n", "the point", NULL};
    const struct dia_rig_device *device = dia_device_believed(run);
    const char *const *names = device->per_digit == 15   ? of_14
                               : device->per_digit == 17 ? of_16
                                                         : of_7;
    int segment =
        dia_run_ask(run, names, says, "Which segment of '%s' is dark on each digit?", device->name);
    if (segment < 0)
        return -1;
    uint32_t output = device->segment_output[segment];
    struct dia_cause *cause = dia_run_cause(run, "%s%.*s does not light on any digit",
                                            names[segment + 1] ? "segment " : "",
                                            (int)strcspn(names[segment], ","), names[segment]);
    dia_cause_evidence(cause, "it is dark on all of them, and all else is lit");
    if (output != DIA_RIG_NOWHERE)
        dia_cause_wiring(cause, "look at output Q%c of chip %u, its resistor and its wire",
                         (int)('A' + output % 8), (unsigned)(output / 8 + 1));
    else
        dia_cause_wiring(cause, "it hangs on no output");
    return 0;
}

/* Nothing lights: either nothing comes in, or the commons are of the other kind. */
static int nothing(struct run *run)
{
    struct dia_rig_device *device = dia_device_believed(run);
    uint32_t which;
    device->anode ^= 1;
    if (dia_run_renew(run) != 0)
        return -1;
    int seen = ask_all(run, &which);
    if (seen < 0)
        return -1;
    if (seen != WHOLE) {
        device->anode ^= 1;
        return dia_run_renew(run) != 0 ? -1 : dia_device_shows_nothing(run);
    }
    struct dia_cause *cause =
        dia_run_cause(run, "it has common %ss, not %ss", device->anode ? "anode" : "cathode",
                      device->anode ? "cathode" : "anode");
    dia_cause_evidence(cause, "what should be dark is lit, or the other way round");
    dia_cause_edit(cause, "devices", "", "common", device->anode ? "anode" : "cathode");
    return 0;
}

/* Two chips in each other's place, or anything else. */
static int otherwise(struct run *run)
{
    struct dia_rig_device *device = dia_device_believed(run), kept = *device;
    uint32_t which;
    int seen = OTHERWISE;
    uint32_t per = device->per_digit;
    if (device->count == 2) {
        for (uint32_t k = 0; k < per + device->commons; k++) {
            uint16_t *output =
                k < per ? &device->segment_output[k] : &device->common_output[k - per];
            *output = *output == DIA_RIG_NOWHERE ? DIA_RIG_NOWHERE : (uint16_t)(*output ^ 8u);
        }
        if (dia_run_renew(run) != 0 || (seen = ask_all(run, &which)) < 0)
            return -1;
    }
    if (seen == WHOLE) {
        struct dia_cause *cause = dia_run_cause(run, "its two chips are in each other's place");
        dia_cause_evidence(cause, "with 1 and 2 exchanged all segments light");
        dia_cause_edit(cause, "devices", "", "wiring", "%s",
                       dia_outputs_text(device->segment_output, device->per_digit));
        dia_cause_edit(cause, "devices", "", "common_outputs", "%s",
                       dia_outputs_text(device->common_output, device->commons));
        return 0;
    }
    *device = kept;
    struct dia_cause *cause =
        dia_run_cause(run, "segments or commons hang on other outputs than the rig says");
    dia_cause_evidence(cause, "some segments light and others do not, on several digits");
    dia_cause_wiring(cause,
                     "follow each wire from the chips, and write what you find into 'wiring' "
                     "and 'common_outputs'; a chip that does not follow RCLK looks like this "
                     "too");
    return dia_run_renew(run);
}

int dia_bringup_chain_digits(struct run *run)
{
    uint32_t which = 0, causes = run->report->count;
    int seen = ask_all(run, &which), code = 0;
    if (seen < 0)
        return -1;
    switch (seen) {
    case UNSTEADY:
        dia_device_is_disturbed(run);
        return 0;
    case ONE_DIGIT:
        return one_digit(run, which);
    case ONE_SEGMENT:
        return one_segment(run, which);
    case NOTHING:
        code = nothing(run);
        break;
    case OTHERWISE:
        code = otherwise(run);
        break;
    default:
        break;
    }
    if (code != 0 || run->report->count != causes)
        return code;
    memset(&run->lit, 0, sizeof run->lit);
    code = dia_bringup_digit_order(run);
    return code > 0 ? otherwise(run) : code;
}
