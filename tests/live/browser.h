/* SPDX-License-Identifier: MIT */
#ifndef DIA_TESTS_BROWSER_H
#define DIA_TESTS_BROWSER_H

#include "served.h"

#include <cjson/cJSON.h>

/* A browser, by W3C WebDriver. */
static struct browser {
    pid_t pid;
    unsigned port;
    char session[80];
} browser;

/* Asks the driver; what it answers under "value", to be deleted. */
static inline cJSON *drive(const char *method, const char *path, const char *body)
{
    char url[300];
    snprintf(url, sizeof url, "http://127.0.0.1:%u%s%s%s", browser.port,
             browser.session[0] ? "/session/" : "", browser.session, path);
    long code = http(method, url,
                     body                     ? body
                     : strcmp(method, "POST") ? NULL
                                              : "{}",
                     "Content-Type: application/json");
    if (code != 200)
        fail_msg("%s %s: %ld %s", method, path, code, answer);
    cJSON *all = cJSON_Parse(answer), *value = cJSON_DetachItemFromObject(all, "value");
    cJSON_Delete(all);
    return value;
}

static inline void browser_end(void)
{
    if (browser.session[0])
        cJSON_Delete(drive("DELETE", "", NULL));
    browser.session[0] = 0;
    if (browser.pid > 0) {
        kill(browser.pid, SIGTERM);
        waitpid(browser.pid, NULL, 0);
    }
    browser.pid = 0;
}

/* 0: it is there. */
static inline int browser_begin(unsigned port)
{
    static const char wants[] =
        "{\"capabilities\":{\"alwaysMatch\":{\"browserName\":\"chrome\","
        "\"goog:loggingPrefs\":{\"browser\":\"ALL\"},\"goog:chromeOptions\":{\"args\":["
        "\"--headless=new\",\"--no-sandbox\",\"--disable-gpu\",\"--disable-quic\","
        "\"--no-first-run\",\"--disable-background-networking\",\"--disable-component-update\","
        "\"--disable-sync\",\"--disable-dev-shm-usage\",\"--touch-events=enabled\","
        "\"--window-size=1280,900\"]}}}}";
    char text[40], url[80];
    browser.port = port;
    browser.pid = fork();
    if (browser.pid == 0) {
        prctl(PR_SET_PDEATHSIG, SIGTERM);
        int nothing = open("/dev/null", O_RDWR);
        dup2(nothing, 0);
        dup2(nothing, 1);
        dup2(nothing, 2);
        snprintf(text, sizeof text, "--port=%u", port);
        execlp("chromedriver", "chromedriver", text, (char *)NULL);
        _exit(127);
    }
    snprintf(url, sizeof url, "http://127.0.0.1:%u/status", port);
    for (double until = seconds() + 15; http("GET", url, NULL, NULL) != 200;) {
        if (seconds() > until)
            return -1;
        rest_ms(50);
    }
    snprintf(url, sizeof url, "http://127.0.0.1:%u/session", port);
    if (http("POST", url, wants, "Content-Type: application/json") != 200)
        return -1;
    cJSON *all = cJSON_Parse(answer);
    const cJSON *value = cJSON_GetObjectItem(all, "value");
    snprintf(browser.session, sizeof browser.session, "%s",
             cJSON_GetStringValue(cJSON_GetObjectItem(value, "sessionId")));
    cJSON_Delete(all);
    return 0;
}

/* What a script returns, as text. */
static char returned[1 << 16];
__attribute__((format(printf, 1, 2))) static inline const char *js(const char *format, ...)
{
    static char script[1 << 15];
    va_list args;
    va_start(args, format);
    vsnprintf(script, sizeof script, format, args);
    va_end(args);
    cJSON *body = cJSON_CreateObject();
    cJSON_AddStringToObject(body, "script", script);
    cJSON_AddArrayToObject(body, "args");
    char *text = cJSON_PrintUnformatted(body);
    cJSON *value = drive("POST", "/execute/sync", text);
    char *printed =
        cJSON_IsString(value) ? strdup(value->valuestring) : cJSON_PrintUnformatted(value);
    snprintf(returned, sizeof returned, "%s", printed);
    free(printed);
    free(text);
    cJSON_Delete(value);
    cJSON_Delete(body);
    return returned;
}

/* Waits until a script returns a text. */
__attribute__((format(printf, 2, 3))) static inline void js_until(const char *wanted,
                                                                  const char *format, ...)
{
    char script[4000];
    va_list args;
    va_start(args, format);
    vsnprintf(script, sizeof script, format, args);
    va_end(args);
    for (double until = seconds() + 10; strcmp(js("%s", script), wanted) != 0;) {
        if (seconds() > until)
            fail_msg("%s: is %s, not %s", script, returned, wanted);
        rest_ms(20);
    }
}

/* A button that is off does nothing: it is pressed when the page has heard what turns it on. */
static inline void press(const char *selector)
{
    js_until("false", "return !!document.querySelector('%s').disabled", selector);
    js("document.querySelector('%s').click()", selector);
}

static inline void go(const char *url)
{
    char body[300];
    snprintf(body, sizeof body, "{\"url\":\"%s\"}", url);
    cJSON_Delete(drive("POST", "/url", body));
}

static inline void window(int width, int height)
{
    char body[80];
    snprintf(body, sizeof body, "{\"width\":%d,\"height\":%d}", width, height);
    cJSON_Delete(drive("POST", "/window/rect", body));
}

/* A finger goes down at a place of the window, and along to others; or a key is typed. */
static inline void touch(const int (*at)[2], int count)
{
    char body[2000];
    int n = snprintf(body, sizeof body,
                     "{\"actions\":[{\"type\":\"pointer\",\"id\":\"f\",\"parameters\":"
                     "{\"pointerType\":\"touch\"},\"actions\":[");
    for (int k = 0; k < count; k++)
        n += snprintf(body + n, sizeof body - (size_t)n,
                      "{\"type\":\"pointerMove\",\"duration\":%d,\"x\":%d,\"y\":%d},%s", k ? 80 : 0,
                      at[k][0], at[k][1], k ? "" : "{\"type\":\"pointerDown\",\"button\":0},");
    snprintf(body + n, sizeof body - (size_t)n, "{\"type\":\"pointerUp\",\"button\":0}]}]}");
    cJSON_Delete(drive("POST", "/actions", body));
}

static inline void type_key(const char *key)
{
    char body[300];
    snprintf(body, sizeof body,
             "{\"actions\":[{\"type\":\"key\",\"id\":\"k\",\"actions\":["
             "{\"type\":\"keyDown\",\"value\":\"%s\"},{\"type\":\"keyUp\",\"value\":\"%s\"}]}]}",
             key, key);
    cJSON_Delete(drive("POST", "/actions", body));
}

/* Errors that the browser logged since it was last asked; "": none. */
static inline const char *browser_errors(void)
{
    static char errors[4000];
    cJSON *all = drive("POST", "/se/log", "{\"type\":\"browser\"}"), *one;
    size_t n = 0;
    errors[0] = 0;
    cJSON_ArrayForEach(one, all)
    {
        const char *text = cJSON_GetStringValue(cJSON_GetObjectItem(one, "message"));
        if (n < sizeof errors)
            n += (size_t)snprintf(errors + n, sizeof errors - n, "%s\n", text);
    }
    cJSON_Delete(all);
    return errors;
}

#endif
