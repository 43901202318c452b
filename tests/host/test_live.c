/* SPDX-License-Identifier: MIT */
#include "../run.h"

#include <diachrome/live.h>
#include <diachrome/scene.h>

static struct dia_rig rig;
static struct dia_diagnostic wrong;

static const char pier[] = "# a small show\n"
                           "value wind input decimals=1\n"
                           "value aboard keys up=operator.3 down=operator.4 min=0 max=180\n"
                           "layer sea: water on waves level 80% # calm\n"
                           "layer run: pulse colour=gold speed=1m/s\n"
                           "  on handrail blend add # along the pier\n"
                           "\n"
                           "layer steady colour=navy on lantern\n"
                           "key operator.1 short: toggle run\n"
                           "key operator.2 down: raise run.speed by 10cm/s\n";

static int load_rig(void **state)
{
    (void)state;
    return dia_rig_load(&rig, "demo/quay.rig.yaml", &wrong) == DIA_OK ? 0 : -1;
}

static struct dia_live *begin(const char *text)
{
    struct dia_live *live = dia_live_new(&rig, text, "pier.show", NULL, &wrong);
    if (!live)
        fail_msg("%s", wrong.text);
    return live;
}

static void make(struct dia_live *live, const char *line, uint64_t ms)
{
    if (dia_live_change(live, line, ms, DIA_LIVE_OTHERS, &wrong) != DIA_OK)
        fail_msg("%s: %s", line, wrong.text);
}

/* The text has one line more or less, or another in its place; all else is as it was. */
static void changes_change_their_line_alone(void **state)
{
    (void)state;
    static const struct {
        const char *change, *before, *after; /* what of the text becomes what */
    } cases[] = {
        {"set run.colour=#102030",
         "layer run: pulse colour=gold speed=1m/s\n  on handrail blend "
         "add # along the pier\n",
         "layer run: pulse colour=#102030 speed=1m/s on handrail blend add\n"},
        {"set #1.seed=7", "layer sea: water on waves level 80% # calm\n",
         "layer sea: water seed=7 on waves level 80%\n"},
        {"clause sea level 25%", "layer sea: water on waves level 80% # calm\n",
         "layer sea: water on waves level 25%\n"},
        {"clause sea level none", "layer sea: water on waves level 80% # calm\n",
         "layer sea: water on waves\n"},
        {"clause sea mask sine(length=1m low=20%)", "layer sea: water on waves level 80% # calm\n",
         "layer sea: water on waves level 80% mask sine(length=1m low=20%)\n"},
        {"look sea flame", "layer sea: water on waves level 80% # calm\n",
         "layer sea: flame on waves level 80%\n"},
        {"layer run: pulse on buoys",
         "layer run: pulse colour=gold speed=1m/s\n  on handrail "
         "blend add # along the pier\n",
         "layer run: pulse on buoys\n"},
        {"drop #3", "layer steady colour=navy on lantern\n", ""},
        {"move #3 1",
         "layer sea: water on waves level 80% # calm\nlayer run: pulse colour=gold "
         "speed=1m/s\n  on handrail blend add # along the pier\n\nlayer steady "
         "colour=navy on lantern\n",
         "layer steady colour=navy on lantern\nlayer sea: water on waves level 80% # calm\nlayer "
         "run: pulse colour=gold speed=1m/s\n  on handrail blend add # along the pier\n\n"},
        {"paint lantern gold", "raise run.speed by 10cm/s\n",
         "raise run.speed by 10cm/s\nlayer paint-lantern: steady colour=gold on lantern\n"},
    };
    for (size_t k = 0; k < sizeof cases / sizeof cases[0]; k++) {
        struct dia_live *live = begin(pier);
        char expected[2000];
        const char *at = strstr(pier, cases[k].before);
        assert_non_null(at);
        snprintf(expected, sizeof expected, "%.*s%s%s", (int)(at - pier), pier, cases[k].after,
                 at + strlen(cases[k].before));
        make(live, cases[k].change, 0);
        assert_string_equal(dia_live_text(live), expected);
        make(live, "undo", 0);
        assert_string_equal(dia_live_text(live), pier);
        make(live, "redo", 0);
        assert_string_equal(dia_live_text(live), expected);
        dia_live_free(live);
    }
}

/* A wrong change says what would be right, and leaves all as it was. */
/* As other editors write: tabs, two signs at the end of a line, none at the end of all, a line of
 * blanks, and a # in quotes. */
static void changes_find_their_line_however_it_is_written(void **state)
{
    (void)state;
    struct dia_live *live = begin("layer\tsea: water\r\n\ton waves # calm\r\n \t\r\n"
                                  "layer t: text says=\"# \\\"x\" on tide # note#1\r\n"
                                  "#layer\r\n\r\nlayer run: pulse\ton handrail");
    static const struct {
        const char *change, *line;
    } cases[] = {
        {"clause sea level 25%", "layer\tsea: water on waves level 25%\n"},
        {"clause t level 50%", "\nlayer t: text says=\"# \\\"x\" on tide level 50%\n"},
        {"clause run level 75%", "\r\nlayer run: pulse\ton handrail level 75%\n"},
        {"move run 1", "layer run: pulse\ton handrail level 75%\nlayer\tsea: water"},
    };
    for (size_t k = 0; k < sizeof cases / sizeof cases[0]; k++) {
        make(live, cases[k].change, 1000 * (k + 1));
        if (!strstr(dia_live_text(live), cases[k].line))
            fail_msg("%s: %s", cases[k].change, dia_live_text(live));
    }
    dia_live_free(live);
}

