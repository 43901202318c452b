#!/bin/sh
# Every public header compiles alone, as C11 and C++17 (and C17), and those for controllers by the
# compilers for controllers too, in C and in C++.
# Usage: headers.sh SOURCE-FOLDER [all]        all: also what .ci/run has the time for
set -eu
cd "$1"
bad=0
warnings="-Wall -Wextra -Wpedantic -Werror -Iinclude -fsyntax-only"
try() { # HEADER COMPILER OPTIONS...
    header=$1
    shift
    # twice, as a program may
    printf '#include <diachrome/%s>\n#include <diachrome/%s>\ntypedef int not_empty;\n' "$header" "$header" |
        "$@" $warnings - || { echo "<diachrome/$header> does not compile alone by: $*"; bad=1; }
}
on_desktop=" report schedule flicker pulses pulses_run pulse_engine bench bringup check feeding feed_plan resistor parts refresh_plan capture judge waveform rails colour_text diagnostic fault finding look_text nearest palette_file player plot points_file quantity reel rig rig_layer show show_value live flashing linux_port outlet scene serve drawings film picture universe signal_text sim trace "
for path in include/diachrome/*.h; do
    header=$(basename "$path")
    # each that has functions says from where they may be called, and what they cost
    if grep -v '^typedef' "$path" | grep -q '^[a-z][a-z_ ]*[ *]dia_[a-z_0-9]*('; then
        for word in Context: Cost:; do
            grep -q "$word" "$path" || { echo "<diachrome/$header> does not say its ${word%:}"; bad=1; }
        done
    fi
    try "$header" cc -std=c11 -x c
    [ "${2:-}" != all ] || try "$header" cc -std=c17 -x c
    try "$header" c++ -std=c++17 -x c++
    case "$on_desktop" in *" ${header%.h} "*) continue ;; esac
    if command -v avr-g++ >/dev/null; then
        try "$header" avr-gcc -mmcu=atmega328p -std=gnu11 -DDIA_ROM=__flash -x c
        try "$header" avr-g++ -mmcu=atmega328p -std=gnu++11 -DDIA_ROM=__flash -x c++
    fi
done
exit $bad
