import { existsSync } from 'node:fs';
import { Problem } from '../../core/base/problem/problem.ts';
import type { LedgerFrame, RenderLayer, RenderLedger, RenderPlan, Shot } from '../../core/base/schemas/types.ts';
import { changedParts } from '../../core/handoff/send/frame-parts.ts';
import type { Database } from '../database/connection.ts';
import { readDocument } from '../database/documents.ts';
import { finishedFrames, forgetFinished, partsOfFinished } from '../database/finished-frames.ts';
import { failedFrames } from '../database/render-tasks.ts';
import { finishedFile } from './finished-paths.ts';
import { FrameKeys } from './frame-keys.ts';
import { planRender } from './render-plan.ts';

/** What there is of a layer of a shot as it stands now: of each frame whether its picture is done, out of date (and why), missing or failed. */
export async function renderLedger(
  db: Database,
  shot: Shot,
  layer: RenderLayer,
  renders: string,
): Promise<RenderLedger> {
  const frames = shot.plate?.facts?.frames ?? 0;
  const document = await readDocument(db, shot.id, shot.revision);
  try {
    return {
      layer,
      frames: await statesOf(db, shot.id, await planRender(db, shot, document, [layer]), layer, renders),
      impossible: null,
    };
  } catch (error) {
    if (!(error instanceof Problem)) throw error;
    return {
      layer,
      frames: Array.from({ length: frames }, () => ({ state: 'missing' as const })),
      impossible: error.sentence,
    };
  }
}

/** The states of all frames of a plan, of the shot's own content or of a variant. */
export async function statesOf(
  db: Database,
  shotId: number,
  plan: RenderPlan,
  layer: RenderLayer,
  renders: string,
  variantId = 0,
): Promise<LedgerFrame[]> {
  const keys = new FrameKeys(plan);
  const frames = plan.plate.facts.frames;
  const now = Array.from({ length: frames }, (_, frame) => keys.of(frame, layer));
  const made = await finishedFrames(db, shotId, variantId, layer);
  const newest = new Map<number, string>();
  const gone: string[] = [];
  const there = new Set<string>();
  for (const { frame, key } of made) {
    if (!existsSync(finishedFile(renders, key, layer, plan))) {
      gone.push(key);
      continue;
    }
    there.add(key);
    if (!newest.has(frame)) newest.set(frame, key);
  }
  await forgetFinished(db, shotId, layer, gone);
  const stale = now.flatMap(({ key }, frame) => (!there.has(key) && newest.has(frame) ? [newest.get(frame)!] : []));
  const parts = await partsOfFinished(db, shotId, layer, stale);
  const failed = await failedFrames(db, shotId, variantId);
  return now.map(({ key, parts: current }, frame): LedgerFrame => {
    if (there.has(key)) return { state: 'done', key };
    const old = newest.get(frame);
    if (failed.has(frame)) return { state: 'failed', why: failed.get(frame)!, ...(old ? { key: old } : {}) };
    return old ? { state: 'stale', key: old, why: changedParts(parts.get(old) ?? {}, current) } : { state: 'missing' };
  });
}
