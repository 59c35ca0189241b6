#!/bin/sh
# GNU parallel: as many chunks at once as --jobs says, on this machine or, with --sshlogin, on others that have the same folders.
# Called again after a stop it goes on: chunks that ended well are in the log.
set -eu
: "${FARM:?the folder of this file}" "${FRAMES:?how many frames the plate has}" "${CHUNK:=8}" "${JOBS:=2}" "${LOG:=render.log}"
export CHUNK
seq 0 $(( (FRAMES - 1) / CHUNK )) | parallel --will-cite --jobs "$JOBS" --joblog "$LOG" --resume-failed --retries 3 sh "$FARM/render-chunk.sh" {}