static void wrong_changes_change_nothing(void **state)
{
    (void)state;
    static const struct {
        const char *change, *says;
    } cases[] = {
        {"set sea.grain=3cm", "look 'water' has no 'grain'"},
        {"set see.seed=1", "there is no layer 'see'; did you mean 'sea'?"},
        {"set #4.colour=red", "there is no layer '#4'; there are #1 to #3"},
        {"set sea.seed", "'sea.seed' is no LAYER.KEY=VALUE"},
        {"set run.colour=reddish", "reddish"},
        {"set run.colour=red blend", "'blend' has no meaning here"},
        {"clause sea colour red", "a clause: there is no 'colour'"},
        {"clause sea level", "a clause is a word and a value"},
        {"clause sea level 120%", "'level'"},
        {"look sea wave", "did you mean 'waves'?"},
        {"layer run", "unknown look 'run'"},
        {"drop", "which layer?"},
        {"drop run", "no layer before this is called 'run'"}, /* its keys need it */
        {"move sea 4", "'move'"},
        {"paint pier red", "pier"},
        {"paint waves none", "nothing is painted on 'waves'"},
        {"press operator.9", "operator"},
        {"press", "which key?"},
        {"press operator.1 for", "write 'for' and a time"},
        {"press operator.1 of 2s", "write 'for' and a time"},
        {"press operator.1 for 2s now", "now"},
        {"slots", "slots of which universe?"},
        {"slots 64000 00", "'slots'"},
        {"slots 1 fF0", "two digits of 0-9 and a-f"},
        {"slots 1 0g", "two digits of 0-9 and a-f"},
        {"slots 1 @0", "two digits of 0-9 and a-f"},
        {"slots 1 :0", "two digits of 0-9 and a-f"},
        {"slots 1 G0", "two digits of 0-9 and a-f"},
        {"slots 1 ff 00", "two digits of 0-9 and a-f"},
        {"release operator.1", "the key 'operator.1' is not held"},
        {"value depth 3", "there is no value 'depth'"},
        {"value", "which value?"},
        {"master 130%", "'master'"},
        {"pace fast", "'pace'"},
        {"seek -3s", "'seek'"},
        {"undo", "there is nothing to undo"},
        {"redo", "there is nothing to redo"},
        {"show layer", "is in quotes"},
        {"show \"layer a: stedy\\n\"", "pier.show:1: unknown look 'stedy'; did you mean 'steady'?"},
        {"paus", "there is no change 'paus'; did you mean 'pause'?"},
        {"", "a change is a line"},
        {"set run.colour=red\nmaster 100%", "one line without control characters; found byte 10"},
    };
    struct dia_live *live = begin(pier);
    for (size_t k = 0; k < sizeof cases / sizeof cases[0]; k++) {
        struct dia_diagnostic said = {""};
        assert_int_equal(dia_live_change(live, cases[k].change, 100, DIA_LIVE_OTHERS, &said),
                         DIA_BAD_VALUE);
        if (!strstr(said.text, cases[k].says))
            fail_msg("%s: said %s", cases[k].change, said.text);
        assert_string_equal(dia_live_text(live), pier);
        assert_int_equal(dia_live_version(live), 0);
    }
    dia_live_free(live);
}

/* A picture that rests costs nothing; what comes from a lighting network may change at any time. */
static void what_moves_does_not_rest(void **state)
{
    (void)state;
    static const struct {
        const char *show;
        int rests;
    } cases[] = {
        {"layer a: steady colour=red\n", 1},
        {"layer a: drift\n", 0},
        {"layer a: steady colour=red from 2s\n", 0},
        {"layer a: steady colour=red for 2s\n", 0},
        {"layer a: steady colour=red fade-in 2s\n", 0},
        {"layer a: steady colour=red\nkey operator.1 down: toggle a\n", 0},
    };
    for (size_t k = 0; k < sizeof cases / sizeof cases[0]; k++) {
        struct dia_live *live = begin(cases[k].show);
        assert_int_equal(dia_live_rests(live), cases[k].rests);
        make(live, "pause", 0);
        assert_int_equal(dia_live_rests(live), 1);
        make(live, "slots 1 fFaA09", 0);
        assert_int_equal(dia_live_rests(live), 0);
        dia_live_free(live);
    }
}

/* Files that came over the network: names that a show can hold, each once. */
static void a_file_that_came_may_be_named(void **state)
{
    (void)state;
    static const char *const never[] = {"a b", "a#b", "a\"b", "a\\b", "a\tb", "a\nb"};
    struct dia_live *live = begin(pier);
    char name[600];
    for (int k = 0; k < 2; k++)
        assert_int_equal(dia_live_may_name(live, "gulls.drawings"), DIA_OK);
    const char *first = strstr(dia_live_known(live), "gulls.drawings");
    assert_non_null(first);
    assert_null(strstr(first + 1, "gulls.drawings"));
    for (size_t k = 0; k < sizeof never / sizeof never[0]; k++)
        assert_int_equal(dia_live_may_name(live, never[k]), DIA_BAD_VALUE);
    memset(name, 'n', sizeof name - 1);
    name[sizeof name - 1] = 0;
    assert_int_equal(dia_live_may_name(live, name), DIA_BAD_VALUE);
    dia_live_free(live);
}

