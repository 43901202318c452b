/* SPDX-License-Identifier: MIT */
#include <diachrome/develop.h>

/* Where curves lie in flash and RAM is dear there is no table of whole steps. */
enum dia_status dia_develop_whole(struct dia_develop *develop, uint16_t table[256])
{
    (void)develop;
    (void)table;
    return DIA_UNSUPPORTED;
}

void dia_develop_run_whole(struct dia_develop *develop, const struct dia_rgb *pixels, uint16_t n,
                           uint8_t *out)
{
    struct dia_carry carry;
    dia_carry_begin(&carry, develop);
    dia_develop_run(develop, &carry, pixels, n, out);
}
