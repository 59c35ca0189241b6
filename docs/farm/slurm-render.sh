#!/bin/sh
# An array job: one task a chunk. A task whose node is lost, or that is requeued by hand, begins its chunk again.
#   sbatch --array=0-$(( (FRAMES - 1) / CHUNK )) --export=ALL slurm-render.sh
#SBATCH --job-name=yarlop
#SBATCH --cpus-per-task=1
#SBATCH --requeue
#SBATCH --open-mode=append
#SBATCH --output=render-%A_%a.log
exec sh "$FARM/render-chunk.sh" "$SLURM_ARRAY_TASK_ID"
