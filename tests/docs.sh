#!/bin/sh
# The page of looks in docs is the one that is made from them now, with a picture of each.
# Usage: docs.sh LOOKS-PAGE SOURCE-FOLDER BUILD-FOLDER
set -eu
out=$3/run/docs
rm -rf "$out"
mkdir -p "$out/looks"
"$1" "$out"
diff "$2/docs/looks.md" "$out/looks.md" || { echo "docs/looks.md is not up to date: make docs"; exit 1; }
for picture in "$out"/looks/*.png; do
    [ -f "$2/docs/looks/$(basename "$picture")" ] || { echo "docs/looks lacks $picture: make docs"; exit 1; }
done
