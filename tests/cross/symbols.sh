#!/bin/sh
# No float, no heap anywhere in core and wire; 64-bit helpers only in the functions that work
# once a frame. Usage: symbols.sh OUT-FOLDER (of cross.sh)
set -eu
out=$1

# What is worked out once a frame, or not on a controller at all (dia_onewire_wire_ns).
once="scaled dia_surface_px_um dia_surface_part_um less_than_one power_of dia_curve_gamma root take_apart dia_gradient_init dia_once_travelled dia_once_turns dia_once_lengths dia_once_places dia_once_moved dia_once_offset dia_once_spaced dia_once_slot_at dia_once_cells dia_once_elapsed dia_once_gone dia_once_of dia_once_way_ms dia_once_part dia_tail_make_turn dia_ramp_init dia_surface_line dia_noise_row_at dia_onewire_wire_ns"

calls() { # OBJDUMP FOLDER: lines of FUNCTION CALLED
    for object in "$2"/*.o; do
        $1 -r "$object" | awk '
            /^RELOCATION RECORDS FOR/ {
                where = $4
                gsub("[\\[\\]:]", "", where)
                sub(/^\.rela?/, "", where)
                sub(/^\.text\./, "", where)
            }
            $2 ~ /^R_/ { called = $3; sub(/[+-]0x.*/, "", called); print where, called }'
    done
}

float='__((add|sub|mul|div|neg|cmp|eq|ne|lt|le|gt|ge|unord)[sd]f[23]?|fix.*[sd]f.i|float.*[sd]f|extendsf.*|truncdf.*|aeabi_[fd].*|aeabi_.*2[fd]|aeabi_[uil]*2[fd])$'
heap='^(malloc|calloc|realloc|free|alloca)$'
wide='__((mul|u?div|u?mod|ashl|ashr|lshr|add|sub|neg|cmp|ucmp)di[23](_s8)?|umulsidi3|mulsidi3|aeabi_(l|ul)(mul|div|divmod|lsl|lsr|asr|cmp)|aeabi_uldivmod|aeabi_ldivmod)$'

bad=0
for target in "avr avr-objdump" "arm arm-none-eabi-objdump"; do
    name=${target%% *}
    calls "${target#* }" "$out/$name/library" >"$out/$name/calls"
    [ -s "$out/$name/calls" ] || { echo "$name: no calls found: is this the right folder?"; bad=1; }
    if grep -E " ($float|$heap)" "$out/$name/calls"; then
        echo "$name: float or heap in core or wire (above: function, helper)"
        bad=1
    fi
    found=$(grep -E " $wide" "$out/$name/calls" | sort -u || true)
    for function in $once; do
        found=$(printf '%s\n' "$found" | grep -v "^$function " || true)
    done
    if [ -n "$found" ]; then
        echo "$found"
        echo "$name: 64-bit helper outside what is done once a frame (above: function, helper)"
        bad=1
    fi
done
exit $bad
