/* SPDX-License-Identifier: MIT */
#include <math.h>

#include <diachrome/number_double.h>

/* The product is near + below, both exact: near is on the right side of a half wherever the product
 * is, but where it is a half itself and the product is not. */
enum dia_status dia_number_of_double(double value, uint8_t decimals, int32_t *number)
{
    double scale = 1;
    if (decimals > 9 || !isfinite(value))
        return DIA_BAD_VALUE;
    for (uint8_t k = 0; k < decimals; k++)
        scale *= 10;
    double size = fabs(value), near = size * scale, below = fma(size, scale, -near);
    double whole = floor(near);
    if (near - whole > 0.5 || (near - whole == 0.5 && below >= 0))
        whole += 1;
    if (whole > (value < 0 ? 2147483648.0 : 2147483647.0))
        return DIA_BAD_VALUE;
    *number = (int32_t)(value < 0 ? -whole : whole);
    return DIA_OK;
}
