/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <cjson/cJSON.h>

#include <diachrome/picture.h>

#include "cli.h"
#include "json.h"

static int as_json;

const struct poptOption cli_looks_options[] = {
    {"json", 'j', POPT_ARG_NONE, &as_json, 0, "the same facts for programs", NULL},
    POPT_AUTOHELP POPT_TABLEEND};

static void print_look(const struct dia_look *look, int in_colour)
{
    union dia_look_values values;
    look->defaults(&values);
    printf("%s%s%s: %s\n", in_colour ? "\033[1m" : "", look->name, in_colour ? "\033[0m" : "",
           look->help);
    for (int i = 0; i < look->param_count; i++) {
        const struct dia_param *param = &look->params[i];
        char range[80], value[120];
        dia_param_range_text(param, range, sizeof range);
        dia_param_value_text(param, &values, value, sizeof value);
        printf("  %-12s%s\n", param->key, param->help);
        printf("  %-12s%s; default %s\n", "", range, value);
    }
}

static cJSON *look_as_json(const struct dia_look *look)
{
    union dia_look_values values;
    look->defaults(&values);
    cJSON *json = cJSON_CreateObject();
    cJSON_AddStringToObject(json, "name", look->name);
    cJSON_AddStringToObject(json, "help", look->help);
    cJSON *list = cJSON_AddArrayToObject(json, "parameters");
    for (int i = 0; i < look->param_count; i++) {
        const struct dia_param *param = &look->params[i];
        char text[120];
        cJSON *item = cJSON_CreateObject();
        cJSON_AddItemToArray(list, item);
        cJSON_AddStringToObject(item, "key", param->key);
        cJSON_AddStringToObject(item, "help", param->help);
        cJSON_AddStringToObject(item, "unit", dia_param_unit(param));
        cJSON_AddStringToObject(item, "range", dia_param_range_text(param, text, sizeof text));
        cJSON_AddStringToObject(item, "default",
                                dia_param_value_text(param, &values, text, sizeof text));
    }
    return json;
}

static int show(const char *name)
{
    struct dia_diagnostic wrong = {""};
    const struct dia_look *only = name ? dia_look_named(name, &wrong) : NULL;
    if (name && !only)
        return cli_fail(CLI_BAD_INPUT, "looks", "%s", wrong.text);
    cJSON *list = as_json ? cJSON_CreateArray() : NULL;
    size_t known = 0;
    while (dia_looks[known])
        known++;
    for (size_t k = 0; k < known || dia_desk_looks[k - known]; k++) {
        const struct dia_look *look = k < known ? dia_looks[k] : dia_desk_looks[k - known];
        if (only && look != only)
            continue;
        if (as_json)
            cJSON_AddItemToArray(list, look_as_json(look));
        else if (only)
            print_look(look, cli_in_colour());
        else
            printf("%-12s%s\n", look->name, look->help);
    }
    if (!as_json && !only)
        puts("\nParameters: diachrome looks NAME");
    if (as_json)
        json_print(list);
    return CLI_FINE;
}

int cli_looks(const struct cli_command *self, int argc, const char **argv)
{
    struct cli_options options;
    int code = CLI_BAD_INPUT;
    if (cli_options_read(&options, self, argc, argv, NULL, NULL) == 0) {
        const char *look = cli_options_argument(&options), *more = cli_options_argument(&options);
        code = more ? cli_fail(CLI_BAD_INPUT, "looks", "one look at a time; '%s' is too many", more)
                    : show(look);
    }
    cli_options_free(&options);
    return cli_finish(code);
}
