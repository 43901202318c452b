/* SPDX-License-Identifier: MIT */
#include "browser.h"

/* The page in a real browser: what is touched there reaches the bench, and what the bench shows is
 * seen there. */
static struct served served;
static char url[80];

#define DEMO "demo/quay.rig.yaml --show evening.show --save --presets presets"

static int begin(void **state)
{
    (void)state;
    alarm(150); /* whatever hangs */
    curl_global_init(CURL_GLOBAL_DEFAULT);
    if (system("rm -rf presets && cp demo/signs.drawings . && "
               "sed 's,demo/signs,signs,' demo/evening.show >evening.show") != 0)
        return -1;
    serve(&served, DEMO);
    snprintf(url, sizeof url, "http://127.0.0.1:%u/", served.port);
    return browser_begin(9541);
}

static int end(void **state)
{
    (void)state;
    browser_end();
    return ended(&served, SIGTERM);
}

static void open_page(void)
{
    go(url);
    js_until("true",
             "return document.getElementById('link').textContent.startsWith('Connected') && "
             "document.querySelectorAll('#stack li').length > 0");
}

static void tab(const char *name)
{
    js("document.getElementById('tab-%s').click()", name);
}

/* Sets a control and says so, as a hand would. */
static void put(const char *selector, const char *value, const char *event)
{
    js("const c = document.querySelector(`%s`); c.focus(); c.value = `%s`;"
       "c.dispatchEvent(new Event('%s', {bubbles: true})); c.blur();",
       selector, value, event);
}

/* Waits until the text of the show has a part. */
static void show_has(const char *part)
{
    for (double until = seconds() + 5;;) {
        assert_int_equal(ask(&served, "GET", "/show", NULL), 200);
        if (strstr(answer, part))
            return;
        if (seconds() > until)
            fail_msg("the show lacks %s:\n%s", part, answer);
        rest_ms(20);
    }
}

/* Waits until the first pixel of a thing has a colour, about. */
static void bench_shows(size_t at, int red, int green, int blue)
{
    const int wanted[] = {red, green, blue};
    for (double until = seconds() + 5;;) {
        assert_int_equal(ask(&served, "GET", "/frame", NULL), 200);
        int near = 1;
        for (size_t c = 0; c < 3; c++)
            near &= abs((uint8_t)answer[8 + at + c] - wanted[c]) < 12;
        if (near)
            return;
        if (seconds() > until)
            fail_msg("the bench shows %d %d %d", (uint8_t)answer[8 + at], (uint8_t)answer[9 + at],
                     (uint8_t)answer[10 + at]);
        rest_ms(20);
    }
}

static void change_all(const char *lines)
{
    change(&served, lines);
}

/* A finger on the field of colours: the pixels have what is under it, and the picture shows it. */
static void a_touched_colour_reaches_the_pixels(void **state)
{
    (void)state;
    int at[3][2], r, g, b;
    open_page();
    change_all("master 100%\npaint waves black\npaint buoys black"); /* no limit is near */
    tab("colour");
    put("#part", "handrail", "change");
    assert_int_equal(
        sscanf(js("const b = document.getElementById('field').getBoundingClientRect();"
                  "return [0.1, 0.3, 0.62].flatMap(x => [Math.round(b.left + x * b.width),"
                  "Math.round(b.top + 0.72 * b.height)]).join(' ')"),
               "%d %d %d %d %d %d", &at[0][0], &at[0][1], &at[1][0], &at[1][1], &at[2][0],
               &at[2][1]),
        6);
    touch((const int(*)[2])at, 3);
    assert_int_equal(sscanf(js("return document.getElementById('colour-text').value"), "#%2x%2x%2x",
                            (unsigned *)&r, (unsigned *)&g, (unsigned *)&b),
                     3);
    assert_true(b > 60 && r < 40); /* a dark blue, 0.62 of the way round */
    bench_shows(0, r, g, b);
    js_until("true", "const c = document.getElementById('picture'), d = c.getContext('2d')"
                     ".getImageData(0, 0, c.width, c.height).data; let n = 0;"
                     "for (let k = 0; k < d.length; k += 4) n += d[k + 2] > d[k] + 60;"
                     "return n > 100");
    /* by keyboard: up is lighter */
    js("document.getElementById('field').focus()");
    type_key("\\uE013"); /* arrow up */
    js_until("true",
             "return parseInt(document.getElementById('colour-text').value.slice(5), 16) > %d", b);
    put("#colour-text", "#402000", "change");
    bench_shows(0, 0x40, 0x20, 0);
    press("#unpaint");
    js_until("false", "return document.getElementById('text').value.includes('paint-handrail')");
}

