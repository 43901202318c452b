#!/bin/sh
# Petrel Quay: checks the rig, renders it, traces it. Usage: demo.sh DIACHROME OUT-FOLDER
set -eu
diachrome=$1
out=$2
rig=demo/quay.rig.yaml
mkdir -p "$out"

"$diachrome" check "$rig"
echo
echo "Pictures, as the bench saw the light that came over the wire:"
"$diachrome" render "$rig" --look hue-sweep --from 4s --out "$out/quay-handrail.png"
"$diachrome" render "$rig" --look hue-sweep --for 10s --out "$out/quay-sweep.png"
"$diachrome" render "$rig" --look drift --for 20s --out "$out/quay-drift.png"
echo
echo "The same as a table, and the signal for a logic analyser:"
"$diachrome" render "$rig" --look drift --frames 10 --out "$out/quay-drift.csv"
"$diachrome" trace "$rig" --look hue-sweep --frames 3 --out "$out/quay.vcd"
echo
echo "Live in this terminal:  $diachrome preview $rig --look hue-sweep"
