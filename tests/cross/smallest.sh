#!/bin/sh
# The smallest program: at most 4096 bytes of flash, and 64 of RAM beyond 3 a pixel. Numbers as
# texts: 600 bytes of flash. The face of five rows: 400.
# Usage: smallest.sh OUT-FOLDER
set -eu
avr-size "$1/avr/smallest.elf" | awk '
    NR == 2 {
        flash = $1 + $2
        ram = $2 + $3 - 60 * 3
        printf "flash %d of 4096, RAM beyond the pixels %d of 64\n", flash, ram
        exit !(flash <= 4096 && ram <= 64)
    }'
avr-nm -S -t d "$1/avr/library/number.o" | awk '
    $4 == "dia_number_text" {
        printf "numbers as texts: flash %d of 600\n", $2
        found = $2 + 0 <= 600
    }
    END { exit !found }'
# All of the small face: 400 bytes.
awk '$1 == "face_small" {
        printf "the small face: flash %d of 400\n", $2
        found = $2 + 0 <= 400
    }
    END { exit !found }' "$1/sizes.txt"
