/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <inttypes.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#include <diachrome/bringup.h>

#include "canvas.h"
#include "cli.h"
#include "guard.h"
#include "json.h"
#include "tile.h"

static char *only, *answers_path;
static int self_test, write_file, as_json, real_parts;
static const char *faults[DIA_RIG_FAULTS];
static int fault_count;
static const char *name;

const struct poptOption cli_bringup_options[] = {
    {"only", 0, POPT_ARG_STRING, &only, 0, "bring up one lane, device or supply", "NAME"},
    {"answers", 0, POPT_ARG_STRING, &answers_path, 0, "read the answers from a file", "FILE"},
    {"self-test", 0, POPT_ARG_NONE, &self_test, 0, "let the bench answer by what its models show",
     NULL},
    {"fault", 'F', POPT_ARG_STRING, NULL, 'F', "put a fault on the simulated desk; may be repeated",
     "\"TARGET: WHAT\""},
    {"write", 0, POPT_ARG_NONE, &write_file, 0, "write what was found into the rig file", NULL},
    {"real", 'A', POPT_ARG_NONE, &real_parts, 0, "light real parts, on the pins of this computer",
     NULL},
    {"json", 'j', POPT_ARG_NONE, &as_json, 0, "the findings for programs", NULL},
    CLI_NODE,
    POPT_AUTOHELP POPT_TABLEEND};

static int take_fault(void *self, int val, const char *arg)
{
    (void)self;
    (void)val;
    if (fault_count == DIA_RIG_FAULTS)
        return cli_fail(CLI_BAD_INPUT, name, "more than %d times --fault", DIA_RIG_FAULTS);
    faults[fault_count++] = strdup(arg);
    return CLI_FINE;
}

/* ---- asking ---------------------------------------------------------------------------------- */

/* The thing asked about, as the bench shows it: what stands on the desk of someone without one. */
static void show(const struct dia_question *q)
{
    struct canvas canvas = {0};
    struct tile tile;
    const struct dia_rig *desk = dia_player_desk(q->player);
    if (q->lane >= 0)
        tile_of_lane(&tile, desk, q->player, (uint32_t)q->lane, 76, cli_in_colour());
    else
        tile_of_device(&tile, desk, q->player, (uint32_t)q->device, 76, cli_in_colour());
    if (canvas_begin(&canvas, 80, tile.height, cli_in_colour()) != 0)
        return;
    tile_draw(&tile, &canvas, 0, 2);
    if (canvas_finish(&canvas, 0) == 0)
        fwrite(canvas.text, 1, canvas.length, stdout);
    canvas_free(&canvas);
}

static void print_question(const struct dia_question *q)
{
    printf("\n%s\n", q->text);
    if (!real_parts)
        show(q);
    for (uint32_t i = 0; i < q->count; i++)
        printf("  %" PRIu32 "  %s\n", i + 1, q->answers[i]);
}

static int equal(const char *a, const char *b)
{
    while (*a && tolower((unsigned char)*a) == tolower((unsigned char)*b)) {
        a++;
        b++;
    }
    return *a == 0 && *b == 0;
}

/* A number from 1, the whole answer, or as much of its beginning as tells it from the others. -1:
 * none of them, -2: several. */
static int read_answer(const struct dia_question *q, char *line)
{
    int found = -1;
    char *end;
    line[strcspn(line, "\r\n")] = 0;
    size_t n = strlen(line);
    unsigned long number = strtoul(line, &end, 10);
    if (n && *end == 0)
        return number >= 1 && number <= q->count ? (int)number - 1 : -1;
    for (uint32_t i = 0; i < q->count && n; i++) {
        char start[120];
        if (equal(line, q->answers[i]))
            return (int)i;
        snprintf(start, sizeof start, "%.*s", (int)n, q->answers[i]);
        if (equal(line, start))
            found = found == -1 ? (int)i : -2;
    }
    return found;
}

struct source {
    FILE *file;
    int terminal; /* a person: may try again */
    int line;
    int wrong; /* an answer in a file that is none */
};

