import { Problem } from '../../core/base/problem/problem.ts';
import type { LedgerFrame, RenderLayer, RenderRequest, Variant } from '../../core/base/schemas/types.ts';
import { fillPattern, isFilm } from '../../core/handoff/send/file-pattern.ts';
import { chosenFrames, isUnbroken } from '../../core/handoff/send/frame-choice.ts';
import { folders, type Config } from '../config.ts';
import { variantDocument } from '../../core/handoff/variants/variant-document.ts';
import { transaction, type Database } from '../database/connection.ts';
import { readDocument } from '../database/documents.ts';
import { noteFinished } from '../database/finished-frames.ts';
import { hasOpenJob, insertJob, nextVersion } from '../database/jobs.ts';
import { insertTasks, packWhenWhole } from '../database/render-tasks.ts';
import { findShot } from '../database/shots.ts';
import { FrameKeys } from './frame-keys.ts';
import { statesOf } from './ledger.ts';
import { planRender } from './render-plan.ts';

/** Queues a render of a shot as it stands now, with its own content or that of a variant. Frames that are there already are not made again. @throws Problem */
export async function startRender(
  db: Database,
  config: Pick<Config, 'dataFolder'>,
  shotId: number,
  request: RenderRequest,
  variant: Variant | null = null,
): Promise<number> {
  const { renders } = folders(config.dataFolder);
  const shot = await findShot(db, shotId);
  if (!shot) throw new Problem('not-found', { thing: 'shot', id: shotId });
  // What moves the shot is being made: half of it is not what was meant.
  const open = await hasOpenJob(db, shotId, ['follow', 'points', 'pull', 'seat']);
  if (open) throw new Problem('job-running', { kind: open });
  const document = await readDocument(db, shotId, shot.revision);
  const plan = await planRender(
    db,
    shot,
    variant ? variantDocument(document, variant.mediaId, variant.framing) : document,
    request.layers,
  );
  const variantId = variant?.id ?? 0;
  const { output, settings = {} } = request;
  const layers = request.layers?.length ? request.layers : ['full' as const];
  const states = new Map<RenderLayer, LedgerFrame[]>();
  for (const layer of layers) states.set(layer, await statesOf(db, shotId, plan, layer, renders, variantId));
  // Of several layers the one that is worst off counts.
  const worst = ['failed', 'missing', 'stale'] as const;
  const stateOf = (frame: number) =>
    worst.find((state) => layers.some((layer) => states.get(layer)![frame]!.state === state)) ?? 'done';
  const frames = chosenFrames(request, plan.plate.facts.frames - 1, stateOf);
  if (isFilm(output) && !isUnbroken(frames)) throw new Problem('film-with-gaps');
  const version = await nextVersion(db, shotId);
  if (settings.pattern !== undefined)
    fillPattern(settings.pattern, { shot: 'shot', project: 'project', layer: 'full', version, variant: variant?.name });
  const done = new Set(frames.filter((frame) => layers.every((layer) => states.get(layer)![frame]!.state === 'done')));
  const span: [number, number] = [frames[0]!, frames.at(-1)!];
  const keys = new FrameKeys(plan);
  const id = await transaction(db, async (connection) => {
    const job = await insertJob(connection, {
      kind: 'render',
      projectId: shot.projectId,
      shotId,
      params: {
        frames: span,
        output,
        layers: [...layers],
        settings,
        version,
        ...(variant ? { variant: { id: variant.id, name: variant.name } } : {}),
      },
      total: frames.length,
      done: done.size,
      priority: request.priority ?? 0,
    });
    await insertTasks(connection, job, plan, frames, done);
    // Found again, they are the newest once more: a later change is compared with them.
    for (const frame of done)
      for (const layer of layers)
        await noteFinished(connection, shotId, variantId, { layer, frame, ...keys.of(frame, layer) });
    return job;
  });
  await packWhenWhole(db, id);
  return id;
}
