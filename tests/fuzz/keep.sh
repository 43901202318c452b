#!/bin/sh
# Of all that run.sh has thought of so far (build/fuzz/corpus), and of what was kept before, the few inputs
# that together go every way: into kept/NAME, which `ctest -R fuzz` gives to the targets again.
# Usage: keep.sh [NAME...]
set -eu
cd "$(dirname "$0")/../.."
folder=$PWD/build/fuzz
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
[ $# -gt 0 ] || set -- $(ls "$folder/corpus")
for name in "$@"; do
    mkdir -p "$work/$name" "$work/before"
    rm -f "$work/before"/*
    [ ! -f "tests/fuzz/kept/$name" ] || python3 - "tests/fuzz/kept/$name" "$work/before" <<'PYTHON'
import sys
data, at, k = open(sys.argv[1], "rb").read(), 0, 0
while at < len(data):
    end = data.index(b"\n", at)
    size = int(data[at:end])
    open(f"{sys.argv[2]}/{k}", "wb").write(data[end + 1:end + 1 + size])
    at, k = end + 2 + size, k + 1
PYTHON
    "$folder/fuzz-$name" -set_cover_merge=1 -max_len=8192 "$work/$name" "$work/before" "$folder/corpus/$name" \
        >"$work/log" 2>&1 || { tail -20 "$work/log"; exit 1; }
    python3 - "$work/$name" "tests/fuzz/kept/$name" <<'PYTHON'
import os, sys
inputs = sorted((open(f"{sys.argv[1]}/{f}", "rb").read() for f in os.listdir(sys.argv[1])), key=lambda b: (len(b), b))
with open(sys.argv[2], "wb") as out:
    for b in inputs:
        out.write(b"%d\n" % len(b) + b + b"\n")
print(f"{sys.argv[2]}: {len(inputs)} inputs, {os.path.getsize(sys.argv[2])} bytes")
PYTHON
done