/* Every kind of control changes its line of the show, and what is wrong is told. */
static void every_control_changes_the_show(void **state)
{
    (void)state;
    static const struct {
        const char *control, *value, *event, *show;
    } cases[] = {
        {"[aria-label=\"look of dusk\"]", "flame", "change", "layer dusk: flame on handrail,waves"},
        {"#p-sweep-lights", "3", "change", "layer sweep: chase colour=#604828 lights=3 tail=20%"},
        {"#p-sweep-tail", "35%", "change", "lights=3 tail=35%"},
        {"#p-sweep-speed", "30 cm/s", "change", "speed=30cm/s"},
        {"#p-warning-colour", "#ff00ff", "change", "layer warning: blink colour=#ff00ff"},
        {"#c-sea-blend", "screen", "change", "blend screen"},
        {"#c-sea-level", "55%", "change", "level 55%"},
        {"#c-sea-mask", "sine(length=1m low=20%)", "change", "mask sine(length=1m low=20%)"},
        {"#c-buoys-from", "2s", "change", "layer buoys: alternate colour=lime on buoys from 2s"},
        {"[data-layer=board]", "Late: \"Skua\"", "change", "says=\"Late: \\\"Skua\\\"\""},
    };
    open_page();
    tab("layers");
    js("document.querySelectorAll('#stack details').forEach(d => { d.open = true; })");
    for (size_t k = 0; k < sizeof cases / sizeof cases[0]; k++) {
        put(cases[k].control, cases[k].value, cases[k].event);
        show_has(cases[k].show);
    }
    /* a mask by touch: a shape, then what it has; parts of a text that was typed stay */
    put("#p-sweep-mask-shape", "pulse", "change");
    show_has("layer sweep: chase colour=#604828 lights=3 tail=35%");
    show_has(" mask pulse\n");
    js("const m = "
       "document.querySelector('#p-sweep-mask-duty').parentNode.querySelector('[type=range]');"
       "m.value = 200; m.dispatchEvent(new Event('input'))");
    show_has(" mask pulse(duty=20%)\n");
    put("#p-sea-mask-low", "40 %", "change");
    show_has(" mask sine(length=1m low=40%)\n");
    put("#p-sea-mask-shape", "none", "change");
    js_until("true", "return document.querySelector('#p-sea-mask-low').parentNode.hidden");
    put("#c-sea-level", "fast", "change");
    js_until("true", "return document.getElementById('wrong').textContent.includes(`'level'`)");
    /* a slider, a well of colour, order, a layer more and less, undo */
    js("const s = document.querySelector('#p-sweep-tail').parentNode.querySelector('[type=range]');"
       "s.value = 1000; s.dispatchEvent(new Event('input'))");
    show_has("tail=100%");
    js("const w = "
       "document.querySelector('#p-warning-colour').parentNode.querySelector('[type=color]');"
       "w.value = '#00ff80'; w.dispatchEvent(new Event('input'))");
    show_has("colour=#00ff80");
    put("#add-look", "rings", "change");
    put("#add-where", "waves", "change");
    press("#add button");
    show_has("\nlayer rings: rings on waves\n");
    js_until("rings", "return document.querySelector('#stack b').textContent"); /* the highest */
    press("[aria-label=\"rings down\"]");
    js_until("rings", "return document.querySelectorAll('#stack b')[1].textContent");
    press("[aria-label=\"drop rings\"]");
    js_until("0", "return document.querySelectorAll('[aria-label=\"drop rings\"]').length");
    press("#undo");
    show_has("layer rings: rings on waves");
    press("#redo");
    js_until("0", "return document.querySelectorAll('[aria-label=\"drop rings\"]').length");
}

/* The panel shows one more on board: its last digit is no longer the same. */
static int counted(void)
{
    static uint8_t first[64 * 3];
    static int is_first = 1;
    const size_t panel = 3 * (144 + 24 + 128 + 6 * 64 + 24 + 32);
    assert_int_equal(ask(&served, "GET", "/frame", NULL), 200);
    const uint8_t *last = (const uint8_t *)answer + 8 + panel + 3 * 7 * 8;
    if (is_first)
        memcpy(first, last, 3 * 7);
    is_first = 0;
    int differs = 0;
    for (int k = 0; k < 3 * 7; k++) /* a segment more or less, not its level */
        differs |= (last[k] > 100) != (first[k] > 100);
    return differs;
}

