#!/bin/sh
# The library as one header and one source: compiles with nothing else, as C and as C++, for an
# ATmega328P (and for a Cortex-M0), and draws the same bytes. Usage: single.sh BUILD-FOLDER SOURCE-FOLDER
# CHECKSUM-PROGRAM [all]        all: also what .ci/run has the time for
set -eu
out=$1/run/single
source=$2
rm -rf "$out"
make -s -C "$source" single BUILD="$out" >/dev/null
one=$out/single
strict="-Wall -Wextra -Wpedantic -Werror"
controller="-DDIA_SMALL -DDIA_RUN=16u -DDIA_STACK_RUN=16u -Os -Wall -Wextra"

# The program includes <diachrome/diachrome.h>: here that is the one header.
mkdir -p "$out/include/diachrome"
ln -s "$one/diachrome.h" "$out/include/diachrome/diachrome.h"
program() { # NAME COMPILER OPTIONS...
    name=$1
    shift
    "$@" -c "$one/diachrome.c" -o "$out/$name.o"
    cc -std=c11 -I"$out/include" -I"$one" "$source/tests/cross/checksum.c" \
        "$source/tests/cross/board_host.c" "$out/$name.o" -o "$out/$name"
    "$out/$name" >"$out/$name.txt"
    cmp "$out/expected.txt" "$out/$name.txt"
}
"$3" >"$out/expected.txt"
[ -s "$out/expected.txt" ]
# shellcheck disable=SC2086
program as-c cc -std=c11 $strict
program as-cpp c++ -std=c++20 -x c++ -Wall

# shellcheck disable=SC2086
avr-gcc -mmcu=atmega328p -std=gnu11 -DDIA_ROM=__flash $controller -c "$one/diachrome.c" -o "$out/avr.o"
if [ "${4:-}" = all ]; then
    # shellcheck disable=SC2086
    arm-none-eabi-gcc -mcpu=cortex-m0 -mthumb -std=c11 -ffreestanding $controller -c "$one/diachrome.c" \
        -o "$out/arm.o"
    # shellcheck disable=SC2086
    program small cc -std=c11 -DDIA_SMALL $strict
    arm-none-eabi-g++ -mcpu=cortex-m0 -mthumb -std=c++20 -x c++ -ffreestanding -DDIA_SMALL -Os \
        -c "$one/diachrome.c" -o "$out/arm-cpp.o" 2>/dev/null
fi
nm -g --defined-only "$out/as-c.o" "$out/as-cpp.o" | awk 'NF == 3 && $3 !~ /^dia_/ { print; bad = 1 }
    END { exit bad }'
