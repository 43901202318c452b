/* SPDX-License-Identifier: MIT */
#include "fuzz.h"

#include <diachrome/points_file.h>

int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    struct dia_diagnostic wrong = {""};
    struct dia_point points[4];
    said(dia_points_read(file_of(data, size), points, 4, &wrong), &wrong);
    return 0;
}
