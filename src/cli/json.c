/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>

#include "cli.h"
#include "json.h"

void json_print(cJSON *root)
{
    char *text = cJSON_Print(root);
    cJSON_Delete(root);
    if (!text) {
        fputs("diachrome: out of memory\n", stderr);
        exit(CLI_MACHINE);
    }
    puts(text);
    cJSON_free(text);
}