/* From the network no file can be named but those of the show; its owner may. */
static void others_bring_in_no_files(void **state)
{
    (void)state;
    static const char *const texts[] = {
        "drawings demo/signs.drawings\nlayer steady\n",
        "layer steady\nvalue t csv file=demo/tides.csv\n",
        "# \"\nlayer steady\nvalue t csv\n  file=demo/tides.csv # \" \n",
        "layer picture file=demo/crossing.ppm\n",
        "layer draw sprite demo/crossing.ppm on waves\n",
        "layer drift colours=@rigs/none.palette\n",
        "layer drift colours=\"@rigs/none.palette\"\n",
        "value w input file=/dev/zero\nlayer steady\n",
        "layer a: drift\nkey 1 down: set a.colours=@/etc/passwd\n",
    };
    struct dia_live *live = begin(pier);
    for (size_t k = 0; k < sizeof texts / sizeof texts[0]; k++) {
        char line[400], *at = line;
        at += sprintf(at, "show \"");
        for (const char *from = texts[k]; *from; from++) {
            if (*from == '\n' || *from == '"')
                *at++ = '\\';
            *at++ = *from == '\n' ? 'n' : *from;
        }
        strcpy(at, "\"");
        assert_int_equal(dia_live_change(live, line, 0, DIA_LIVE_OTHERS, &wrong), DIA_BAD_VALUE);
        assert_non_null(strstr(wrong.text, "names a file that the show does not name"));
    }
    make(live, "layer film: drift", 0);
    assert_int_equal(
        dia_live_change(live, "set film.colours=@/etc/passwd", 0, DIA_LIVE_OTHERS, &wrong),
        DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "names a file"));
    /* what the owner brought in others may keep, move and change */
    assert_int_equal(dia_live_change(live,
                                     "show \"drawings demo/signs.drawings\\n"
                                     "layer g: draw sprite gull on waves\\n\"",
                                     0, DIA_LIVE_OWNER, &wrong),
                     DIA_OK);
    make(live, "show \"layer b: steady\\ndrawings demo/signs.drawings\\n\"", 0);
    dia_live_free(live);
}

static void paths_of_time(void **state)
{
    (void)state;
    struct dia_live *live = begin(pier);
    assert_int_equal(dia_live_show_ms(live, 5000), 5000);
    make(live, "pause", 5000);
    assert_int_equal(dia_live_show_ms(live, 9000), 5000);
    make(live, "resume", 9000);
    make(live, "pace 200%", 10000); /* at 6 s of the show */
    assert_int_equal(dia_live_show_ms(live, 12000), 10000);
    make(live, "seek 90s", 12000);
    assert_int_equal(dia_live_show_ms(live, 12500), 91000);
    make(live, "pace 0%", 13000);
    assert_int_equal(dia_live_show_ms(live, UINT64_C(1) << 40), 92000);
    dia_live_free(live);
}

/* ---- the same changes, the same frames ------------------------------------------------------- */

static const char *const such[] = {"paint handrail #ff0000",
                                   "paint handrail #00ff40",
                                   "paint handrail none",
                                   "paint all gold",
                                   "paint all none",
                                   "set sea.seed=5",
                                   "set run.speed=2m/s",
                                   "undo",
                                   "redo",
                                   "press operator.1",
                                   "hold operator.2",
                                   "release operator.2",
                                   "press operator.3 for 1s",
                                   "press operator.4",
                                   "value wind 12.5",
                                   "value wind 3",
                                   "master 30%",
                                   "master 90%",
                                   "pause",
                                   "resume",
                                   "pace 50%",
                                   "pace 100%",
                                   "seek 3s",
                                   "seek 20s",
                                   "look sea flame",
                                   "look sea water",
                                   "move sea 2",
                                   "move sea 1",
                                   "clause run blend lighten",
                                   "clause run level 40%",
                                   "layer x: chase on buoys",
                                   "layer t: text says=\"{aboard} {wind}\" on tide",
                                   "drop x"};

static uint8_t *frame_of(struct dia_live *live, struct dia_player *player,
                         const struct dia_scene *scene, uint32_t k)
{
    uint8_t *bytes = calloc(scene->bytes, 1);
    dia_player_rest_until(player, k * UINT64_C(20000000));
    assert_int_equal(dia_live_play(live, player, k * UINT64_C(20000), k, NULL), DIA_OK);
    dia_scene_see(scene, player, bytes);
    return bytes;
}

static const char *what_differs(const struct dia_scene *scene, const uint8_t *a, const uint8_t *b)
{
    uint32_t at = 0, t = 0;
    while (a[at] == b[at])
        at++;
    while (t + 1 < scene->thing_count && scene->things[t + 1].at <= at)
        t++;
    return scene->things[t].name;
}

