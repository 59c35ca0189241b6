import type { Quad } from '../../core/base/geometry/quad.ts';
import { lightPicture } from '../../core/base/image/light-sampler.ts';
import { snapQuad } from '../../core/surface/seat/snap.ts';
import { randomFrom } from '../../demo/scene/random.ts';
import { mean, quadOf, type Condition } from './condition.ts';

/** How far each corner is drawn off at most, px. */
const ROUGH = 12;

/** Distances of snapped corners from the truth, px, from quads drawn up to 12 px off on the reference and on every sixth frame. */
export function snapDistances({ truth, luma }: Condition): number[] {
  const random = randomFrom(7);
  return truth.frames
    .filter((_, i) => i % 6 === 2 || i === truth.referenceFrame)
    .flatMap(({ frame }) => {
      const corners = quadOf(truth, frame);
      const rough = corners.map(([x, y]) => {
        const angle = 2 * Math.PI * random();
        const off = ROUGH * Math.sqrt(random());
        return [x + off * Math.cos(angle), y + off * Math.sin(angle)];
      }) as unknown as Quad;
      return snapQuad(lightPicture(luma[frame]!), rough, 'inner').quad.map(([x, y], i) =>
        Math.hypot(x - corners[i]![0], y - corners[i]![1]),
      );
    });
}

export function snapRow(title: string, reach: number, distances: readonly number[]): string {
  const m = mean(distances);
  const sorted = [...distances].sort((a, b) => a - b);
  return `| snap, ${title} | ${m.toFixed(3)} px mean | ${sorted[Math.floor(0.95 * sorted.length)]!.toFixed(2)} px (95 %), worst ${sorted.at(-1)!.toFixed(2)} of ${sorted.length} | ${reach} px | ${m <= reach ? 'reached' : 'not reached'} |`;
}
