/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include <cjson/cJSON.h>

#include <diachrome/drawings.h>
#include <diachrome/quantity.h>

#include "cli.h"
#include "edit.h"
#include "json.h"

static char *out_path, *signs, *as_name, *rig_path, *new_size;
static int as_json, edits;

const struct poptOption cli_glyphs_options[] = {
    {"out", 'o', POPT_ARG_STRING, &out_path, 0,
     "file to write: .drawings, .c, .h, .bdf, .png, .apng, .gif, .ppm", "FILE"},
    {"signs", 's', POPT_ARG_STRING, &signs, 0, "keep the glyphs of these signs alone", "SIGNS"},
    {"as", 0, POPT_ARG_STRING, &as_name, 0, "show it as this lane or device of --rig", "NAME"},
    {"rig", 0, POPT_ARG_STRING, &rig_path, 0, "the rig for --as", "RIG"},
    {"edit", 'e', POPT_ARG_NONE, &edits, 0, "change it in the terminal", NULL},
    {"new", 0, POPT_ARG_STRING, &new_size, 0, "with --edit: a new drawing of that size, as 5x8",
     "SIZE"},
    {"json", 'j', POPT_ARG_NONE, &as_json, 0, "the same facts for programs", NULL},
    CLI_NODE,
    POPT_AUTOHELP POPT_TABLEEND};

/* ---- in the terminal ------------------------------------------------------------------------- */

#define WIDE 80

static const char *name_of(const struct dia_dots *item, char sign[8])
{
    return item->code ? dia_sign_text(item->code, sign) : item->name;
}

/* Characters of a text in UTF-8. */
static int letters(const char *text)
{
    int n = 0;
    for (; *text; text++)
        n += ((unsigned char)*text & 0xc0) != 0x80;
    return n;
}

static void pad(int n)
{
    printf("%*s", n > 0 ? n : 0, "");
}

static uint8_t cell_at(const struct dia_dots *item, uint32_t frame, uint32_t row, uint32_t column)
{
    if (row >= item->rows)
        return 0;
    return item->cells[(frame * item->rows + row) * item->columns + column];
}

/* Two rows of a drawing in one line of the terminal: a dot is as high as wide. */
static void print_halves(const struct dia_dots *item, uint32_t row)
{
    static const char *const halves[] = {" ", "\342\226\200", "\342\226\204", "\342\226\210"};
    for (uint32_t column = 0; column < item->columns; column++) {
        int above = cell_at(item, 0, row, column) != 0;
        fputs(halves[above + 2 * (cell_at(item, 0, row + 1, column) != 0)], stdout);
    }
}

static void print_row(const struct dia_dots *item, uint32_t row)
{
    for (uint32_t column = 0; column < item->columns; column++)
        putchar(row < item->rows ? cell_at(item, 0, row, column) ? '#' : '.' : ' ');
}

/* Drawings side by side, the name above each. */
static void print_beside(const struct dia_dots *const *items, int n, int in_utf8)
{
    char sign[8];
    uint32_t rows = 0;
    for (int k = 0; k < n; k++) {
        const char *name = name_of(items[k], sign);
        int wide = items[k]->columns > letters(name) ? items[k]->columns : letters(name);
        printf("%s%s", k ? "  " : "", name);
        if (k + 1 < n)
            pad(wide - letters(name));
        rows = items[k]->rows > rows ? items[k]->rows : rows;
    }
    for (uint32_t row = 0; row < rows; row += in_utf8 ? 2 : 1) {
        putchar('\n');
        for (int k = 0; k < n; k++) {
            const char *name = name_of(items[k], sign);
            fputs(k ? "  " : "", stdout);
            if (in_utf8)
                print_halves(items[k], row);
            else
                print_row(items[k], row);
            if (k + 1 < n)
                pad(letters(name) - items[k]->columns);
        }
    }
    puts("\n");
}