#define FRAMES 240
static void recorded_changes_give_the_same_frames(void **state)
{
    (void)state;
    static uint8_t *first[FRAMES];
    struct dia_scene *scene = dia_scene_new(&rig);
    struct dia_player *player = dia_player_new(&rig, &wrong);
    struct dia_live *live = begin(pier);
    FILE *record = fopen("run.changes", "w");
    uint32_t random = 7, made = 0;
    fputs("# a run\n\n", record);
    for (uint32_t k = 0; k < FRAMES; k++) {
        for (uint32_t n = random_below(&random, 3); n > 0; n--) {
            const char *line = such[random_below(&random, sizeof such / sizeof such[0])];
            if (dia_live_change(live, line, k * 20, DIA_LIVE_OTHERS, &wrong) != DIA_OK)
                continue; /* nothing to undo, say */
            fprintf(record, "%u.%03us %s\n", k * 20 / 1000, k * 20 % 1000, line);
            made++;
        }
        first[k] = frame_of(live, player, scene, k);
    }
    assert_true(made > FRAMES / 2);
    fclose(record);
    dia_live_free(live);
    dia_player_free(player);

    /* once more from the file */
    struct dia_changes changes;
    uint32_t next = 0;
    player = dia_player_new(&rig, &wrong);
    live = begin(pier);
    assert_int_equal(dia_changes_load(&changes, "run.changes", &wrong), DIA_OK);
    assert_int_equal(changes.count, made);
    for (uint32_t k = 0; k < FRAMES; k++) {
        assert_int_equal(dia_changes_make(&changes, &next, live, k * 20, &wrong), DIA_OK);
        uint8_t *again = frame_of(live, player, scene, k);
        if (memcmp(again, first[k], scene->bytes) != 0)
            fail_msg("frame %u differs: %s", k, what_differs(scene, again, first[k]));
        free(again);
    }
    for (uint32_t k = 0; k < FRAMES; k++)
        free(first[k]);
    dia_changes_free(&changes);
    dia_live_free(live);
    dia_player_free(player);
    dia_scene_free(scene);
}

/* What is made of how it stands shows the same from then on, also when presses have been put
 * together; and stands the same. */
static void goes_on_the_same(int many_presses)
{
    struct dia_scene *scene = dia_scene_new(&rig);
    struct dia_player *players[] = {dia_player_new(&rig, &wrong), dia_player_new(&rig, &wrong)};
    struct dia_live *live = begin(pier), *other = begin(pier);
    uint32_t random = 3, made = 0;
    int together = 0;
    for (uint32_t k = 0; k < 3 * FRAMES; k++) {
        for (uint32_t n = random_below(&random, 4); n > 0; n--) {
            const char *line = such[random_below(&random, sizeof such / sizeof such[0])];
            if (strcmp(line, "undo") == 0 || strcmp(line, "redo") == 0)
                continue;     /* which the other has no steps for */
            if (many_presses) /* and no way back in time */
                line = n % 2 ? "press operator.2" : "press operator.1 for 30ms";
            int is_made = dia_live_change(live, line, k * 20, DIA_LIVE_OTHERS, &wrong) == DIA_OK;
            made += (uint32_t)is_made;
            if (is_made)
                make(other, line, k * 20);
        }
        uint8_t *a = frame_of(live, players[0], scene, k);
        uint8_t *b = frame_of(other, players[1], scene, k);
        if (memcmp(a, b, scene->bytes) != 0)
            fail_msg("frame %u differs: %s", k, what_differs(scene, a, b));
        free(a);
        free(b);
        if (k % 60 != 59)
            continue;
        char *stands = dia_live_state(live);
        together |= strstr(stands, "\ncued ") != NULL;
        dia_live_free(other);
        other = dia_live_from(&rig, stands, "pier.show", "", NULL, &wrong);
        if (!other)
            fail_msg("%s\n%s", wrong.text, stands);
        char *again = dia_live_state(other);
        assert_string_equal(again, stands);
        free(stands);
        free(again);
    }
    assert_true(made > 2 * FRAMES);
    assert_int_equal(together, many_presses);
    dia_live_free(live);
    dia_live_free(other);
    dia_player_free(players[0]);
    dia_player_free(players[1]);
    dia_scene_free(scene);
}

static void what_stands_so_goes_on_the_same(void **state)
{
    (void)state;
    goes_on_the_same(0);
    goes_on_the_same(1);
}