static void time_level_keys_and_values(void **state)
{
    (void)state;
    open_page();
    press("#pause");
    js_until("Go on", "return document.getElementById('pause').textContent");
    put("#seek", "33", "change");
    js_until("33.0 s", "return document.getElementById('seek').value");
    press("#pause");
    put("#pace", "400%", "change");
    js_until("true", "return parseFloat(document.getElementById('seek').value) > 34");
    put("#pace", "100%", "change");
    js("const m = document.getElementById('master'); m.value = 25; m.dispatchEvent(new "
       "Event('input'))");
    js_until("25 %", "return document.getElementById('master-text').value");
    put("#master-text", "60", "change");
    js_until("60", "return document.getElementById('master').value");
    /* a key that is held long: of the demo, key 2 makes the sea rougher; key 3 counts on board */
    tab("inputs");
    assert_int_equal(counted(), 0);
    js("const k = [...document.querySelectorAll('#keys button')].find(b => "
       "b.textContent.startsWith("
       "'operator.3')); for (const e of ['keydown', 'keyup']) k.dispatchEvent(new KeyboardEvent(e, "
       "{key: 'Enter', bubbles: true}))");
    for (double until = seconds() + 5; seconds() < until && !counted();)
        rest_ms(20);
    assert_true(counted());
    js_until("0", "return document.querySelectorAll('#values input').length");
    js("const t = document.getElementById('text'); t.value += '\\nvalue gusts input decimals=1\\n';"
       "t.dispatchEvent(new Event('input'))");
    js_until("1", "return document.querySelectorAll('#values input').length");
    put("[data-value=gusts]", "7.5", "change");
    js_until("7.5", "return document.querySelector('[data-value=gusts]').value");
}

/* The show as text: shown as it is typed, a mistake with its line, saved to its file. */
static void the_text_is_edited_in_place(void **state)
{
    (void)state;
    open_page();
    tab("show");
    js("const t = document.getElementById('text'); t.focus(); t.value = t.value.replace("
       "'layer lantern: steady', 'layer lantern: stedy'); t.dispatchEvent(new Event('input'))");
    js_until("true", "return /^Line \\d+: unknown look 'stedy'; did you mean 'steady'\\?$/.test("
                     "document.getElementById('text-wrong').textContent)");
    show_has("layer lantern: steady"); /* the old goes on */
    js("const t = document.getElementById('text'); t.value = t.value.replace('stedy', 'breathe');"
       "t.dispatchEvent(new Event('input'))");
    show_has("layer lantern: breathe");
    js_until("", "return document.getElementById('text-wrong').textContent");
    press("#save");
    js_until("Saved", "return document.getElementById('saved').textContent");
    char *saved = read_file("evening.show", NULL);
    assert_non_null(strstr(saved, "layer lantern: breathe"));
    assert_non_null(strstr(saved, "# An evening of five minutes at Petrel Quay"));
    free(saved);
    assert_int_equal(run("$D render demo/quay.rig.yaml --show evening.show --frames 1 --out a.csv"),
                     0);
}

