#!/bin/sh
# Each target for a while with what a fuzzer thinks of, two at a time.
# Usage: run.sh [SECONDS [--same]]. With --same it thinks of the same in each run, as far as it gets:
# a change either passes or fails. Without, of something else each time.
# Builds them with clang and the sanitizers in build/fuzz, and begins with what is in starts.
# An input that fails is left there as NAME-crash-...; build/fuzz/fuzz-NAME FILE runs it again.
set -eu
cd "$(dirname "$0")/../.."
seconds=${1:-60}
same=${2:-}
[ -z "$same" ] || [ "$same" = --same ] || { echo "run.sh: unknown '$same'" >&2; exit 2; }
folder=build/fuzz
fixed="" # the addresses too, as they are among what it tries
[ -z "$same" ] || { rm -rf $folder/corpus; setarch -R true 2>/dev/null && fixed="setarch -R"; }

mkdir -p build
if ! { cmake -S . -B $folder -DCMAKE_C_COMPILER=clang -DCMAKE_BUILD_TYPE=Debug -DDIACHROME_TESTS=OFF \
    -DDIACHROME_CROSS=OFF -DDIACHROME_FUZZ=ON \
    -DCMAKE_C_FLAGS="-O1 -fsanitize=address,undefined,fuzzer-no-link -fno-sanitize-recover=all" &&
    MAKEFLAGS='' cmake --build $folder -j "$(nproc)"; } >build/fuzz.log 2>&1; then
    cat build/fuzz.log
    exit 1
fi
rm build/fuzz.log

mkdir -p $folder/corpus/rig
cp demo/quay.rig.yaml tests/rigs/*.rig.yaml $folder/corpus/rig/
# about what each gets through in half a minute
runs_of() {
    case $1 in
    play) echo 600 ;;
    colour | films) echo 12000 ;;
    rig | show) echo 40000 ;;
    live) echo 12000 ;;
    layer | capture | editor | state) echo 80000 ;;
    *) echo 200000 ;;
    esac
}
one() {
    mkdir -p "$folder/corpus/$1"
    [ ! -d "tests/fuzz/starts/$1" ] || cp tests/fuzz/starts/"$1"/* "$folder/corpus/$1/"
    $fixed "$folder/fuzz-$1" ${same:+-seed=1 -reload=0 -runs=$(runs_of "$1")} -max_total_time="$seconds" -timeout=20 -rss_limit_mb=4096 -max_len=8192 \
        -artifact_prefix="$folder/$1-" "$folder/corpus/$1" >"$folder/$1.log" 2>&1 ||
        { tail -40 "$folder/$1.log"; return 1; }
    echo "$1: $(grep -ao 'Done [0-9]* runs' "$folder/$1.log")"
}
failed=0
for pair in "colour layer" "palette points" "rig show" "quantity signal" "drawings values" "text play" "films editor" "capture live" "e131 state"; do
    set -- $pair
    one "$1" &
    first=$!
    [ $# = 1 ] || one "$2" || failed=1
    wait $first || failed=1
done
exit $failed
