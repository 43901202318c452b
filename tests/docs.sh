#!/bin/sh
# The pages of looks and of messages in docs are those that are made from them now, with a picture
# of each look.
# Usage: docs.sh LOOKS-PAGE SOURCE-FOLDER BUILD-FOLDER
set -eu
out=$3/run/docs
rm -rf "$out"
mkdir -p "$out/looks"
"$1" "$out"
(cd "$2" && find src/host src/cli -name '*.c' | LC_ALL=C sort | xargs "$(dirname "$1")/messages-page") >"$out/messages.md"
diff "$2/docs/messages.md" "$out/messages.md" || { echo "docs/messages.md is not up to date: make docs"; exit 1; }
diff "$2/docs/looks.md" "$out/looks.md" || { echo "docs/looks.md is not up to date: make docs"; exit 1; }
for picture in "$out"/looks/*.png; do
    [ -f "$2/docs/looks/$(basename "$picture")" ] || { echo "docs/looks lacks $picture: make docs"; exit 1; }
done