static int ask_person(void *self, const struct dia_question *q)
{
    struct source *source = self;
    char line[256];
    if (!as_json)
        print_question(q);
    for (;;) {
        if (!as_json)
            printf("> ");
        fflush(stdout);
        do {
            source->line++;
            if (!fgets(line, sizeof line, source->file))
                return -1;
        } while (line[0] == '#');
        int answer = read_answer(q, line);
        if (!source->terminal && !as_json)
            printf("%s\n", line);
        if (answer >= 0)
            return answer;
        if (!source->terminal) {
            source->wrong = 1;
            cli_fail(CLI_BAD_INPUT, name,
                     "line %d of the answers: '%.60s' is no answer to '%s'; it takes 1 to %" PRIu32
                     " or the words",
                     source->line, line, q->text, q->count);
            return -1;
        }
        if (line[0] == 'q' && line[1] == 0)
            return -1;
        printf("  a number from 1 to %" PRIu32 ", or the first letters; q leaves\n", q->count);
    }
}

static int ask_bench(void *self, const struct dia_question *q)
{
    (void)self;
    if (!as_json)
        printf("%s\n    %s\n", q->text, q->answers[q->bench_says]);
    return (int)q->bench_says;
}

/* ---- telling -----------------------------------------------------------------------------------
 */

/* Words in lines of at most 78, below each other behind what they are about. */
static void print_wrapped(const char *about, const char *text)
{
    int column = printf("  %-9s", about);
    while (*text) {
        int n = (int)strcspn(text, " ");
        if (column + 1 + n > 78)
            column = printf("\n%11s", "") - 1;
        column += printf(" %.*s", n, text);
        text += n + (text[n] == ' ');
    }
    putchar('\n');
}

static void print_cause(const struct dia_cause *cause)
{
    printf("\n%s: %s\n", cause->place, cause->what);
    if (cause->evidence[0])
        print_wrapped("because", cause->evidence);
    if (cause->wiring[0])
        print_wrapped("to do", cause->wiring);
    for (uint32_t i = 0; i < cause->edit_count; i++) {
        const struct dia_rig_edit *edit = &cause->edits[i];
        char text[300];
        snprintf(text, sizeof text, "%s.%s.%s%s%s: %s", edit->section, edit->name, edit->inside,
                 edit->inside[0] ? "." : "", edit->key, edit->value);
        print_wrapped(i == 0 ? "rig file" : "", text);
    }
    printf("  %-10s%" PRIu32 " question%s\n", "after", cause->questions,
           cause->questions == 1 ? "" : "s");
}

static void print_json(const struct dia_bringup *bringup)
{
    cJSON *root = cJSON_CreateObject();
    cJSON_AddNumberToObject(root, "questions", bringup->questions);
    cJSON *list = cJSON_AddArrayToObject(root, "causes");
    for (uint32_t i = 0; i < bringup->count; i++) {
        const struct dia_cause *cause = &bringup->causes[i];
        cJSON *json = cJSON_CreateObject();
        cJSON_AddItemToArray(list, json);
        cJSON_AddStringToObject(json, "place", cause->place);
        cJSON_AddStringToObject(json, "cause", cause->what);
        cJSON_AddStringToObject(json, "evidence", cause->evidence);
        cJSON_AddStringToObject(json, "wiring", cause->wiring);
        cJSON_AddNumberToObject(json, "questions", cause->questions);
        cJSON *edits = cJSON_AddArrayToObject(json, "edits");
        for (uint32_t k = 0; k < cause->edit_count; k++) {
            const struct dia_rig_edit *edit = &cause->edits[k];
            cJSON *one = cJSON_CreateObject();
            cJSON_AddItemToArray(edits, one);
            cJSON_AddStringToObject(one, "section", edit->section);
            cJSON_AddStringToObject(one, "name", edit->name);
            cJSON_AddStringToObject(one, "inside", edit->inside);
            cJSON_AddStringToObject(one, "key", edit->key);
            cJSON_AddStringToObject(one, "value", edit->value);
        }
    }
    json_print(root);
}

