#!/bin/sh
# Only names that begin with dia_ leave the libraries. Usage: names.sh LIBRARY...
set -eu
bad=0
for library in "$@"; do
    names=$(nm -g --defined-only "$library" | awk 'NF == 3 && $3 !~ /^dia_/ { print $3 }' | sort -u)
    [ -n "$(nm -g --defined-only "$library" | grep ' T dia_version$\| T dia_bench_new$\| T dia_rig_load$\| T dia_serve_new$')" ] ||
        { echo "$library: none of the names that it must have"; bad=1; }
    [ -z "$names" ] || { echo "$library: these names must begin with dia_:" $names; bad=1; }
done
exit $bad
