import type { ArchivedFrame, ArchivedVersion } from '../../core/base/schemas/types.ts';
import { run, type Queryable } from '../database/connection.ts';
import { findJobToDo, insertJob } from '../database/jobs.ts';
import { insertPlan, readPlan } from '../database/render-tasks.ts';
import { listNotes, listVersions, restoreNote } from '../database/reviews.ts';
import { fileOfKey } from '../send/finished-paths.ts';
import { FrameKeys } from '../send/frame-keys.ts';

/** A frame that goes into an archive, with where it lies. */
export type FrameToArchive = ArchivedFrame & { readonly path: string };

/** What an archive calls a frame's file. */
export const finishedFile = (key: string, path: string): string =>
  `finished/${key}${path.slice(path.lastIndexOf('.'))}`;

/** Renders of a shot's finished picture with the notes on them, the oldest first: all, or those that have notes. */
export async function archivedVersions(db: Queryable, shotId: number, all: boolean): Promise<ArchivedVersion[]> {
  const notes = await listNotes(db, shotId);
  const out: ArchivedVersion[] = [];
  for (const { jobId, version, frames } of (await listVersions(db, shotId)).reverse()) {
    const own = notes.filter((note) => note.jobId === jobId);
    const job = all || own.length > 0 ? await findJobToDo(db, jobId) : null;
    if (job?.kind !== 'render') continue;
    const { output, layers, settings, variant } = job.params;
    out.push({
      version,
      frames,
      total: job.total,
      output,
      layers,
      settings,
      ...(variant ? { variant: { key: variant.id, name: variant.name } } : {}),
      madeAt: (job.endedAt ?? job.createdAt).toISOString(),
      plan: await readPlan(db, jobId),
      notes: own.map(({ frame, at, author, words, createdAt, settled, answers }) => ({
        frame,
        at,
        author,
        words,
        createdAt,
        settled,
        answers,
      })),
    });
  }
  return out;
}

/** Pictures of versions that are still there. Those of a variant that was deleted are left behind. */
export function framesOfVersions(
  versions: readonly ArchivedVersion[],
  variants: ReadonlySet<number>,
  renders: string,
): FrameToArchive[] {
  return versions
    .filter(({ variant }) => !variant || variants.has(variant.key))
    .flatMap(({ plan, frames: [first, last], variant }) => {
      const keys = new FrameKeys(plan);
      return Array.from({ length: last - first + 1 }, (_, i) => first + i).flatMap((frame): FrameToArchive[] => {
        const { key, parts } = keys.of(frame, 'full');
        const path = fileOfKey(renders, key);
        return path
          ? [
              {
                layer: 'full',
                frame,
                key,
                parts,
                ...(variant ? { variant: variant.key } : {}),
                file: finishedFile(key, path),
                path,
              },
            ]
          : [];
      });
    });
}

/** Enters versions as renders that are done, under the numbers they had, and the notes on them. What was written of them has to be written again. */
export async function restoreVersions(
  db: Queryable,
  projectId: number,
  shotId: number,
  versions: readonly ArchivedVersion[],
  variants: ReadonlyMap<number, number>,
): Promise<void> {
  for (const { version, frames, total, output, layers, settings, variant, madeAt, plan, notes } of versions) {
    // Of a variant that is not there any more the name stays.
    const params = {
      frames,
      output,
      layers,
      settings,
      version,
      ...(variant ? { variant: { id: variants.get(variant.key) ?? 0, name: variant.name } } : {}),
    };
    const job = await insertJob(db, { kind: 'render', projectId, shotId, params, total, done: total });
    const made = new Date(madeAt);
    await run(db, "UPDATE jobs SET state = 'done', created_at = ?, ended_at = ? WHERE id = ?", [made, made, job]);
    await insertPlan(db, job, plan);
    for (const note of notes) await restoreNote(db, shotId, job, note);
  }
}
