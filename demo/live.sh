#!/bin/sh
# Petrel Quay live: a page, a broker, a second rig that follows the first by E1.31, and two nodes of a pier.
# Usage: demo/live.sh [DIACHROME]      Ctrl-C ends all of it
set -eu
diachrome=$(realpath "${1:-build/diachrome}")
work=$(mktemp -d)
others=""
end() {
    trap '' INT TERM
    [ -z "$others" ] || kill $others 2>/dev/null || true
    wait 2>/dev/null || true
    rm -rf "$work"
}
trap end EXIT
trap 'exit 0' INT TERM

broker=""
if mosquitto=$(command -v mosquitto || ls /usr/sbin/mosquitto 2>/dev/null); then
    printf 'listener 18830 127.0.0.1\nallow_anonymous true\nset_tcp_nodelay true\n' >"$work/broker.conf"
    "$mosquitto" -c "$work/broker.conf" >"$work/broker.log" 2>&1 &
    others="$others $!"
    broker="--mqtt 127.0.0.1:18830"
fi

# A lamp by the road shows the first pixels of the handrail: it hears what Petrel Quay sends.
cat >"$work/road.rig.yaml" <<EOF
rig: Road lamp
controller: RP2040
frame_rate: 50 Hz
supplies: { road: { current: 2 A } }
lanes: { lamp: { pin: 17, chip: WS2812B, count: 24, ring: { diameter: 80 mm } } }
EOF
echo "layer follows: universe first=1 on lamp" >"$work/road.show"
"$diachrome" serve "$work/road.rig.yaml" --show "$work/road.show" --listen 127.0.0.1:8481 \
    --e131 127.0.0.1:15568 </dev/null 2>"$work/road.log" &
others="$others $!"
"$diachrome" serve demo/quay.rig.yaml --show demo/evening.show --presets "$work/presets" \
    --send 127.0.0.1:15568 $broker </dev/null 2>"$work/quay.log" &
others="$others $!"
if [ -n "$broker" ]; then # the pier, by two of its three nodes; and all of it, on a desk
    port=8481
    for node in west east desk; do # in a folder each, as on computers of their own
        port=$((port + 1))
        mkdir "$work/$node"
        cp demo/pier.rig.yaml demo/pier.show "$work/$node"
        as="--node $node --files take"
        [ $node != desk ] || as="--files send"
        # shellcheck disable=SC2086
        (cd "$work/$node" && exec "$diachrome" serve pier.rig.yaml --show pier.show $as $broker \
            --listen 127.0.0.1:$port </dev/null 2>"$work/$node.log") &
        others="$others $!"
    done
fi
sleep 1
grep -h 'event=listening' "$work/quay.log" "$work/road.log" | sed 's/.*page=/page: /'
if [ -n "$broker" ]; then
    echo "broker: mosquitto_pub -p 18830 -t diachrome/petrel-quay/set/paint/handrail -m gold"
    echo "        mosquitto_sub -p 18830 -v -t 'diachrome/petrel-quay/value/#'"
    grep -h 'event=listening' "$work/west.log" "$work/east.log" | sed 's/.*page=/node:   /'
    echo "        curl -d 'paint rail-east gold' http://127.0.0.1:8482/changes"
    echo "pier:   http://127.0.0.1:8484/ shows all of it, http://127.0.0.1:8484/nodes.html its nodes"
    echo "files:  edit $work/desk/pier.rig.yaml, and the nodes have it"
fi
echo "HTTP:   curl -d 'seek 60s' http://127.0.0.1:8480/changes"
echo "Ctrl-C ends it."
wait
