#!/bin/sh
# Builds core, wire and the test programs for an ATmega328P and a Cortex-M0. Writes
# OUT/{avr,arm}/*.elf and the table OUT/sizes.txt.
# Usage: cross.sh OUT-FOLDER [all]        all: also what is built for speed (make bench, .ci/run)
set -eu
mkdir -p "$1"
out=$(cd "$1" && pwd)
here=$(cd "$(dirname "$0")" && pwd)
top=$(cd "$here/../.." && pwd)
cd "$top"

warnings="-Wall -Wextra -Wpedantic -Wconversion -Wshadow -Werror"
common="$warnings -Os -ffunction-sections -fdata-sections -Iinclude -DDIA_RUN=16u -DDIA_STACK_RUN=16u"
avr="avr-gcc -mmcu=atmega328p -std=gnu11 -DF_CPU=16000000UL -DDIA_ROM=__flash $common"
arm="arm-none-eabi-gcc -mcpu=cortex-m0 -mthumb -std=c11 -ffreestanding $common"
drawing="src/core/*.c src/core/layout/*.c src/core/draw/*.c"
others="src/core/look/*.c src/core/text/*.c src/core/small/*.c src/wire/*.c"
library="$drawing $others"

compile() { # FOLDER COMPILER SOURCES...
    folder=$1
    compiler=$2
    shift 2
    mkdir -p "$folder"
    for source in "$@"; do
        $compiler -c "$source" -o "$folder/$(basename "$source" .c).o"
    done
}

rm -rf "$out/avr" "$out/arm"
# shellcheck disable=SC2086
compile "$out/avr/library" "$avr" $others
# Drawing and layers by shorter code, so that a test program with all of them fits.
# shellcheck disable=SC2086
compile "$out/avr/library" "$avr -mcall-prologues" $drawing
# shellcheck disable=SC2086
compile "$out/arm/library" "$arm" $library

