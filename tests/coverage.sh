#!/bin/sh
# How many branches of core, wire, bench and host the tests of the public interface and the command
# take, against the goals. Usage: coverage.sh FOLDER JOBS       FOLDER is built anew.
# What is not reached stands in FOLDER/not-reached.txt, by file and line.
set -eu
folder=$1
jobs=$2
here=$(cd "$(dirname "$0")/.." && pwd)
cd "$here"
rm -rf "$folder"
cmake -S . -B "$folder" -DCMAKE_BUILD_TYPE=Debug -DDIACHROME_CROSS=OFF \
    -DCMAKE_C_FLAGS="-O0 --coverage" >"$folder.log" 2>&1
MAKEFLAGS= cmake --build "$folder" -j "$jobs" >>"$folder.log" 2>&1 || { cat "$folder.log"; exit 1; }
rm -f "$folder.log"
# what limits memory would count itself; the others build nothing of this. Slow as it is, time is not judged
(cd "$folder" && NO_TIMING=1 EACH_FAMILY=1 ctest -j "$((jobs * 4))" -E '^(cli.bounds|install|names|single|manifests|checked)' \
    >tests.txt 2>&1) || { tail -20 "$folder/tests.txt"; exit 1; }
gcovr -r . --object-directory "$folder" "$folder/CMakeFiles" -f 'src/(core|wire|bench|host)/.*' --branches \
    >"$folder/not-reached.txt" 2>/dev/null
awk '$1 ~ /^src\/(core|wire|bench|host)\// && $2 + 0 > 0 {
    split($1, part, "/")
    all[part[2]] += $2
    taken[part[2]] += $3
}
END {
    split("core wire bench host", names, " ")
    split("95 95 90 90", goals, " ")
    for (k = 1; k <= 4; k++) {
        share = 100 * taken[names[k]] / all[names[k]]
        printf "branches of %-6s %5.1f %% of %5d   goal %d %%: %s\n", names[k], share, all[names[k]],
            goals[k], (share >= goals[k] ? "met" : "MISSED")
    }
}' "$folder/not-reached.txt"
