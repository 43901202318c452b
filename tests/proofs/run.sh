#!/bin/sh
# Shows with an abstract interpreter (frama-c, Eva) that no input in its documented range makes the
# core or the drivers overflow, read or write outside of an object, read what was never written, or
# divide by zero. Each proof is a program in this folder; a number it does not know stands for all.
#
# What the analyzer cannot rule out, though it does not happen, is in alarms.txt with the reason.
# An alarm that is not there fails, one that is there and no longer raised too, and so does a public
# function that no proof reaches and that unproved.txt does not name.
#
# Usage: run.sh [PROOF...]     all of them without; logs in build/proofs
#        run.sh --planted      a mistake that is put in must raise an alarm
#        run.sh --one PROOF    its alarms, into build/proofs (what the first does, two at a time)
set -eu
cd "$(dirname "$0")/../.."
here=tests/proofs
out=$PWD/build/proofs
mkdir -p "$out"

# The functions that say whether what they began is right: what follows goes on for each answer.
answers="is_right is_place measure begin dia_shift_begin dia_cells_surface dia_curve_gamma dia_surface_line dia_surface_ring
dia_surface_fold dia_surface_grid dia_surface_wall dia_surface_places"
split=$(
    { echo "$answers" | tr ' ' '\n'
      sed -n 's/^enum dia_status \(dia_[a-z_]*_init[a-z_]*\)(.*/\1/p' src/core/*.c src/core/*/*.c src/wire/*.c
    } | sort -u | sed 's/$/:full/' | paste -sd,)

# prove PROOF small|large: alarms in PROOF-SIZE.alarms, functions reached in PROOF-SIZE.reached
prove() {
    name=$1-$2
    [ "$2" = small ] && other=large || other=small
    options=$(sed -n '/^\/\* proof: /,/\*\//p' "$here/$1.c" | tr -d '\n' | sed 's/.*proof: [a-z ]*: //; s/ \*\/.*//')
    sources=$(find src/core src/wire -name '*.c' ! -path "src/core/$other/*" | sort)
    rm -f "$out/$name.csv"
    # shellcheck disable=SC2086
    frama-c -eva -eva-verbose 0 $options -eva-auto-loop-unroll 80 \
        -eva-split-return-function "$split" -metrics -metrics-eva-cover -machdep gcc_x86_64 \
        -kernel-warn-key annot:missing-spec=inactive \
        -cpp-extra-args="-DDIA_RUN=8u -DDIA_STACK_RUN=16u -Iinclude -I$here" \
        "$here/$1.c" $sources -then -report-csv "$out/$name.csv" >"$out/$name.log" 2>&1 || {
        tail -5 "$out/$name.log"
        return 1
    }
    awk -F '\t' '($6 == "Unknown" || $6 ~ /Invalid/) && $1 ~ /^(src|include|tests)/ {
        gsub(/_[0-9]+$/, "", $4); print $1 "/" $2 "\t" $4 "\t" $5 "\t" $7 }' "$out/$name.csv" |
        sort -u >"$out/$name.alarms"
    sed -n 's/^ *\([a-z_0-9]*\): [0-9]* stmts out of .*/\1/p' "$out/$name.log" >"$out/$name.reached"
    echo "$name: $(wc -l <"$out/$name.alarms") alarms"
}

all_sizes() { # PROOF: each size its head names
    for size in $(sed -n 's/^\/\* proof: \([a-z ]*\): .*/\1/p' "$here/$1.c"); do
        prove "$1" "$size" || return 1
    done
}

if [ "${1:-}" = --planted ]; then
    copy=$(mktemp -d)
    trap 'rm -rf "$copy"' EXIT
    cp -r src include tests "$copy"
    cd "$copy"
    out=$copy
    sed -i 's/soft ? 0xffffffffu \/ soft : 0xffffffffu/0xffffffffu \/ soft/' src/core/look/look_wipe.c
    prove looks small
    grep -q "look_wipe.c.*division_by_zero" "$out/looks-small.alarms"
    echo "the planted mistake raises an alarm"
    exit 0
fi

if [ "${1:-}" = --one ]; then # as below, one of them
    all_sizes "$2"
    exit
fi

proofs=$*
[ -n "$proofs" ] || proofs=$(basename -s .c $here/*.c)
failed=0
rm -f "$out"/*.alarms "$out"/*.reached
# shellcheck disable=SC2086
printf '%s\n' $proofs | xargs -P 2 -n 1 sh $here/run.sh --one || failed=1 # two at a time
[ $failed = 0 ] || exit 1

# alarms.txt has lines of FILE, FUNCTION, KIND and PROPERTY as above; before some of them a reason
# that begins with #.
sort -u "$out"/*.alarms >"$out/found"
grep -v -e '^#' -e '^$' $here/alarms.txt | sort -u >"$out/known"
if [ "$(echo $proofs | wc -w)" -gt 1 ]; then
    echo "no longer raised:" >"$out/gone"
    comm -13 "$out/found" "$out/known" >>"$out/gone"
    [ "$(wc -l <"$out/gone")" = 1 ] || { cat "$out/gone"; failed=1; }
    cat "$out"/*.reached | sort -u >"$out/reached"
    sed -n 's/.*[ *]\(dia_[a-z_0-9]*\)(.*/\1/p' include/diachrome/*.h | sort -u >"$out/declared"
    sed -n 's/^[a-z].*[ *]\(dia_[a-z_0-9]*\)(.*/\1/p' src/core/*.c src/core/*/*.c src/wire/*.c |
        sort -u | comm -12 - "$out/declared" >"$out/public"
    grep -v -e '^#' -e '^$' $here/unproved.txt | sort >"$out/unproved"
    comm -23 "$out/public" "$out/reached" >"$out/missed"
    cmp -s "$out/missed" "$out/unproved" || {
        echo "public functions that no proof reaches, against unproved.txt:"
        diff "$out/missed" "$out/unproved" || true
        failed=1
    }
    echo "$(comm -12 "$out/public" "$out/reached" | wc -l) of $(wc -l <"$out/public") public functions"
fi
comm -23 "$out/found" "$out/known" >"$out/new"
if [ -s "$out/new" ]; then
    echo "new alarms:"
    cat "$out/new"
    failed=1
fi
[ "$(wc -l <"$out/known")" -le 20 ] || { echo "alarms.txt has more than 20 lines"; failed=1; }
echo "$(wc -l <"$out/found") alarms, in $(cut -f 1,2 "$out/found" | sort -u | wc -l) functions"
exit $failed