/* How it stands may come from anybody: what is wrong in it is told, and brings in no file. */
static void wrong_states_are_refused(void **state)
{
    (void)state;
    static const struct {
        const char *text, *says;
    } cases[] = {
        {"", "begins with its text"},
        {"master 1\n", "begins with its text"},
        {"show \"layer stedy\"\n", "unknown look 'stedy'"},
        {"show \"value t csv file=/etc/passwd\"\n", "names a file"},
        {"show \"layer steady\"\nmaster 65537\n", "'master 65537' says nothing"},
        {"show \"layer steady\"\nmaster 1 1\n", "'master 1 1'"},
        {"show \"layer steady\"\nmaster x\n", "'master x'"},
        {"show \"layer steady\"\ntime 0 0 99999999 0\n", "'time"},
        {"show \"layer steady\"\npress 255 0 0\n", "'press"},
        {"show \"layer steady\"\nreading 0 1 1\n", "'reading"},
        {"show \"layer steady\"\nhand 0 1 1\n", "'hand"},
        {"show \"layer steady\"\nknob 0 1 1 1 1\n", "'knob"},
        {"show \"layer steady\"\nstart 0 1\n", "'start"},
        {"show \"layer steady\"\ncued 1 0 0 0 0 0 0 0 0 0 0 0 0 0\n", "'cued"},
        {"show \"layer steady\"\ncued 0 0 0 0 0 0 0 0 0 0 2 0 0 0\n", "'cued"},
        {"show \"layer steady\"\nwind 3\n", "'wind 3'"},
    };
    for (size_t k = 0; k < sizeof cases / sizeof cases[0]; k++) {
        struct dia_diagnostic said = {""};
        int failed = 0;
        assert_null(dia_live_from(&rig, cases[k].text, "run", NULL, &failed, &said));
        if (failed || !strstr(said.text, cases[k].says))
            fail_msg("%s: said %s", cases[k].text, said.text);
    }
    /* files that the owner's own show names are known */
    struct dia_live *live =
        dia_live_from(&rig, "show \"drawings demo/signs.drawings\\nlayer steady\"\nmaster 9\n",
                      "run", "drawings demo/signs.drawings\n", NULL, &wrong);
    if (!live)
        fail_msg("%s", wrong.text);
    assert_int_equal(dia_live_master(live), 9);
    /* a step back that is not its own */
    make(live, "undo \"layer a: drift\\n\"", 5);
    assert_string_equal(dia_live_text(live), "layer a: drift\n");
    assert_null(dia_live_undo_text(live));
    make(live, "drop a", 6);
    assert_string_equal(dia_live_undo_text(live), "layer a: drift\n");
    make(live, "undo \"layer a: drift\\n\"", 7);
    assert_null(dia_live_undo_text(live));
    assert_non_null(dia_live_redo_text(live));
    dia_live_free(live);
}

/* Each number of each line has its range: its ends are taken, what lies beyond is refused. The show
 * is the small one: three layers, two values (input, keys), one knob. */
static void each_number_of_a_state_has_its_range(void **state)
{
    (void)state;
    enum { NUMBERS = 14 };
    static const long long most32 = UINT32_MAX, least = INT32_MIN, most = INT32_MAX;
    const struct {
        const char *word;
        int count;
        long long ends[NUMBERS][2];
    } lines[] = {
        {"master", 1, {{0, 32768}}},
        {"clock", 1, {{0, 86399}}},
        {"past", 1, {{0, most32}}},
        {"time",
         4,
         {{0, INT64_MAX / 1024}, {0, INT64_MAX / 1024}, {-16 * 32768, 16 * 32768}, {0, 1}}},
        {"cued",
         14,
         {{0, 2},
          {0, 1},
          {0, 65535},
          {0, most32},
          {0, most32},
          {-32768, 32767},
          {-32768, 32767},
          {0, most32},
          {0, most32},
          {0, most32},
          {-1, 1},
          {0, most32},
          {0, most32},
          {0, most32}}},
        {"knob", 5, {{0, 0}, {least, most}, {least, most}, {0, most32}, {0, most32}}},
        {"hand", 3, {{0, 0}, {least, most}, {0, most32}}},
        {"start", 2, {{1, 1}, {least, most}}},
        {"reading", 3, {{0, 0}, {0, most32}, {least, most}}},
        {"press", 3, {{0, 135}, {0, most32}, {0, most32}}},
    };
    struct dia_live *live = begin(pier);
    char *stands = dia_live_state(live), text[4000];
    int tried = 0;
    *(strchr(strstr(stands, "show \""), '\n') + 1) = 0; /* the text of the show alone */
    for (size_t l = 0; l < sizeof lines / sizeof lines[0]; l++) {
        for (int k = 0; k < lines[l].count; k++) {
            for (int end = 0; end < 4; end++) { /* both ends, and what lies beyond each */
                int is_fine = end < 2 || (strcmp(lines[l].word, "time") == 0 && k == 3);
                char *at = text + sprintf(text, "%s%s", stands, lines[l].word);
                for (int n = 0; n < lines[l].count; n++)
                    at += sprintf(at, " %lld",
                                  n != k ? lines[l].ends[n][0]
                                         : lines[l].ends[n][end % 2] + (end == 2 ? -1 : end == 3));
                struct dia_diagnostic said = {""};
                struct dia_live *from = dia_live_from(&rig, text, "run", NULL, NULL, &said);
                if (is_fine != (from != NULL))
                    fail_msg("%s: %s", strrchr(text, '\n') + 1, from ? "is taken" : said.text);
                if (!from)
                    assert_non_null(strstr(said.text, lines[l].word));
                dia_live_free(from);
                tried++;
            }
        }
    }
    assert_int_equal(tried, 4 * (1 + 1 + 1 + 4 + 14 + 5 + 3 + 2 + 3 + 3));
    free(stands);
    dia_live_free(live);
}

