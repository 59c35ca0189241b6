#!/bin/sh
# Renders one chunk of a shot that lies in an S3-compatible store: s3-chunk.sh INDEX, counted from 0. What the chunk needs is fetched with the store's
# standard client (s3cmd; its configuration in ~/.s3cfg or S3CMD="s3cmd -c FILE"), the pictures are put back when the chunk is whole.
# Chunks do not overlap and give the same bytes each time, so one that was broken off is simply done again.
set -eu
: "${YARLOP:?the folder of Yarlop}" "${S3_SHOT:?such as s3://shots/bench-tablet}" "${FRAMES:?how many frames the plate has}" "${CHUNK:=8}" "${S3CMD:=s3cmd}"
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
mkdir "$work/shot"
$S3CMD get --no-progress --skip-existing "$S3_SHOT/plate.mp4" "$S3_SHOT/track.json" "$S3_SHOT/look.json" "$S3_SHOT/content.png" "$work/shot/" >&2
export YARLOP FRAMES CHUNK SHOT="$work/shot" OUT="$work/out"
"$YARLOP/docs/farm/render-chunk.sh" "$1"
[ -d "$OUT" ] || exit 0
$S3CMD put --no-progress "$OUT"/frame.*.png "$S3_SHOT/frames/" >&2
