/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <signal.h>
#include <string.h>
#include <sys/prctl.h>
#include <sys/wait.h>
#include <unistd.h>

#include <diachrome/outlet.h>

#include "cli.h"
#include "guard.h"

static volatile pid_t worker;
static const int passed_on[] = {SIGINT, SIGTERM, SIGHUP, SIGQUIT, SIGUSR1, SIGUSR2, SIGALRM};

static void pass_on(int signal)
{
    int kept = errno;
    kill(worker, signal == SIGQUIT || signal == SIGUSR1 || signal == SIGUSR2 || signal == SIGALRM
                     ? SIGTERM
                     : signal);
    errno = kept;
}

/* Light that nobody drives any more. */
static int make_dark(const struct dia_rig *rig, const char *name, int signal)
{
    struct dia_diagnostic wrong = {""};
    struct dia_outlet *outlet = dia_outlet_open(rig, NULL, &wrong);
    if (!outlet)
        return cli_fail(CLI_MACHINE, name,
                        "was ended by the signal %s, and the parts cannot be made dark: %s",
                        strsignal(signal), wrong.text);
    enum dia_status status = dia_outlet_dark(outlet);
    struct dia_outlet_state state;
    dia_outlet_state(outlet, &state);
    dia_outlet_close(outlet);
    return cli_fail(CLI_MACHINE, name, "was ended by the signal %s; %s", strsignal(signal),
                    status == DIA_OK ? "everything is dark" : state.trouble);
}

void guard_hear(void (*hears)(int signal))
{
    struct sigaction heard = {.sa_handler = hears};
    for (size_t k = 0; k < sizeof passed_on / sizeof passed_on[0]; k++) {
        struct sigaction was;
        if (sigaction(passed_on[k], NULL, &was) == 0 && was.sa_handler != SIG_IGN)
            sigaction(passed_on[k], &heard, NULL);
    }
}

int guard_run(const struct dia_rig *rig, const char *name, int (*work)(void *self), void *self)
{
    sigset_t all, was;
    int result;
    sigfillset(&all);
    sigprocmask(SIG_BLOCK, &all, &was);
    fflush(stdout);
    pid_t watcher = getpid();
    worker = fork();
    if (worker < 0) {
        sigprocmask(SIG_SETMASK, &was, NULL);
        return cli_fail(CLI_MACHINE, name, "a process cannot begin: %s", strerror(errno));
    }
    if (worker == 0) {
        prctl(PR_SET_PDEATHSIG, SIGTERM);
        if (getppid() != watcher) /* it went before it could be told so */
            raise(SIGTERM);
        sigprocmask(SIG_SETMASK, &was, NULL);
        return work(self);
    }
    guard_hear(pass_on);
    sigprocmask(SIG_SETMASK, &was, NULL);
    while (waitpid(worker, &result, 0) < 0 && errno == EINTR)
        ;
    if (WIFEXITED(result))
        _exit(WEXITSTATUS(result)); /* what there was to print has been */
    return make_dark(rig, name, WTERMSIG(result));
}
