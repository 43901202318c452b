#!/bin/sh
# Each parser for a while with what a fuzzer thinks of, two at a time. Usage: run.sh FOLDER SECONDS
# FOLDER has the programs fuzz-NAME; run from the top of the project.
set -eu
folder=$1
seconds=$2
mkdir -p "$folder/corpus/rig"
cp demo/quay.rig.yaml tests/rigs/*.rig.yaml "$folder/corpus/rig/"
one() {
    mkdir -p "$folder/corpus/$1"
    [ ! -d "tests/fuzz/starts/$1" ] || cp tests/fuzz/starts/"$1"/* "$folder/corpus/$1/"
    "$folder/fuzz-$1" -max_total_time="$seconds" -timeout=10 -rss_limit_mb=4096 -max_len=8192 \
        -artifact_prefix="$folder/$1-" "$folder/corpus/$1" >"$folder/$1.log" 2>&1 ||
        { tail -40 "$folder/$1.log"; return 1; }
    echo "$1: $(grep -o 'Done [0-9]* runs' "$folder/$1.log")"
}
failed=0
for pair in "colour layer" "palette points" "rig show" "quantity signal"; do
    set -- $pair
    one "$1" &
    first=$!
    one "$2" || failed=1
    wait $first || failed=1
done
exit $failed
