import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { main as yarlop } from '../../cli/main.ts';
import type { TrackFile } from '../../core/base/schemas/types.ts';
import { CAUGHT, RELEASED } from '../../demo/shots/thrown-phone.ts';
import { conditionPlate } from '../../demo/make-conditions.ts';
import { measureTrack } from '../conditions/measure.ts';
import { openCondition } from '../seat/condition.ts';

const CACHE = join(import.meta.dirname, '../../.cache/conditions/hand');
const KEYS = 8;

export interface ThrownMeasures {
  /** Errors of all frames, px, pulled and only interpolated. */
  readonly pulled: readonly number[];
  readonly interpolated: readonly number[];
}

/** Numbers −1…1, the same for the same seed. */
function handOf(seed: number): () => number {
  let state = (seed * 2654435761) >>> 0;
  return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 31 - 1;
}

/** A thrown phone by the command line: its automatic track before the throw and after the catch, eight keys within a pixel of the truth between. */
export async function thrownAccuracy(seed: number): Promise<ThrownMeasures> {
  const name = `thrown-phone@${seed}`;
  const { plate } = await conditionPlate(name);
  const { truth } = await openCondition(name);
  const hand = handOf(seed);
  const from = RELEASED - 2;
  const to = CAUGHT + 2;
  const last = truth.frames.length - 1;
  mkdirSync(CACHE, { recursive: true });
  const keys = Array.from({ length: KEYS }, (_, i) => Math.round(from + ((to - from) * i) / (KEYS - 1))).map(
    (frame) => ({ frame, corners: truth.frames[frame]!.corners.map(([x, y]) => [x + hand(), y + hand()]) }),
  );
  const first = await trackFrom(4, [0, from + 3], 'first');
  const second = await trackFrom(last - 6, [to - 3, last], 'second');
  const errors: number[][] = [];
  for (const pull of [true, false]) {
    const job = join(CACHE, `${name}.${pull}.json`);
    const out = join(CACHE, `${name}.${pull}.track.json`);
    writeFileSync(
      job,
      JSON.stringify({
        pixelCentre: 'half',
        referenceFrame: truth.referenceFrame,
        width: truth.width,
        height: truth.height,
        rate: truth.rate,
        fade: 2,
        spans: [
          { from: 0, to: from - 1, track: first },
          { from, to, keys, pull },
          { from: to + 1, to: last, track: second },
        ],
      }),
    );
    if ((await yarlop(['splice', '--job', job, ...(pull ? ['--plate', plate] : []), '--out', out])) !== 0)
      throw new Error(`${name} could not be spliced`);
    errors.push(
      measureTrack(truth, JSON.parse(readFileSync(out, 'utf8')) as TrackFile).frames.map((f) => f.error ?? Infinity),
    );
  }
  /** The phone followed from a sharp frame, from an exact seat, the glove left out by its own. */
  async function trackFrom(referenceFrame: number, frames: [number, number], part: string): Promise<string> {
    const corners = truth.frames[referenceFrame]!.corners;
    const job = join(CACHE, `${name}.${part}.job.json`);
    const out = join(CACHE, `${name}.${part}.track.json`);
    const [cx, cy] = [0, 1].map((k) => corners.reduce((s, c) => s + c[k]!, 0) / 4) as [number, number];
    const around = corners.map(([x, y]) => [x + 0.12 * (x - cx), y + 0.12 * (y - cy)]);
    writeFileSync(
      job,
      JSON.stringify({
        pixelCentre: 'half',
        referenceFrame,
        motion: 'perspective',
        regions: [{ points: around }],
        corners,
        frames,
      }),
    );
    if ((await yarlop(['track', '--plate', plate, '--job', job, '--out', out])) !== 0)
      throw new Error(`${name} could not be followed`);
    return out;
  }
  return { pulled: errors[0]!, interpolated: errors[1]! };
}
