#!/bin/sh
# The pages of looks and of messages in docs, and the faces in C, are those that are made now, with a picture
# of each look.
# Usage: docs.sh LOOKS-PAGE SOURCE-FOLDER BUILD-FOLDER
set -eu
out=$3/run/docs
rm -rf "$out"
mkdir -p "$out/looks"
"$1" "$out"
(cd "$2" && find src/host src/live src/cli src/port/linux -name '*.c' | LC_ALL=C sort | xargs "$(dirname "$1")/messages-page") >"$out/messages.md"
diff "$2/docs/messages.md" "$out/messages.md" || { echo "docs/messages.md is not up to date: make docs"; exit 1; }
diff "$2/docs/looks.md" "$out/looks.md" || { echo "docs/looks.md is not up to date: make docs"; exit 1; }
for picture in "$out"/looks/*.png; do
    [ -f "$2/docs/looks/$(basename "$picture")" ] || { echo "docs/looks lacks $picture: make docs"; exit 1; }
done
# The faces that are compiled in are those of fonts.
mkdir -p "$out/faces"
(cd "$2" && tools/faces "$(dirname "$1")/diachrome" "$out/faces")
for face in "$out"/faces/*.c; do
    cmp -s "$2/src/core/text/$(basename "$face")" "$face" || { echo "$(basename "$face") is not up to date: make docs"; exit 1; }
done