static void wrong_records_say_where(void **state)
{
    (void)state;
    static const struct {
        const char *text, *says;
    } cases[] = {
        {"1s pause\n0.5s resume\n", "run.changes:2: times rise; 0.5s comes behind a later one"},
        {"# so\n1s\n", "run.changes:2: a change follows its time"},
        {"soon pause\n", "run.changes:1: the time of a change"},
    };
    for (size_t k = 0; k < sizeof cases / sizeof cases[0]; k++) {
        struct dia_changes changes;
        write_file("run.changes", cases[k].text, strlen(cases[k].text));
        assert_int_equal(dia_changes_load(&changes, "run.changes", &wrong), DIA_BAD_VALUE);
        if (!strstr(wrong.text, cases[k].says))
            fail_msg("said %s", wrong.text);
    }
    struct dia_changes changes;
    struct dia_live *live = begin(pier);
    uint32_t next = 0;
    write_file("run.changes", "1s pause\n2s drop it\n", 21);
    assert_int_equal(dia_changes_load(&changes, "run.changes", &wrong), DIA_OK);
    assert_int_equal(dia_changes_make(&changes, &next, live, 1999, &wrong), DIA_OK);
    assert_int_equal(dia_changes_make(&changes, &next, live, 2000, &wrong), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "run.changes:2: there is no layer 'it'"));
    dia_changes_free(&changes);
    dia_live_free(live);
}

/* ---- for days -------------------------------------------------------------------------------- */

static void same_layers(const struct dia_rig_layer *a, const struct dia_rig_layer *b, uint32_t n,
                        uint32_t ms)
{
    for (uint32_t k = 0; k < n; k++) {
        if (a[k].level != b[k].level || a[k].ahead_ms != b[k].ahead_ms ||
            memcmp(&a[k].values, &b[k].values, sizeof a[k].values) != 0 ||
            strcmp(a[k].says_on_digits, b[k].says_on_digits) != 0 ||
            strcmp(a[k].says, b[k].says) != 0)
            fail_msg("layer %u differs at %u ms", k, ms);
    }
}

/* 250 presses as they are, and as they are put together: the frames after them are the same. */
static void presses_that_are_over_are_put_together(void **state)
{
    (void)state;
    static struct dia_show whole, settled;
    struct dia_show *both[] = {&whole, &settled};
    struct dia_rig_layer a[DIA_RIG_LAYERS], b[DIA_RIG_LAYERS];
    uint32_t random = 3, ms = 0;
    for (int k = 0; k < 2; k++) {
        dia_show_init(both[k]);
        assert_int_equal(dia_show_read(both[k], &rig, pier, "pier.show", &wrong), DIA_OK);
        assert_int_equal(
            dia_show_line(both[k], &rig, "layer text says=\"{aboard}\" on tide fade-in 1s", &wrong),
            DIA_OK);
        assert_int_equal(
            dia_show_line(both[k], &rig, "key operator.3 long: pace sea to 250% over 2s", &wrong),
            DIA_OK);
    }
    for (uint32_t n = 0; n < 250; n++) {
        struct dia_show_press press = {.ms = ms += 100 + random_below(&random, 4000),
                                       .for_ms = 50 + random_below(&random, 1500),
                                       .key = (uint8_t)(6 * 0 + random_below(&random, 4)),
                                       .came = 1};
        uint8_t first;
        assert_int_equal(dia_show_key_read(&rig, "operator.1", &first, &wrong), DIA_OK);
        press.key = (uint8_t)(press.key + first);
        dia_show_press(&whole, press);
        dia_show_press(&settled, press);
    }
    assert_int_equal(dia_show_settle(&settled, ms - 20000), DIA_OK);
    assert_true(settled.press_count < 20);
    for (uint32_t at = ms - 20000; at < ms + 30000; at += 97) {
        assert_int_equal(dia_show_at(&whole, at, a), DIA_OK);
        assert_int_equal(dia_show_at(&settled, at, b), DIA_OK);
        same_layers(a, b, whole.layer_count, at);
    }
    dia_show_free(&whole);
    dia_show_free(&settled);
}

/* What presses amount to, worked out press by press as they come, some let go early, some told
 * late: as if one debouncer had read the contacts each millisecond from beginning to end. */
