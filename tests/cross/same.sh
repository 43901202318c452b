#!/bin/sh
# The same checksums from the host, an ATmega328P (simavr) and a Cortex-M0 (QEMU).
# What is built for speed gives them too, where cross.sh has built it.
# Usage: same.sh OUT-FOLDER HOST-PROGRAM...
set -eu
out=$1
shift
for program in "$@"; do
    "$program"
done >"$out/host.txt"

# simavr colours what comes from the UART and ends each line with a full stop
on_avr() { # PROGRAMS...
    for part in "$@"; do
        timeout 120 simavr -m atmega328p -f 16000000 "$part" 2>&1 |
            sed -e 's/\x1b\[[0-9;]*m//g' -e 's/\r//g' -e 's/\.$//' |
            grep -E '^[a-z-]+( [0-9a-f]{8})+$' || true
    done
}
on_avr "$out"/avr/checksum_??.elf "$out"/avr/checksum_numbers.elf >"$out/avr.txt"
for part in checksum numbers; do
    timeout 120 qemu-system-arm -M microbit -nographic -monitor none -serial none \
        -semihosting-config enable=on,target=native -kernel "$out/arm/$part.elf" 2>&1 </dev/null || true
done >"$out/arm.txt"

lines=$(wc -l <"$out/host.txt")
[ "$lines" -ge 100 ] || { echo "only $lines lines of checksums"; exit 1; }
bad=0
for target in avr arm; do
    if diff "$out/host.txt" "$out/$target.txt"; then
        echo "$target: the same $lines lines"
    else
        echo "$target: not what the host says (above)"
        bad=1
    fi
done
if [ -d "$out/avr/fast" ]; then # cross.sh all
    on_avr "$out"/avr/quick_*.elf | sort >"$out/quick.txt"
    awk 'NF > 9 || $1 == "hues" || $1 == "many"' "$out/host.txt" | sort | while read -r look sums; do
        case $look in many) of=hues ;; *) of=$(echo "$look" | tr - _) ;; esac
        [ ! -e "$out/avr/quick_$of.elf" ] || echo "$look $sums"
    done >"$out/quick_host.txt"
    lines=$(wc -l <"$out/quick.txt")
    built=$(find "$out/avr" -name 'quick_*.elf' | wc -l)
    [ "$built" -ge 20 ] && [ "$lines" -eq $((6 * built)) ] ||
        { echo "$lines lines from $built programs built for speed; each has 6"; exit 1; }
    if diff "$out/quick_host.txt" "$out/quick.txt"; then
        echo "avr, built for speed: the same $lines lines"
    else
        echo "avr, built for speed: not what the host says (above)"
        bad=1
    fi
fi
exit $bad