static void print_chart(const struct dia_drawings *drawings, int in_utf8)
{
    const struct dia_dots *beside[WIDE];
    char sign[8];
    int n = 0, used = 0;
    for (uint32_t k = 0; k < drawings->count; k++) {
        const struct dia_dots *item = &drawings->items[k];
        int name = letters(name_of(item, sign)), wide = item->columns > name ? item->columns : name;
        if (n == WIDE / 3 || (n && used + wide + 2 > WIDE)) {
            print_beside(beside, n, in_utf8);
            n = used = 0;
        }
        beside[n++] = item;
        used += wide + 2;
    }
    if (n)
        print_beside(beside, n, in_utf8);
}

static void begin_colour(struct dia_rgb c)
{
    printf("\033[38;2;%u;%u;%um", c.r, c.g, c.b);
}

/* A frame, each dot two characters wide. */
static void print_big(const struct dia_drawings *drawings, const struct dia_dots *item,
                      uint32_t frame, int in_utf8)
{
    int in_colour = cli_in_colour();
    for (uint32_t row = 0; row < item->rows; row++) {
        fputs("  ", stdout);
        for (uint32_t column = 0; column < item->columns; column++) {
            uint8_t cell = cell_at(item, frame, row, column);
            if (cell && in_colour)
                begin_colour(drawings->colours[cell - 1]);
            if (in_utf8)
                fputs(cell ? "\342\226\210\342\226\210" : "\302\267 ", stdout);
            else
                fputs(cell ? "##" : ". ", stdout);
            if (cell && in_colour)
                fputs("\033[0m", stdout);
        }
        putchar('\n');
    }
}

static void print_item(const struct dia_drawings *drawings, const struct dia_dots *item)
{
    char sign[8], each[40];
    printf("%s: %u x %u dots", name_of(item, sign), item->columns, item->rows);
    if (item->code)
        printf(", U+%04X", item->code);
    if (item->frames > 1)
        printf(", %u frames of %s", item->frames,
               dia_quantity_write(item->each_ms, DIA_TIME, each, sizeof each));
    putchar('\n');
    for (uint32_t frame = 0; frame < item->frames; frame++) {
        putchar('\n');
        print_big(drawings, item, frame, cli_in_utf8());
    }
    putchar('\n');
}

static void print_head(const struct dia_drawings *drawings)
{
    uint32_t glyphs = 0, columns = 0, runs = 0;
    for (uint32_t k = 0; k < drawings->count; k++) {
        const struct dia_dots *item = &drawings->items[k];
        glyphs += item->code != 0;
        columns += item->code ? item->columns : 0u;
        runs += item->code && (k == 0 || item[-1].code + 1 != item->code);
    }
    uint32_t drawn = drawings->count - glyphs;
    if (drawn)
        printf("%u drawing%s\n", drawn, drawn == 1 ? "" : "s");
    /* as drawings_c.c writes it: columns, where each begins, a row of 8 bytes for each run */
    if (glyphs)
        printf("face %s: %u dots high, %u glyph%s, %u bytes of flash\n", drawings->face,
               drawings->rows, glyphs, glyphs == 1 ? "" : "s",
               columns * ((drawings->rows + 7u) / 8u) + 2u * (glyphs + runs) + 8u * runs + 8u);
    putchar('\n');
}

/* ---- for programs ---------------------------------------------------------------------------- */

static cJSON *item_as_json(const struct dia_drawings *drawings, const struct dia_dots *item)
{
    cJSON *json = cJSON_CreateObject(), *frames = cJSON_CreateArray();
    char sign[8], row[DIA_DRAWING_SIDE * 3 + 1];
    cJSON_AddStringToObject(json, item->code ? "glyph" : "drawing", name_of(item, sign));
    if (item->code)
        cJSON_AddNumberToObject(json, "code_point", item->code);
    if (item->frames > 1)
        cJSON_AddNumberToObject(json, "each_ms", item->each_ms);
    cJSON_AddItemToObject(json, "frames", frames);
    for (uint32_t frame = 0; frame < item->frames; frame++) {
        cJSON *rows = cJSON_CreateArray();
        cJSON_AddItemToArray(frames, rows);
        for (uint32_t r = 0; r < item->rows; r++) {
            char *at = row;
            for (uint32_t column = 0; column < item->columns; column++) {
                uint8_t cell = cell_at(item, frame, r, column);
                const char *key =
                    cell ? dia_sign_text((uint16_t)drawings->keys[cell - 1], sign) : ".";
                at += snprintf(at, sizeof row - (size_t)(at - row), "%s", key);
            }
            cJSON_AddItemToArray(rows, cJSON_CreateString(row));
        }
    }
    return json;
}

