/* SPDX-License-Identifier: MIT */
#define _GNU_SOURCE
#include <dlfcn.h>
#include <errno.h>
#include <fcntl.h>
#include <link.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

/*
 * To be loaded before a program (LD_PRELOAD): one call of a kind fails, once, that the program
 * itself makes. FAIL_KIND is memory, open, close, rename or link; FAIL_AT is which one, from 1.
 * When it has failed there is a file FAIL_MARK. Calls that libraries make work as ever.
 *
 * What the program has taken and nobody has freed when it ends is counted; if there is any, and it
 * ends by itself, its number is in the file FAIL_LEFT.
 */
static unsigned long low, high; /* of the program's own code */
static long at, seen;
static char kind[16];

static struct {
    FILE *(*open)(const char *, const char *);
    int (*close)(FILE *);
    int (*rename)(const char *, const char *);
    int (*link)(int, const char *, int, const char *, int);
} real;

#define PLACES 65536u /* of what is taken and not freed; the command takes some hundreds */
static void *taken[PLACES];
static unsigned count;

static unsigned place_of(const void *memory)
{
    unsigned place = (unsigned)((unsigned long)memory >> 4) % PLACES;
    while (taken[place] && taken[place] != memory)
        place = (place + 1) % PLACES;
    return place;
}

/* What comes after this is the compiler's, which measures what has been reached. */
static void end(void)
{
    const char *path = getenv("FAIL_LEFT");
    at = 0;
    FILE *file = path && count ? fopen(path, "w") : NULL;
    if (file) {
        fprintf(file, "%u\n", count);
        fclose(file);
    }
    low = high = 0;
}

static void *take(void *memory, void *caller)
{
    unsigned long from = (unsigned long)caller;
    if (memory && from >= low && from < high && count < PLACES / 2) {
        taken[place_of(memory)] = memory;
        count++;
    }
    return memory;
}

/* Those behind it move up, where they are not at home. */
static void forget(const void *memory)
{
    unsigned place = memory ? place_of(memory) : 0;
    if (!memory || !taken[place])
        return;
    taken[place] = NULL;
    count--;
    for (place = (place + 1) % PLACES; taken[place]; place = (place + 1) % PLACES) {
        void *moves = taken[place];
        taken[place] = NULL;
        taken[place_of(moves)] = moves;
    }
}

static int find_program(struct dl_phdr_info *info, size_t size, void *data)
{
    (void)size;
    (void)data;
    for (int k = 0; k < info->dlpi_phnum; k++) {
        const ElfW(Phdr) *part = &info->dlpi_phdr[k];
        if (part->p_type == PT_LOAD && part->p_flags & PF_X) {
            low = info->dlpi_addr + part->p_vaddr;
            high = low + part->p_memsz;
        }
    }
    return 1; /* the program comes first */
}

__attribute__((constructor)) static void begin(void)
{
    const char *what = getenv("FAIL_KIND"), *number = getenv("FAIL_AT");
    dl_iterate_phdr(find_program, NULL);
    snprintf(kind, sizeof kind, "%s", what ? what : "");
    at = number ? atol(number) : 0;
    *(void **)&real.open = dlsym(RTLD_NEXT, "fopen"); /* as POSIX has it */
    *(void **)&real.close = dlsym(RTLD_NEXT, "fclose");
    *(void **)&real.rename = dlsym(RTLD_NEXT, "rename");
    *(void **)&real.link = dlsym(RTLD_NEXT, "linkat");
}

static int fails(const char *what, void *caller, int reason)
{
    unsigned long from = (unsigned long)caller;
    if (at == 0 || from < low || from >= high || strcmp(kind, what) != 0 || ++seen != at)
        return 0;
    const char *mark = getenv("FAIL_MARK");
    int file = mark ? open(mark, O_CREAT | O_WRONLY, 0600) : -1;
    if (file >= 0)
        close(file);
    errno = reason;
    return 1;
}

static int (*real_main)(int, char **, char **);

static int main_begins(int argc, char **argv, char **environment)
{
    atexit(end); /* comes before what the compiler does at the end */
    return real_main(argc, argv, environment);
}

typedef int start_main(int (*)(int, char **, char **), int, char **, void (*)(void), void (*)(void),
                       void (*)(void), void *);

int __libc_start_main(int (*its_main)(int, char **, char **), int argc, char **argv,
                      void (*begins)(void), void (*ends)(void), void (*loader_ends)(void),
                      void *stack)
{
    start_main *start;
    *(void **)&start = dlsym(RTLD_NEXT, "__libc_start_main");
    real_main = its_main;
    return start(main_begins, argc, argv, begins, ends, loader_ends, stack);
}

#define CALLER __builtin_return_address(0)

void *__libc_malloc(size_t);
void *__libc_calloc(size_t, size_t);
void *__libc_realloc(void *, size_t);
void __libc_free(void *);

void *malloc(size_t size)
{
    return fails("memory", CALLER, ENOMEM) ? NULL : take(__libc_malloc(size), CALLER);
}

void *calloc(size_t n, size_t size)
{
    return fails("memory", CALLER, ENOMEM) ? NULL : take(__libc_calloc(n, size), CALLER);
}

void *realloc(void *old, size_t size)
{
    if (fails("memory", CALLER, ENOMEM))
        return NULL;
    void *larger = __libc_realloc(old, size);
    if (larger || size == 0)
        forget(old);
    return take(larger, CALLER);
}

void free(void *memory)
{
    int reason = errno; /* free keeps it */
    forget(memory);
    __libc_free(memory);
    errno = reason;
}

FILE *fopen(const char *path, const char *mode)
{
    return fails("open", CALLER, EACCES) ? NULL : real.open(path, mode);
}

int fclose(FILE *file)
{
    int failed = fails("close", CALLER, EIO);
    int result = real.close(file);
    errno = failed ? EIO : errno;
    return failed ? EOF : result;
}

int rename(const char *from, const char *to)
{
    return fails("rename", CALLER, EACCES) ? -1 : real.rename(from, to);
}

int linkat(int from_folder, const char *from, int to_folder, const char *to, int flags)
{
    return fails("link", CALLER, EACCES) ? -1 : real.link(from_folder, from, to_folder, to, flags);
}
