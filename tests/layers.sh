#!/bin/sh
# Who may know whom: cli -> live -> host -> plan, bench -> wire -> core, never back; the bench shares nothing
# with the wire. Inside the host: bringup -> check, picture, plot -> play, show -> rig -> texts.
# Headers count with all that they include in turn. Usage: layers.sh SOURCE-FOLDER
set -eu
cd "$1"
bad=0

core="linkage version status fixed config colour gradient frame surface face text look grid layout wave layer pace develop power lamp signal noise number value keys cue draw path"
wire="$core pin port part driver onewire clocked parallel strip group set inplace_strip matrix slices shift digits pin_lamps panel rgb_panel characters letters diachrome"
sim="$wire edge sim"
bench="linkage status config pin edge finding rails bench pulse_engine"
texts="$sim $bench drawings diagnostic quantity nearest number_double colour_text palette_file points_file look_text film picture universe"
plan="$core pin port slices refresh_plan schedule flicker pulses"
rig="$texts refresh_plan schedule flicker pulses rig feeding feed_plan resistor fault"
rig="$rig flashing"
play="$rig linux_port outlet player rig_layer signal_text show_value show trace"
pictures="$play reel plot scene"
glyphs="$texts editor"
check="$play check"
parts="$rig parts"
live="$play live"
wave="$play capture judge waveform pulses_run"
report="$pictures $check parts $wave report"
serve="$pictures editor live serve"
host="$report bringup editor live"

# Public headers that some files include, and those that these include in turn.
closure() {
    todo=$(cat "$@" | sed -n 's/^#include <diachrome\/\([a-z_]*\)\.h>.*/\1/p' | sort -u)
    seen=" "
    while [ -n "$todo" ]; do
        next=""
        for header in $todo; do
            case "$seen" in *" $header "*) continue ;; esac
            seen="$seen$header "
            next="$next $(sed -n 's/^#include "\([a-z_]*\)\.h".*/\1/p' "include/diachrome/$header.h")"
        done
        todo=$(echo $next)
    done
    echo "$seen"
}
allow() { # HEADERS NAME FILES...
    allowed=$1
    name=$2
    shift 2
    for header in $(closure "$@"); do
        case " $allowed " in
        *" $header "*) ;;
        *) echo "$name must not include <diachrome/$header.h>, nor what includes it"; bad=1 ;;
        esac
    done
}
# Private headers come from a folder's own and from those it may know; family.h is below all.
private() { # FOLDERS NAME FILES...
    folders=$1
    name=$2
    shift 2
    for header in $(cat "$@" | sed -n 's/^#include "\([a-z_]*\.h\)".*/\1/p' | sort -u); do
        found=0
        for folder in $folders; do
            [ -f "$folder/$header" ] && found=1
        done
        [ "$header" = family.h ] && found=1
        [ $found = 1 ] || { echo "$name must not include \"$header\""; bad=1; }
    done
}

allow "$core" src/core $(find src/core -name '*.[ch]')
allow "$wire" src/wire src/wire/*.[ch]
allow "$sim" src/port/sim src/port/sim/*.[ch]
allow "$wire avr" src/port/avr src/port/avr/*.[ch]
allow "$wire linux_port" src/port/linux src/port/linux/*.[ch]
allow "$bench" src/bench src/bench/*.[ch]
h=src/host
allow "$plan" src/plan src/plan/*.[ch]
allow "$texts" $h $h/*.[ch]
allow "$rig" $h/feed $h/feed/*.[ch]
allow "$rig" $h/rig $h/rig/*.[ch] $h/family/family.h
allow "$play" $h/play $h/play/*.[ch]
allow "$texts" $h/media $h/media/*.[ch]
allow "$glyphs" $h/glyphs $h/glyphs/*.[ch]
allow "$play" $h/show $h/show/*.[ch]
allow "$pictures" $h/picture $h/picture/*.[ch]
allow "$pictures" $h/plot $h/plot/*.[ch]
allow "$check" $h/check $h/check/*.[ch]
allow "$wave" $h/wave $h/wave/*.[ch]
allow "$parts" $h/parts $h/parts/*.[ch]
allow "$report" $h/report $h/report/*.[ch]
allow "$host" $h/bringup $h/bringup/*.[ch] $h/family/*.[ch]
allow "$live" $h/live $h/live/*.[ch]
allow "$serve" src/live src/live/*.[ch]
allow "$host serve" src/cli src/cli/*.[ch]

private "$h" $h $h/*.[ch]
private "$h $h/feed" $h/feed $h/feed/*.[ch]
private "$h $h/rig" $h/rig $h/rig/*.[ch]
private "$h $h/rig $h/play" $h/play $h/play/*.[ch]
private "$h $h/media" $h/media $h/media/*.[ch]
private "$h $h/media $h/glyphs" $h/glyphs $h/glyphs/*.[ch]
private "$h $h/rig $h/show" $h/show $h/show/*.[ch]
private "$h $h/rig $h/play $h/picture" $h/picture $h/picture/*.[ch]
private "$h $h/rig $h/show $h/picture $h/plot" $h/plot $h/plot/*.[ch]
private "$h $h/check" $h/check $h/check/*.[ch]
private "$h $h/wave" $h/wave $h/wave/*.[ch]
private "$h $h/parts" $h/parts $h/parts/*.[ch]
private "$h $h/picture $h/wave $h/report" $h/report $h/report/*.[ch]
private "$h $h/rig $h/check $h/bringup" $h/bringup $h/bringup/*.[ch]
private "$h $h/rig $h/play $h/check $h/bringup $h/family" $h/family $h/family/*.c
private "$h $h/show $h/live" $h/live $h/live/*.[ch]
private src/live src/live src/live/*.[ch]
private src/cli src/cli src/cli/*.[ch]
private "src/core src/core/look src/core/layout src/core/draw src/core/text src/core/large src/core/small" src/core $(find src/core -name '*.[ch]')
private src/plan src/plan src/plan/*.[ch]
private src/wire src/wire src/wire/*.[ch]
private src/bench src/bench src/bench/*.[ch]

# Which family a device is of is asked by its own file alone.
if grep -n 'family == &\|family_\(matrix\|shift\|digits\|panel\|characters\)\b' -r src/host src/live src/cli |
    grep -v '^src/host/family/famil\(ies\|y_[a-z]*\)\.c'; then
    echo "only src/host/family may know which families there are (above)"
    bad=1
fi
# No private header of another folder by its path, but for the parts of core.
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