# In parts of two looks, which fit an ATmega328P; drawing and text need two each.
compile "$out/avr" "$avr" tests/cross/board_avr.c
part=0
checksum() { # LOOKS [OPTION]
    part=$((part + 1))
    # shellcheck disable=SC2086
    $avr -mrelax -DLOOKS="$1" $2 -Wl,--gc-sections tests/cross/checksum.c "$out"/avr/board_avr.o \
        "$out"/avr/library/*.o -o "$out/avr/checksum_$(printf %02d "$part").elf"
}
sed -n '/^const DIA_ROM struct dia_look \*const dia_looks/,/NULL/p' src/core/look/looks.c |
    grep -o '&dia_look_[a-z_]*' | paste -sd',\n' |
    sed 's/,&dia_look_draw/\n\&dia_look_draw/' >"$out/avr/looks"
while read -r looks; do
    case $looks in
    *draw* | *text*)
        checksum "$looks" -DSTACKS=0
        checksum "$looks" -DFRAMES=0
        ;;
    *) checksum "$looks" "" ;;
    esac
done <"$out/avr/looks"
part=98 # the last
checksum NULL -DHUES
# For speed: -O2 comes after -Os, and counts. What looks and text cost, and the same checksums, as it
# has products of its own: one look in each program. Text and drawing with it are more than the flash.
quick() { # NAME LOOK [OPTION]
    $avr -O2 -mrelax -DLOOKS="$2" $3 -Wl,--gc-sections tests/cross/checksum.c \
        "$out"/avr/board_avr.o "$out"/avr/fast/*.o -o "$out/avr/quick_$1.elf"
}
if [ "${2:-}" = all ]; then
    # shellcheck disable=SC2086
    compile "$out/avr/fast" "$avr -O2" $library
    row=0
    while read -r looks; do
        row=$((row + 1))
        $avr -O2 -DLOOKS="$looks" -Wl,--gc-sections tests/cross/looks_avr.c "$out"/avr/fast/*.o \
            -o "$out/avr/looks_$row.elf"
    done <"$out/avr/looks"
    $avr -O2 -Wl,--gc-sections tests/cross/text_avr.c "$out"/avr/fast/*.o -o "$out/avr/text.elf"
    quick hues NULL -DHUES
    for look in $(tr ',' ' ' <"$out/avr/looks" | sed 's/&dia_look_//g; s/draw//; s/text//'); do
        quick "$look" "&dia_look_$look" -DSTACKS=0
    done
fi
compile "$out/arm" "$arm" tests/cross/checksum.c tests/cross/board_arm.c
$arm -nostartfiles -T tests/cross/cortexm0.ld -Wl,--gc-sections "$out"/arm/checksum.o \
    "$out"/arm/board_arm.o "$out"/arm/library/*.o -o "$out/arm/checksum.elf"

compile "$out/avr" "$avr" tests/cross/contexts.c
compile "$out/arm" "$arm" tests/cross/contexts.c

# Numbers as texts.
$avr -Wl,--gc-sections tests/cross/numbers.c "$out/avr/board_avr.o" "$out"/avr/library/*.o \
    -o "$out/avr/checksum_numbers.elf"
compile "$out/arm" "$arm" tests/cross/numbers.c
$arm -nostartfiles -T tests/cross/cortexm0.ld -Wl,--gc-sections "$out"/arm/numbers.o \
    "$out"/arm/board_arm.o "$out"/arm/library/*.o -o "$out/arm/numbers.elf"

# The smallest program, as a maker would build it for size.
smallest="-flto -mcall-prologues -mrelax -fno-gcse"
# shellcheck disable=SC2086
$avr $smallest -Wl,--gc-sections $library src/port/avr/*.c tests/cross/smallest_avr.c \
    -o "$out/avr/smallest.elf"
# Programs for the tests that listen to the pins: the library as built above, the port anew for
# each clock.
for mhz in 8 16 20; do
    port="$avr -UF_CPU -DF_CPU=${mhz}000000UL -Wl,--gc-sections src/port/avr/*.c"
    for program in pulses interrupts moments; do
        # shellcheck disable=SC2086
        $port tests/cross/${program}_avr.c "$out/avr/board_avr.o" "$out"/avr/library/*.o -o "$out/avr/${program}_$mhz.elf"
    done
done
for program in ticks planes; do
    # shellcheck disable=SC2086
    $avr -Wl,--gc-sections src/port/avr/*.c tests/cross/${program}_avr.c "$out"/avr/library/*.o \
        -o "$out/avr/$program.elf"
done
# shellcheck disable=SC2086
$avr -UF_CPU -DF_CPU=20000000UL -Wl,--gc-sections src/port/avr/*.c tests/cross/planes_avr.c \
    "$out"/avr/library/*.o -o "$out/avr/planes_20.elf"

# The example project, by its own Makefile.
make -s -C examples/atmega328p OUT="$out/avr/shelf" "$out/avr/shelf/shelf.hex" >"$out/avr/shelf.txt"
mv "$out/avr/shelf/shelf.elf" "$out/avr/shelf.elf"

# An AVR copies constants that are not in DIA_ROM (such as texts) into RAM at the start, so there
# they count as both; a Cortex-M reads them in flash.
rows() { # SIZE-COMMAND FOLDER SECTIONS-IN-RAM
    for object in "$2"/*.o; do
        $1 -A "$object" | awk -v name="$(basename "$object" .o)" -v in_ram="$3" '
            $1 ~ /^\.(text|rodata|data|progmem)/ { flash += $2 }
            $1 ~ in_ram { ram += $2 }
            END { print name, flash + 0, ram + 0 }'
    done
}
rows avr-size "$out/avr/library" "^.(rodata|data|bss)" >"$out/avr/rows"
rows arm-none-eabi-size "$out/arm/library" "^.(data|bss)" >"$out/arm/rows"
{
    echo "size in bytes               ATmega328P            Cortex-M0"
    echo "                         flash      RAM       flash      RAM"
    paste -d' ' "$out/avr/rows" "$out/arm/rows" |
        awk '{ printf "%-22s %7d  %7d     %7d  %7d\n", $1, $2, $3, $5, $6 }'
    avr-size "$out/avr/smallest.elf" |
        awk 'NR == 2 { printf "smallest program       %7d  %7d  (60 pixels: 180 of RAM)\n", $1 + $2, $2 + $3 }'
} >"$out/sizes.txt"