/* Dots that are touched show on the wall at once, and the file has them when it is saved. */
static void drawings_are_edited_by_touch(void **state)
{
    (void)state;
    enum { TOP_LEFT = 3 * (144 + 24 + 127), NEXT = TOP_LEFT - 3 }; /* the wall is serpentine */
    int at[2][2];
    open_page();
    change_all("master 100%\npaint handrail black\npaint waves black\n"
               "layer mark: draw sprite gull on waves x=0mm y=0mm");
    tab("draw");
    put("#draw-file", "signs.drawings", "change");
    js_until("gull", "return document.getElementById('draw-item').value");
    press("[aria-label=\"Colour 4, #d03020\"]");
    js_until("true", "return document.querySelector('[aria-label=\"Colour 4, #d03020\"]')"
                     ".getAttribute('aria-pressed')");
    press("[data-tool=clear]");
    bench_shows(TOP_LEFT, 0, 0, 0);
    assert_int_equal(
        sscanf(js("const b = document.getElementById('dots').getBoundingClientRect(),"
                  "d = b.height / 3; return [0.5, 4.5].flatMap(x => [Math.round(b.left "
                  "+ x * d), Math.round(b.top + d / 2)]).join(' ')"),
               "%d %d %d %d", &at[0][0], &at[0][1], &at[1][0], &at[1][1]),
        4);
    touch((const int(*)[2])at, 2); /* a stroke along the upper row */
    bench_shows(TOP_LEFT, 0xd0, 0x30, 0x20);
    bench_shows(NEXT, 0xd0, 0x30, 0x20);
    press("[data-tool=undo]"); /* all of the stroke */
    bench_shows(NEXT, 0, 0, 0);
    press("[data-tool=redo]");
    bench_shows(NEXT, 0xd0, 0x30, 0x20);
    /* by keyboard, where the cursor is: the last dot of the stroke, and below it */
    js("document.getElementById('dots').focus()");
    type_key("\\uE015"); /* arrow down */
    type_key(" ");
    js_until("column 5, row 2: #d03020",
             "return document.getElementById('dots').getAttribute('aria-valuetext')");
    char *file = read_file("signs.drawings", NULL);
    assert_null(strstr(file, "rrrrr\n....r\n.....\n"));
    free(file);
    press("#draw-save");
    js_until("Saved", "return document.getElementById('draw-save').textContent");
    file = read_file("signs.drawings", NULL);
    if (!strstr(file, "rrrrr\n....r\n.....\n"))
        fail_msg("%s", file);
    assert_non_null(strstr(file, "drawing ferry")); /* which nobody touched */
    free(file);
    assert_int_equal(run("$D glyphs signs.drawings"), 0);
    /* a new one, which the show may name at once; and what is wrong is told */
    put("#new-name", "buoy", "input");
    put("#new-columns", "2", "input"); /* white ones would need more than the supply has */
    press("#draw-new button");
    js_until("buoy", "return document.getElementById('draw-item').value");
    change_all("layer mark: draw sprite buoy on waves x=0mm y=0mm");
    press("[data-tool=invert]"); /* in the first colour */
    bench_shows(TOP_LEFT, 0xff, 0xff, 0xff);
    put("#new-name", "other", "input");
    press("#draw-new button");
    js_until("true", "return document.getElementById('draw-wrong').textContent.includes("
                     "'1 drawing of signs.drawings is not saved')");
    /* what the show needs stays open */
    press("#draw-close");
    js_until("true", "return document.getElementById('draw-wrong').textContent.includes("
                     "`there is no drawing 'buoy'`)");
    change_all("drop mark\npaint waves none\npaint handrail none");
    press("#draw-close");
    js_until("", "return document.getElementById('draw-file').value");
}

static void presets_are_saved_and_used(void **state)
{
    (void)state;
    open_page();
    tab("presets");
    put("#preset-name", "calm", "input");
    press("#preset-save button");
    js_until("calm", "return document.querySelector('#preset-list button')?.textContent || ''");
    change_all("look dusk rings");
    press("#preset-list button");
    js_until("false", "return document.getElementById('text').value.includes('layer dusk: rings')");
    press("[aria-label=\"drop preset calm\"]");
    js_until("0", "return document.querySelectorAll('#preset-list li').length");
    put("#preset-name", "no name", "input");
    js_until("true", "return !document.getElementById('preset-name').checkValidity()");
}

/* The server goes and comes again: the page says so, and goes on by itself. */
static void it_comes_again_after_a_cut(void **state)
{
    (void)state;
    char words[200];
    open_page();
    assert_int_equal(ended(&served, SIGTERM), 0);
    js_until("true",
             "return document.getElementById('link').textContent.startsWith('Connection lost')");
    snprintf(words, sizeof words, DEMO " --listen 127.0.0.1:%s", strrchr(url, ':') + 1);
    words[strlen(words) - 1] = 0; /* the slash of the address */
    serve(&served, words);
    js_until("true", "return document.getElementById('link').textContent.startsWith('Connected')");
    change_all("look buoys rings");
    js_until("true", "return document.getElementById('text').value.includes('layer buoys: rings')");
    (void)browser_errors(); /* those of the cut */
}

/* On a phone and on a desk, by day and by night: nothing is wider than the window, everything has a
 * name, and texts stand out from their ground as WCAG 2.2 AA asks (4.5 to 1). */
