import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { distance } from '../../base/geometry/quad.ts';
import { Problem } from '../../base/problem/problem.ts';
import { cornerQuality, type CornerQuality } from './corner-quality.ts';
import { takePatch } from './patch.ts';
import type { PointSettings } from './point-plan.ts';

/** Points nearer to each other than this, px, are one. */
const ONE_SPOT = 2;

/** Refuses points that cannot be followed, whatever the picture shows. @throws Problem no-points, points-on-one-spot, point-box */
export function checkPoints(points: readonly PointSettings[], where: string): void {
  if (points.length === 0) throw new Problem('no-points', { where });
  points.forEach((point, i) => {
    const other = points.slice(0, i).find((p) => distance(p.at, point.at) < ONE_SPOT);
    if (other) throw new Problem('points-on-one-spot', { where, name: point.name, other: other.name });
    if (point.search[0] < point.pattern[0] || point.search[1] < point.pattern[1])
      throw new Problem('point-box', { where, name: point.name });
  });
}

/** How well a point's pattern holds on the reference frame. @throws Problem point-outside, point-flat */
export function judgePoint(
  { name, at, pattern }: PointSettings,
  reference: LumaFrame,
  referenceFrame: number,
  where: string,
): CornerQuality {
  const patch = takePatch(reference, at, pattern);
  if (!patch) throw new Problem('point-outside', { where, name, frame: referenceFrame });
  const quality = cornerQuality(patch);
  if (quality.hold === 'flat') throw new Problem('point-flat', { where, name });
  return quality;
}

/** Likewise of several. */
export function judgePoints(
  points: readonly PointSettings[],
  reference: LumaFrame,
  referenceFrame: number,
  where: string,
): CornerQuality[] {
  return points.map((point) => judgePoint(point, reference, referenceFrame, where));
}

/** What a person should know of a point before it is followed; null where it holds well. */
export function warningOf(name: string, { hold, along }: CornerQuality): string | null {
  if (hold !== 'edge') return null;
  const degrees = ((((along * 180) / Math.PI) % 180) + 180) % 180;
  return `${name} can slide along its edge (${degrees < 22.5 || degrees > 157.5 ? 'sideways' : degrees > 67.5 && degrees < 112.5 ? 'up and down' : 'slantwise'})`;
}
