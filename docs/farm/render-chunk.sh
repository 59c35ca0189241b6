#!/bin/sh
# Renders one chunk of a shot: render-chunk.sh INDEX, counted from 0. A chunk done twice gives the same bytes, and a picture appears
# under its name only when it is whole, so that a chunk that was broken off is simply done again.
set -eu
: "${YARLOP:?the folder of Yarlop}" "${SHOT:?the folder with plate, track.json, look.json and content}" "${OUT:?the folder for the pictures}" "${CHUNK:=8}" "${FRAMES:?how many frames the plate has}"
first=$(( $1 * CHUNK ))
last=$(( first + CHUNK - 1 ))
[ "$first" -lt "$FRAMES" ] || exit 0
[ "$last" -lt "$FRAMES" ] || last=$(( FRAMES - 1 ))
mkdir -p "$OUT"
exec "$YARLOP/bin/yarlop" render --plate "$SHOT/plate.mp4" --track "$SHOT/track.json" --look "$SHOT/look.json" --content "$SHOT/content.png" --frames "$first-$last" --out "$OUT/frame.%04d.png"