static const char audit[] =
    "const lum = c => { const v = c.map(x => { x /= 255; return x <= 0.04045 ? x / 12.92 : "
    "((x + 0.055) / 1.055) ** 2.4; }); return 0.2126 * v[0] + 0.7152 * v[1] + 0.0722 * v[2]; };"
    "const rgb = s => s.match(/[\\d.]+/g).map(Number);"
    "const ground = e => { for (; e; e = e.parentElement) { const c = rgb(getComputedStyle(e)"
    ".backgroundColor); if (c.length < 4 || c[3] === 1) return c; } return [255, 255, 255]; };"
    "const seen = e => e.checkVisibility({visibilityProperty: true}) && e.getClientRects().length "
    "> 0;"
    "const wrong = [];"
    "if (document.documentElement.scrollWidth > innerWidth) wrong.push(`${document.documentElement"
    ".scrollWidth} wide`);"
    "for (const e of document.querySelectorAll('body *')) {"
    "  if (!seen(e) || e.disabled) continue;"
    "  const own = [...e.childNodes].some(n => n.nodeType === 3 && n.data.trim());"
    "  if (own || /^(INPUT|SELECT|TEXTAREA)$/.test(e.tagName)) {"
    "    const a = lum(rgb(getComputedStyle(e).color)), b = lum(ground(e));"
    "    const r = (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05);"
    "    if (r < 4.5) wrong.push(`${e.tagName} ${e.id} ${e.textContent.slice(0, 20)}: "
    "${r.toFixed(1)}`);"
    "  }"
    "  if (/^(INPUT|SELECT|TEXTAREA|BUTTON|METER)$/.test(e.tagName)) {"
    "    const name = e.ariaLabel || e.getAttribute('aria-label') || [...(e.labels || [])].map(l "
    "=> "
    "l.textContent.trim()).join('') || (e.tagName === 'BUTTON' && e.textContent.trim());"
    "    if (!name) wrong.push(`${e.tagName} ${e.id} ${e.type} has no name`);"
    "    const b = e.getBoundingClientRect();"
    "    if (e.tagName === 'BUTTON' && (b.height < 24 || b.width < 24)) wrong.push(`${e.id} "
    "small`);"
    "    if (e.tagName !== 'METER' && e.closest('main') && (b.right > innerWidth + 1 || b.left < "
    "-1)) "
    "wrong.push(`${e.tagName} ${e.id} outside`);"
    "  }"
    "}"
    "return wrong.slice(0, 8).join(', ');";

static void phone_and_desk_day_and_night(void **state)
{
    (void)state;
    static const char *const tabs[] = {"colour", "layers", "inputs", "presets", "draw", "show"};
    for (int night = 0; night < 2; night++) {
        char body[300];
        snprintf(body, sizeof body,
                 "{\"cmd\":\"Emulation.setEmulatedMedia\",\"params\":{\"features\":[{\"name\":"
                 "\"prefers-color-scheme\",\"value\":\"%s\"},{\"name\":\"prefers-reduced-motion\","
                 "\"value\":\"reduce\"}]}}",
                 night ? "dark" : "light");
        cJSON_Delete(drive("POST", "/goog/cdp/execute", body));
        for (int width = 360; width <= 1280; width += 920) {
            snprintf(body, sizeof body,
                     "{\"cmd\":\"Emulation.setDeviceMetricsOverride\",\"params\":{\"width\":%d,"
                     "\"height\":780,\"deviceScaleFactor\":1,\"mobile\":%s}}",
                     width, width < 900 ? "true" : "false");
            cJSON_Delete(drive("POST", "/goog/cdp/execute", body));
            open_page();
            put("#draw-file", "signs.drawings", "change");
            js_until("false", "return document.getElementById('draw-open').hidden");
            for (size_t k = 0; k < sizeof tabs / sizeof tabs[0]; k++) {
                tab(tabs[k]);
                js("document.querySelectorAll('#stack details').forEach(d => { d.open = true; })");
                if (strcmp(js("%s", audit), "") != 0)
                    fail_msg("%s at %d, %s: %s", tabs[k], width, night ? "night" : "day", returned);
            }
        }
    }
    assert_string_equal(browser_errors(), "");
    assert_true(atoi(js("return performance.getEntriesByType('resource').filter(r => "
                        "!r.name.startsWith(location.origin)).length")) == 0);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_touched_colour_reaches_the_pixels),
        cmocka_unit_test(every_control_changes_the_show),
        cmocka_unit_test(time_level_keys_and_values),
        cmocka_unit_test(the_text_is_edited_in_place),
        cmocka_unit_test(drawings_are_edited_by_touch),
        cmocka_unit_test(presets_are_saved_and_used),
        cmocka_unit_test(it_comes_again_after_a_cut),
        cmocka_unit_test(phone_and_desk_day_and_night),
    };
    return cmocka_run_group_tests(tests, begin, end);
}
