#!/bin/sh
# What `check --json` prints is what docs/check.schema.json says, for the demo and rigs of all kinds, one with nodes too; and a
# changed one is not. Usage: schema.sh COMMAND SOURCE-FOLDER
set -eu
command=$1
cd "$2"
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
n=0
for rig in demo/*.rig.yaml tests/rigs/*.rig.yaml; do
    code=0
    "$command" check --json "$rig" >"$work/$n.json" || code=$?
    [ $code -le 1 ] || { echo "$rig: check ends with $code"; exit 1; }
    n=$((n + 1))
done
sed 's/"drawn_ua"/"drawn"/' "$work/0.json" >"$work/wrong.json"
python3 - docs/check.schema.json "$work" $n <<'PYTHON'
import json, sys
import jsonschema
schema = json.load(open(sys.argv[1]))
jsonschema.Draft202012Validator.check_schema(schema)
validator = jsonschema.Draft202012Validator(schema)
for k in range(int(sys.argv[3])):
    validator.validate(json.load(open(f"{sys.argv[2]}/{k}.json")))
if validator.is_valid(json.load(open(f"{sys.argv[2]}/wrong.json"))):
    sys.exit("a key that is not in the schema passes")
PYTHON