static void print_json(const struct dia_drawings *drawings, const struct dia_dots *const *items,
                       uint32_t n)
{
    cJSON *json = cJSON_CreateObject(), *list = cJSON_CreateArray();
    if (drawings->face[0]) {
        cJSON *face = cJSON_AddObjectToObject(json, "face");
        cJSON_AddStringToObject(face, "name", drawings->face);
        cJSON_AddNumberToObject(face, "rows", drawings->rows);
        cJSON_AddNumberToObject(face, "baseline", drawings->baseline);
        cJSON_AddNumberToObject(face, "spacing", drawings->spacing);
        cJSON_AddNumberToObject(face, "leading", drawings->leading);
        cJSON_AddBoolToObject(face, "capitals", drawings->capitals);
    }
    cJSON_AddItemToObject(json, "drawings", list);
    for (uint32_t k = 0; k < n; k++)
        cJSON_AddItemToArray(list, item_as_json(drawings, items[k]));
    json_print(json);
}

/* ---- the command ----------------------------------------------------------------------------- */

/* Those that are named, or all. */
static enum dia_status choose(const struct dia_drawings *drawings, struct cli_options *options,
                              const struct dia_dots **items, uint32_t *n,
                              struct dia_diagnostic *wrong)
{
    const char *name;
    *n = 0;
    while ((name = cli_options_argument(options)) != NULL && *n < drawings->count) {
        items[*n] = dia_drawings_find(drawings, name, wrong);
        if (!items[(*n)++])
            return DIA_BAD_VALUE;
    }
    return DIA_OK;
}

static enum dia_status show_or_write(struct dia_drawings *drawings, struct cli_options *options,
                                     struct dia_diagnostic *wrong)
{
    const struct dia_dots **items = calloc(drawings->count + 1, sizeof(*items));
    uint32_t named;
    if (!items) {
        snprintf(wrong->text, sizeof wrong->text, "out of memory");
        return DIA_PORT_FAILED;
    }
    enum dia_status status = choose(drawings, options, items, &named, wrong);
    for (uint32_t k = 0; status == DIA_OK && named == 0 && k < drawings->count && as_json; k++)
        items[k] = &drawings->items[k];
    if (status == DIA_OK && out_path) {
        if (named)
            dia_drawings_keep(drawings, items, named);
        free(items);
        return dia_drawings_write(drawings, out_path, wrong);
    }
    if (status == DIA_OK && as_json) {
        print_json(drawings, items, named ? named : drawings->count);
    } else if (status == DIA_OK && named == 0) {
        print_head(drawings);
        print_chart(drawings, cli_in_utf8());
    }
    for (uint32_t k = 0; status == DIA_OK && !as_json && k < named; k++)
        print_item(drawings, items[k]);
    free(items);
    return status;
}

static int work(const char *path, struct cli_options *options)
{
    struct dia_drawings drawings;
    struct dia_diagnostic wrong = {""};
    enum dia_status status = dia_drawings_load(&drawings, path, &wrong);
    if (status == DIA_OK && signs)
        status = dia_drawings_only(&drawings, signs, &wrong);
    if (status == DIA_OK)
        status = show_or_write(&drawings, options, &wrong);
    if (status == DIA_OK && out_path)
        printf("%s: %u drawing%s\n", out_path, drawings.count, drawings.count == 1 ? "" : "s");
    dia_drawings_free(&drawings);
    return status == DIA_OK ? CLI_FINE : cli_fail_with(status, &wrong);
}

/* "5x8" */
static int read_size(struct dia_editor_size *size)
{
    unsigned columns, rows;
    int end = 0;
    if (sscanf(new_size, "%3ux%3u%n", &columns, &rows, &end) != 2 || new_size[end] ||
        !strchr("123456789", new_size[0]) || columns < 1 || rows < 1 ||
        columns > DIA_DRAWING_SIDE || rows > DIA_DRAWING_SIDE)
        return cli_fail(CLI_BAD_INPUT, "glyphs",
                        "--new %s: is no size; write columns and rows, such as 5x8 (at most %dx%d)",
                        new_size, DIA_DRAWING_SIDE, DIA_DRAWING_SIDE);
    size->columns = (uint8_t)columns;
    size->rows = (uint8_t)rows;
    return CLI_FINE;
}

