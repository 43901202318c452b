#!/bin/sh
# Examples, and the program of the README, look at every answer that a call may give.
# Usage: checked.sh SOURCE-FOLDER OUT-FOLDER
set -eu
cd "$1"
out=$2/run/checked
rm -rf "$out"
mkdir -p "$out/diachrome"
for header in include/diachrome/*.h; do
    sed 's/^\(static inline \)\{0,1\}enum dia_status dia_[a-z_0-9]*(/__attribute__((warn_unused_result)) &/
         s/^int dia_[a-z_0-9]*(/__attribute__((warn_unused_result)) &/' "$header" \
        >"$out/diachrome/$(basename "$header")"
done
sed -n '/^```c$/,/^```$/p' README.md | sed '/^```/d' >"$out/readme.c"
[ -s "$out/readme.c" ]
bad=0
for example in examples/*.c "$out/readme.c"; do
    cc -std=c11 -S -o /dev/null -Wunused-result -Werror=unused-result -I"$out" "$example" 2>"$out/said" ||
        { bad=1; grep -A1 'error:' "$out/said"; }
done
exit $bad
