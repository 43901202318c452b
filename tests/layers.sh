#!/bin/sh
# Who may know whom: cli -> host -> bench -> wire -> core, never back; the bench shares nothing
# with the wire. Usage: layers.sh SOURCE-FOLDER
set -eu
cd "$1"
bad=0

core="status fixed rom colour gradient frame surface look grid layout wave layer pace develop power lamp signal noise keys cue draw"
wire="$core pin port part driver onewire clocked parallel strip group set inplace_strip matrix slices shift digits panel characters diachrome"
sim="$wire edge sim"
bench="status pin edge finding bench"
host="$sim $bench diagnostic quantity nearest rig colour_text points_file palette_file look_text fault player rig_layer show plot signal_text trace reel check bringup"

headers() { # FOLDER: the public headers it includes, and what they include in turn
    grep -ho '#include <diachrome/[a-z_]*\.h>' -r "$1" | sed 's/.*diachrome.\(.*\)\.h>/\1/' | sort -u
}
allow() { # FOLDER HEADERS
    for header in $(headers "$1"); do
        case " $2 " in
        *" $header "*) ;;
        *) echo "$1 must not include <diachrome/$header.h>"; bad=1 ;;
        esac
    done
}
allow src/core "$core"
allow src/wire "$wire"
allow src/port/sim "$sim"
allow src/port/avr "$wire avr"
allow src/bench "$bench"
allow src/host "$host"
# No private header of another folder, but for the parts of core in its own subfolders.
if grep -n '#include "\.\./' -r src | grep -v '^src/core/[a-z]*/'; then
    echo "a private header of another folder (above)"
    bad=1
fi
# Core and wire: freestanding headers, stdatomic.h (for the signal fence) and string.h.
if grep -hn '#include <[a-z]*\.h>' -r src/core src/wire | grep -vE '<(stdatomic|stddef|stdint|string)\.h>'; then
    echo "core and wire include only stdatomic.h, stddef.h, stdint.h and string.h"
    bad=1
fi
# A look is one file, and no long one.
for look in src/core/look/look_*.c; do
    [ "$(wc -l <"$look")" -lt 100 ] || { echo "$look has 100 lines or more"; bad=1; }
done
exit $bad