static int edit(const char *path, struct cli_options *options, struct as *as)
{
    struct dia_editor_size size;
    if (out_path || signs || as_json)
        return cli_fail(CLI_BAD_INPUT, "glyphs",
                        "--edit changes the file itself; leave out --out, --signs and --json");
    if (new_size && read_size(&size) != CLI_FINE)
        return CLI_BAD_INPUT;
    const char *name = cli_options_argument(options), *more = cli_options_argument(options);
    if (more)
        return cli_fail(CLI_BAD_INPUT, "glyphs", "--edit begins with one drawing; '%s' is too many",
                        more);
    return edit_run(path, name, new_size ? &size : NULL, as);
}

/* Drawings on a lane or device, one below the other. */
static int show_as(const char *path, struct cli_options *options, struct as *as)
{
    struct dia_drawings drawings;
    struct dia_diagnostic wrong = {""};
    struct canvas canvas = {0};
    char sign[8];
    enum dia_status status = dia_drawings_load(&drawings, path, &wrong);
    int code = status == DIA_OK ? CLI_FINE : cli_fail_with(status, &wrong), any = 0;
    for (const char *name; code == CLI_FINE && (name = cli_options_argument(options)) != NULL;) {
        const struct dia_dots *item = dia_drawings_find(&drawings, name, &wrong);
        any = 1;
        if (!item || as_show(as, &drawings, item, 0, &wrong) != CLI_FINE) {
            code = cli_fail(CLI_BAD_INPUT, "glyphs", "%s", wrong.text);
            break;
        }
        as_measure(as, 76, cli_in_colour());
        printf("%s on %s\n", name_of(item, sign), as->tile.title);
        if (canvas_begin(&canvas, 80, as->tile.height, cli_in_colour()) == 0) {
            as_draw(as, &canvas, 0, 2);
            if (canvas_finish(&canvas, 0) == 0)
                fwrite(canvas.text, 1, canvas.length, stdout);
        }
    }
    if (code == CLI_FINE && !any)
        code = cli_fail(CLI_BAD_INPUT, "glyphs", "--as %s: say which drawing, such as '%s'",
                        as_name, name_of(&drawings.items[0], sign));
    canvas_free(&canvas);
    dia_drawings_free(&drawings);
    return code;
}

static int with_rig(const char *path, struct cli_options *options)
{
    static struct as as;
    if (!as_name != !rig_path)
        return cli_fail(CLI_BAD_INPUT, "glyphs",
                        "--as and --rig belong together: --rig quay.rig.yaml --as board");
    if (new_size && !edits)
        return cli_fail(CLI_BAD_INPUT, "glyphs", "--new is for --edit");
    int code = as_name ? as_open(&as, "glyphs", rig_path, as_name) : CLI_FINE;
    if (code == CLI_FINE && edits)
        code = edit(path, options, as_name ? &as : NULL);
    else if (code == CLI_FINE && as_name && (out_path || signs || as_json))
        code = cli_fail(CLI_BAD_INPUT, "glyphs",
                        "--as shows a drawing; leave out --out, --signs and --json");
    else if (code == CLI_FINE)
        code = as_name ? show_as(path, options, &as) : work(path, options);
    if (as_name)
        as_free(&as);
    return code;
}

int cli_glyphs(const struct cli_command *self, int argc, const char **argv)
{
    struct cli_options options;
    int code = CLI_BAD_INPUT;
    if (cli_options_read(&options, self, argc, argv, NULL, NULL) == 0) {
        const char *path = cli_options_argument(&options);
        code = path ? with_rig(path, &options)
                    : cli_fail(CLI_BAD_INPUT, self->name,
                               "no file of drawings; write 'diachrome glyphs FILE', such as "
                               "fonts/small.drawings");
    }
    cli_options_free(&options);
    return cli_finish(code);
}
