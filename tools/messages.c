/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/*
 * All sentences that tell a user what is wrong, out of the sources that are given:
 * docs/messages.md, to be read in one go. Usage: messages FILE... >docs/messages.md
 */
static const char *const tellers[] = {"dia_host_wrong",
                                      "dia_live_wrong",
                                      "dia_linux_wrong",
                                      "refuse",
                                      "dia_rig_wrong_value",
                                      "dia_rig_wrong_key",
                                      "cli_fail",
                                      "dia_check_add",
                                      "dia_run_cause",
                                      "dia_cause_wiring",
                                      "dia_cause_evidence",
                                      "dia_run_ask",
                                      "dia_host_failed",
                                      "dia_film_wrong",
                                      "dia_player_complain",
                                      "say",
                                      NULL};

static char *read_all(const char *path)
{
    FILE *file = fopen(path, "rb");
    if (!file) {
        perror(path);
        exit(3);
    }
    fseek(file, 0, SEEK_END);
    long size = ftell(file);
    rewind(file);
    char *text = calloc(1, (size_t)size + 1);
    if (!text || fread(text, 1, (size_t)size, file) != (size_t)size) {
        perror(path);
        exit(3);
    }
    fclose(file);
    return text;
}

/* What follows the name of one that tells, and a bracket; NULL: it is no such place. */
static const char *call_at(const char *text, const char *at)
{
    for (int k = 0; tellers[k]; k++) {
        size_t n = strlen(tellers[k]);
        if (strncmp(at, tellers[k], n) == 0 && at[n] == '(' &&
            (at == text || !(isalnum((unsigned char)at[-1]) || at[-1] == '_')))
            return at + n + 1;
    }
    return NULL;
}

/* The literals of each argument up to the closing bracket that are sentences, or parts of one. */
static void tell(const char *at, const char *path, int *told)
{
    char literal[2000] = "";
    size_t used = 0;
    for (int depth = 1; *at && depth > 0; at++) {
        if (*at == '"') {
            for (at++; *at && *at != '"' && used < sizeof literal - 2; at++) {
                if (*at == '\\' && at[1])
                    literal[used++] = *at++;
                literal[used++] = *at;
            }
            literal[used] = 0;
            continue;
        }
        depth += *at == '(' ? 1 : *at == ')' ? -1 : 0;
        if (strncmp(at, "PRI", 3) == 0) { /* a part of the text: "%" PRIu32 " pixels" */
            at += 3;
            while (isalnum((unsigned char)at[1]))
                at++;
            literal[used++] = 'u';
            literal[used] = 0;
            continue;
        }
        if (!isspace((unsigned char)*at) && used != 0) {
            if (strchr(literal, ' ') && strlen(literal) > 12) {
                if (!*told)
                    printf("\n## `%s`\n\n", path);
                printf("- %s\n", literal);
                *told = 1;
            }
            used = 0;
        }
    }
}

int main(int argc, char **argv)
{
    printf(
        "# What is told\n\nMade by `make docs` from the sources: every sentence that says what is "
        "wrong, or asks. `%%s` and the like stand for names and numbers.\n");
    for (int k = 1; k < argc; k++) {
        char *text = read_all(argv[k]);
        int told = 0;
        for (const char *at = text; *at; at++) {
            const char *call = call_at(text, at);
            if (call)
                tell(call, argv[k], &told);
        }
        free(text);
    }
    return 0;
}
