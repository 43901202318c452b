#!/bin/sh
# Petrel Quay: checks the rig, renders it, traces it, finds a fault. Usage: demo.sh DIACHROME OUT
set -eu
diachrome=$1
out=$2
rig=demo/quay.rig.yaml
mkdir -p "$out"

"$diachrome" check "$rig"
echo
echo "Pictures, as the bench saw the light that came over the wires:"
"$diachrome" render "$rig" --look hue-sweep --from 4s --out "$out/quay.png"
"$diachrome" render "$rig" --look hue-sweep --for 10s --out "$out/quay-sweep.png"
"$diachrome" render "$rig" --look drift --for 20s --out "$out/quay-drift.png"
echo
echo "An evening of five minutes, with two keys on the operator's panel:"
"$diachrome" render "$rig" --show demo/evening.show --for 300s --sheet 20 --out "$out/quay-evening.png"
"$diachrome" render "$rig" --show demo/evening.show --from 132s --for 3s --rate 10Hz --out "$out/quay-ferry.gif"
echo
"$diachrome" preview "$rig" --look hue-sweep --from 4s --frames 1
echo
echo "The same as a table, and the signals for a logic analyser:"
"$diachrome" render "$rig" --look drift --frames 10 --out "$out/quay-drift.csv"
"$diachrome" trace "$rig" --look hue-sweep --frames 3 --out "$out/quay.vcd"
echo
echo "What a camera sees, and one page of all of it to hand on:"
"$diachrome" render "$rig" --look steady --camera "1/1000 s" --out "$out/quay-camera.png"
"$diachrome" report "$rig" --show demo/evening.show --for 300s --out "$out/quay.html"
echo
echo "The ferry board, a row-scanned colour panel:"
board="text says=\"Skua\\n14:05\" colour=#ffb050 place=middle align=centre motion=rests"
"$diachrome" render demo/ferry.rig.yaml --look water --layer "$board" --out "$out/ferry.png"
echo
echo "First lighting, with two segments of the tide gauge crossed; the bench answers:"
"$diachrome" bringup "$rig" --only tide --fault "tide: crossed b f" --self-test || test $? = 1
echo
echo "Live in this terminal:  $diachrome preview $rig --show demo/evening.show"
echo "Live in a browser:      $diachrome serve $rig --show demo/evening.show"
echo "                        then open http://127.0.0.1:8480/"
echo "With a broker and a second rig that follows by E1.31:  sh demo/live.sh $diachrome"