static void presses_are_heard_as_they_come(void **state)
{
    (void)state;
    static const char *const cues[] = {"down: toggle sea", "up: start sea",     "short: stop sea",
                                       "long: toggle sea", "repeat: start sea", "double: stop sea"};
    static struct dia_show show;
    struct dia_rig_layer now[DIA_RIG_LAYERS];
    char line[80];
    for (uint32_t with_double = 0; with_double < 2; with_double++) {
        uint32_t random = 5 + with_double, ms = 0, events = 0;
        uint8_t first;
        dia_show_init(&show);
        assert_int_equal(dia_show_line(&show, &rig, "layer sea: steady colour=red", &wrong),
                         DIA_OK);
        for (uint32_t k = 0; k < 5 + with_double; k++) {
            snprintf(line, sizeof line, "key operator.1 %s", cues[k]);
            assert_int_equal(dia_show_line(&show, &rig, line, &wrong), DIA_OK);
        }
        assert_int_equal(dia_show_key_read(&rig, "operator.1", &first, &wrong), DIA_OK);
        while (show.press_count < 200) {
            struct dia_show_press press = {
                .ms = ms += 30 + random_below(&random, 900), .for_ms = 10, .key = first};
            press.for_ms += random_below(&random, random_below(&random, 8) ? 200 : 2000);
            assert_int_equal(dia_show_press(&show, press), DIA_OK);
            ms += press.for_ms;
            if (random_below(&random, 3) == 0)
                continue; /* not heard before the next */
            assert_int_equal(dia_show_at(&show, ms, now), DIA_OK);
            if (press.for_ms > 200)
                assert_int_equal(dia_show_release(&show, first, press.ms + 150), DIA_OK);
        }
        assert_int_equal(dia_show_at(&show, ms, now), DIA_OK);
        struct dia_keys keys;
        struct dia_key_event event;
        dia_keys_init(&keys);
        if (!with_double)
            keys.double_ms = 0;
        for (uint32_t at = 0; at < ms + 5000; at++) {
            uint8_t held = 0;
            for (uint32_t k = 0; k < show.press_count; k++)
                held |= at - show.presses[k].ms < show.presses[k].for_ms;
            dia_keys_feed(&keys, at, held);
            while (dia_keys_next(&keys, &event)) {
                assert_true(events < show.event_count);
                assert_int_equal(show.events[events].ms, event.ms);
                assert_int_equal(show.events[events].kind, event.kind);
                events++;
            }
        }
        assert_int_equal(events, show.event_count);
        assert_true(events > 500);
        dia_show_free(&show);
    }
}

static struct dia_rig_layer of_run(struct dia_live *live, uint32_t place, uint32_t ms)
{
    struct dia_rig_layer now[DIA_RIG_LAYERS];
    struct dia_show show = *dia_live_show(live); /* what is worked out of it is the copy's */
    show.heard_ms = 0;
    show.events = NULL;
    show.event_count = show.event_room = 0;
    assert_int_equal(dia_show_at(&show, ms, now), DIA_OK);
    free(show.events);
    assert_string_equal(show.names[place], "run");
    return now[place];
}

/* After more presses than are kept one by one the text is edited: layers in another order, others
 * beside them, a key that does something else. What keys had brought stays with its layer. */
static void an_edited_show_goes_on_from_where_keys_had_brought_it(void **state)
{
    (void)state;
    struct dia_live *live = begin(pier);
    struct dia_player *player = dia_player_new(&rig, &wrong);
    uint64_t ms = 0;
    char line[80];
    for (uint32_t n = 0; n < 303; n++, ms += 3000) {
        snprintf(line, sizeof line, "press operator.%u", n % 5 == 0 ? 1 : n % 5 == 1 ? 2 : 3);
        make(live, line, ms);
        assert_int_equal(dia_live_play(live, player, ms * 1000, 0, NULL), DIA_OK);
    }
    ms += 5000;
    assert_true(dia_live_show(live)->press_count < 303);
    struct dia_rig_layer before = of_run(live, 1, (uint32_t)ms);
    assert_int_equal(before.values.pulse.speed_um_s, 7100000); /* 1 m/s, and 61 times 10 cm/s */
    make(live,
         "show \"value others keys up=operator.4 min=0 max=9\\n"
         "value aboard keys up=operator.3 down=operator.4 min=0 max=180\\n"
         "layer first: steady colour=red on lantern\\nlayer pulse on handrail\\n"
         "layer run: pulse colour=red speed=1m/s on handrail blend add\\n"
         "layer sea: water on waves level 80%\\nkey operator.1 short: toggle run\\n"
         "key operator.4 down: raise run.head by 1cm\\n"
         "key operator.2 down: raise run.speed by 10cm/s\"",
         ms);
    struct dia_rig_layer after = of_run(live, 2, (uint32_t)ms);
    assert_int_equal(after.level, before.level);
    assert_int_equal(after.values.pulse.speed_um_s, 7100000);
    assert_int_equal(after.values.pulse.colour.r, 255);
    make(live, "press operator.1", ms + 100);
    make(live, "press operator.2", ms + 200);
    after = of_run(live, 2, (uint32_t)ms + 2000);
    assert_true((after.level == 0) != (before.level == 0));
    assert_int_equal(after.values.pulse.speed_um_s, 7200000);
    dia_player_free(player);
    dia_live_free(live);
}

/* A day of changes, in which nothing grows: presses, readings, steps of undo, the text. */
static void a_day_takes_no_more_memory(void **state)
{
    (void)state;
    struct dia_live *live = begin(pier);
    struct dia_player *player = dia_player_new(&rig, &wrong);
    char line[80];
    for (uint64_t s = 0; s < 86400; s += 4) {
        snprintf(line, sizeof line, "value wind %u", (unsigned)(s % 30));
        make(live, line, s * 1000);
        make(live, s % 8 ? "press operator.1" : "press operator.3", s * 1000 + 200);
        snprintf(line, sizeof line, "set run.colour=#%06x", (unsigned)s);
        make(live, line, s * 1000 + 400);
        if (s % 400 == 0)
            assert_int_equal(dia_live_play(live, player, (s * 1000 + 500) * 1000, 0, NULL), DIA_OK);
        assert_true(dia_live_show(live)->press_count <= DIA_SHOW_PRESSES);
    }
    assert_true(dia_live_undos(live) == 50 && strlen(dia_live_text(live)) < sizeof pier + 100);
    assert_true(dia_live_show(live)->values[0].count <= 200000);
    dia_player_free(player);
    dia_live_free(live);
}