static int write_edits(const struct dia_bringup *bringup, const char *path)
{
    struct dia_diagnostic wrong = {""};
    uint32_t changes = 0;
    for (uint32_t i = 0; i < bringup->count; i++) {
        const struct dia_cause *cause = &bringup->causes[i];
        changes += cause->edit_count;
        enum dia_status status = cause->edit_count
                                     ? dia_rig_edit(path, cause->edits, cause->edit_count, &wrong)
                                     : DIA_OK;
        if (status != DIA_OK)
            return cli_fail(status == DIA_PORT_FAILED ? CLI_MACHINE : CLI_BAD_INPUT, name, "%s",
                            wrong.text);
    }
    if (!as_json)
        printf("%s: %" PRIu32 " change%s written\n", path, changes, changes == 1 ? "" : "s");
    return CLI_FINE;
}

static int tell(const struct dia_bringup *bringup, const char *path)
{
    if (as_json)
        print_json(bringup);
    for (uint32_t i = 0; i < bringup->count && !as_json; i++)
        print_cause(&bringup->causes[i]);
    if (!as_json)
        printf("\n%s after %" PRIu32 " question%s\n",
               bringup->count     ? "found"
               : bringup->stopped ? "left"
                                  : "all is as the rig says",
               bringup->questions, bringup->questions == 1 ? "" : "s");
    int code = bringup->count && write_file ? write_edits(bringup, path) : CLI_FINE, left = 0;
    for (uint32_t i = 0; i < bringup->count; i++)
        left |= !write_file || bringup->causes[i].wiring[0];
    if (code != CLI_FINE)
        return code;
    return left ? CLI_LIMIT : bringup->stopped ? CLI_BAD_INPUT : CLI_FINE;
}

/* What a part refused says more than that nothing was seen. */
static int tell_trouble(const struct dia_bringup *bringup, int code)
{
    if (bringup->trouble[0] == 0)
        return code;
    cli_fail(CLI_MACHINE, name, "%s", bringup->trouble);
    return code == CLI_FINE ? CLI_MACHINE : code;
}

static int run(const struct dia_rig *rig, const char *path)
{
    static struct dia_desk desk;
    static struct dia_bringup bringup;
    struct dia_diagnostic wrong = {""};
    struct source source = {stdin, isatty(0) && isatty(1), 0, 0};
    dia_desk_init(&desk, rig);
    for (uint32_t i = 0; i < rig->fault_count; i++)
        dia_desk_fault(&desk, rig->faults[i], &wrong);
    if (answers_path) {
        source.terminal = 0;
        source.file = fopen(answers_path, "r");
        if (!source.file)
            return cli_fail(CLI_BAD_INPUT, name, "%s: cannot be read", answers_path);
    }
    enum dia_status status = dia_bringup_run(&bringup, rig, &desk, real_parts, only,
                                             self_test ? ask_bench : ask_person, &source, &wrong);
    if (answers_path)
        fclose(source.file);
    if (status == DIA_BAD_VALUE)
        return cli_fail(CLI_BAD_INPUT, name, "%s", wrong.text);
    if (status != DIA_OK)
        return cli_fail_with(status, &wrong);
    if (source.wrong)
        return CLI_BAD_INPUT;
    return cli_finish(tell_trouble(&bringup, tell(&bringup, path)));
}

struct work {
    const struct dia_rig *rig;
    const char *path;
};

static int work(void *self)
{
    const struct work *work = self;
    return run(work->rig, work->path);
}

int cli_bringup(const struct cli_command *self, int argc, const char **argv)
{
    static struct dia_rig rig;
    struct cli_options options;
    char path[4096] = "";
    int code = CLI_BAD_INPUT;
    name = self->name;
    if (cli_options_read(&options, self, argc, argv, take_fault, NULL) == 0) {
        const char *given = poptPeekArg(options.context);
        snprintf(path, sizeof path, "%s", given ? given : "");
        code = cli_load_rig(&options, &rig);
    }
    cli_options_free(&options);
    if (code == CLI_FINE)
        code = cli_add_faults(name, &rig, faults, fault_count);
    if (code == CLI_FINE && self_test && answers_path)
        code = cli_fail(CLI_BAD_INPUT, name, "--self-test and --answers both answer; keep one");
    if (code == CLI_FINE && self_test && real_parts)
        code =
            cli_fail(CLI_BAD_INPUT, name,
                     "--self-test asks the bench, and --real lights parts that you look at; keep "
                     "one");
    struct work what = {&rig, path};
    if (code == CLI_FINE)
        code = real_parts ? guard_run(&rig, name, work, &what) : run(&rig, path);
    return code;
}
