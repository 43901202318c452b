/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stddef.h>
#include <string.h>

#include <diachrome/nearest.h>

#define LONGEST 48

static size_t least(size_t a, size_t b)
{
    return a < b ? a : b;
}

/* Letters to change, put in, leave out or swap with their neighbour. */
static size_t distance(const char *a, const char *b)
{
    size_t n = strlen(a), m = strlen(b);
    if (n > LONGEST || m > LONGEST)
        return LONGEST;
    size_t rows[3][LONGEST + 1], *before = rows[0], *last = rows[1], *row = rows[2];
    for (size_t j = 0; j <= m; j++)
        last[j] = j;
    for (size_t i = 1; i <= n; i++) {
        row[0] = i;
        for (size_t j = 1; j <= m; j++) {
            int same = tolower((unsigned char)a[i - 1]) == tolower((unsigned char)b[j - 1]);
            row[j] = least(last[j - 1] + !same, least(last[j], row[j - 1]) + 1);
            if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
                row[j] = least(row[j], before[j - 2] + 1);
        }
        size_t *spare = before;
        before = last;
        last = row;
        row = spare;
    }
    return last[m];
}

const char *dia_nearest(const char *word, const char *const *known)
{
    const char *found = NULL;
    size_t best = LONGEST, n = strlen(word);
    for (; *known; known++) {
        size_t m = strlen(*known), most = least(best, least(m, m / 3 + 2));
        if ((n > m ? n - m : m - n) >= most) /* so many letters at least */
            continue;
        size_t d = distance(word, *known);
        if (d < most) {
            best = d;
            found = *known;
        }
    }
    return found;
}