/* What is set by hand shows, whatever keys did to it before; keys go on from there. */
static void what_is_set_by_hand_counts(void **state)
{
    (void)state;
    struct dia_live *live = begin(pier);
    static const struct {
        const char *change;
        uint32_t ms;
        int32_t mm_s;
    } cases[] = {{"press operator.2", 1000, 1100},
                 {"set run.speed=3m/s", 2000, 3000},
                 {"press operator.2", 3000, 3100},
                 {"clause sea level 70%", 4000, 3100}, /* the show is read again */
                 {"press operator.2", 5000, 3200}};
    for (size_t k = 0; k < sizeof cases / sizeof cases[0]; k++) {
        make(live, cases[k].change, cases[k].ms);
        struct dia_rig_layer run = of_run(live, 1, cases[k].ms + 500);
        assert_int_equal(run.values.pulse.speed_um_s, cases[k].mm_s * 1000);
    }
    dia_live_free(live);
}

/* A key each half second may go on for as long as anybody likes: what is over is put together. Six
 * in a second are refused in the end, and it is said how long to wait. */
static void presses_want_a_rest_now_and_then(void **state)
{
    (void)state;
    static const struct {
        int presses, every_ms, rest_ms, code;
    } cases[] = {{600, 500, 500, 0}, {257, 150, 150, 2}, {257, 150, 3000, 0}};
    static char text[600 * 40], words[200];
    write_file("still.show", "layer a: steady colour=red\n", 27);
    for (size_t c = 0; c < sizeof cases / sizeof cases[0]; c++) {
        size_t n = 0;
        int last = cases[c].presses - 1, last_ms = 1000 + cases[c].every_ms * (last - 1);
        for (int k = 0; k < last; k++)
            n += (size_t)snprintf(text + n, sizeof text - n, "%dms press operator.1\n",
                                  1000 + cases[c].every_ms * k);
        n += (size_t)snprintf(text + n, sizeof text - n, "%dms press operator.1\n",
                              last_ms + cases[c].rest_ms);
        write_file("many.changes", text, n);
        snprintf(words, sizeof words,
                 "$D render demo/quay.rig.yaml --show still.show --changes many.changes --rate 2Hz "
                 "--for %ds --out many.csv",
                 last_ms / 1000 + 5);
        assert_int_equal(run("%s", words), cases[c].code);
        if (cases[c].code)
            says("many.changes:257: 256 presses came without a rest; wait three seconds");
    }
}

/* The command plays a record, from anywhere in it. */
static void the_command_plays_records(void **state)
{
    (void)state;
    write_file("small.show", pier, strlen(pier));
    const char record[] = "0.2s paint all red\n0.4s paint all none\n0.5s pause\n";
    write_file("run.changes", record, sizeof record - 1);
    assert_int_equal(run("$D render demo/quay.rig.yaml --show small.show --changes run.changes "
                         "--for 1s --out whole.csv"),
                     0);
    assert_int_equal(
        run("$D render demo/quay.rig.yaml --show small.show --changes run.changes "
            "--from 300ms --frames 1 --out part.csv >/dev/null && grep '^0,300000,handrail,7,' "
            "part.csv | cut -d, -f3-"),
        0);
    says("handrail,7,");
    char *red = strdup(output);
    assert_int_equal(run("grep ',300000,handrail,7,' whole.csv | cut -d, -f3-"), 0);
    assert_string_equal(output, red);
    assert_non_null(strstr(red, ",0,0,")); /* nothing but red */
    free(red);
    assert_int_equal(run("$D render demo/quay.rig.yaml --look steady --changes run.changes "
                         "--frames 1 --out part.csv"),
                     2);
    says("--changes are those of a show: give it by --show");
    assert_int_equal(run("$D render demo/quay.rig.yaml --show small.show --changes none.changes "
                         "--frames 1 --out part.csv"),
                     2);
    says("none.changes: cannot be read");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(changes_change_their_line_alone),
        cmocka_unit_test(changes_find_their_line_however_it_is_written),
        cmocka_unit_test(wrong_changes_change_nothing),
        cmocka_unit_test(what_moves_does_not_rest),
        cmocka_unit_test(a_file_that_came_may_be_named),
        cmocka_unit_test(others_bring_in_no_files),
        cmocka_unit_test(paths_of_time),
        cmocka_unit_test(recorded_changes_give_the_same_frames),
        cmocka_unit_test(what_stands_so_goes_on_the_same),
        cmocka_unit_test(wrong_states_are_refused),
        cmocka_unit_test(each_number_of_a_state_has_its_range),
        cmocka_unit_test(wrong_records_say_where),
        cmocka_unit_test(presses_are_heard_as_they_come),
        cmocka_unit_test(presses_that_are_over_are_put_together),
        cmocka_unit_test(an_edited_show_goes_on_from_where_keys_had_brought_it),
        cmocka_unit_test(a_day_takes_no_more_memory),
        cmocka_unit_test(what_is_set_by_hand_counts),
        cmocka_unit_test(presses_want_a_rest_now_and_then),
        cmocka_unit_test(the_command_plays_records),
    };
    return cmocka_run_group_tests(tests, load_rig, NULL);
}
