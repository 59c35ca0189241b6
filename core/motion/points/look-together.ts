import type { Homography, Point } from '../../base/geometry/homography.ts';
import { lightWindow } from './light-window.ts';
import type { FrameInWork, PointLook } from './point-look.ts';
import { RECKONED_REACH, STOPS_UNDER, type PointFit } from './point-plan.ts';
import { correlationMap, peaksOf, spread } from './search-patch.ts';

/** Where all have jumped, they are looked for so far at least, px; and, their smear known, so far about what was found. */
export const TOGETHER_LEAST = 60;
const TOGETHER_FINE = 16;
/** Boxes wider than so many px to each side are looked through in steps of two; and by how much of the way each may differ from all. */
const COARSER_FROM = 90;
const TOGETHER_GIVES = 0.02;
/** Mean correlation from which on a place for all is looked at. */
const TOGETHER_FROM = 0.45;

/** Where most points are lost at once, all have jumped together: their correlations are summed over a wider box, and each is looked for anew about the places that all agree on. */
export function lookTogether(
  look: PointLook,
  work: FrameInWork,
  open: readonly number[],
  found: (PointFit | null)[],
  expected: readonly (Point | null)[],
  before: readonly (PointFit | null)[],
  map: Homography,
  least = TOGETHER_LEAST,
): void {
  const [w, h] = look.states[open[0]!]!.settings.search;
  const reach = [Math.max(least, 1.5 * w), Math.max(least, 1.5 * h)] as const;
  const sum = (about: Point, within: readonly [number, number], smear: Point, from = 0) => {
    // Far off, coarsely, and the shape may have changed a little.
    const step = Math.max(...within) > COARSER_FROM ? 2 : 1;
    const give = Math.round((TOGETHER_GIVES * Math.max(...within)) / step);
    let total: Float32Array | null = null;
    let middle: Point = [0, 0];
    let size: readonly [number, number] = [0, 0];
    for (const i of open) {
      const state = look.states[i]!;
      const at = expected[i];
      if (!at) continue;
      const place: Point = [at[0] + about[0], at[1] + about[1]];
      const memory = Math.max(...state.settings.pattern) + 4;
      const window = lightWindow(work.luma, {
        left: place[0] - within[0] - memory,
        top: place[1] - within[1] - memory,
        right: place[0] + within[0] + memory,
        bottom: place[1] + within[1] + memory,
      });
      const scores =
        window && correlationMap(state.patch, look.aroundOf(state, map), smear, window, place, within, step);
      if (!scores) continue;
      const loose = give > 0 ? spread(scores, give) : scores.scores;
      if (!total) [total, middle, size] = [loose.slice(), about, scores.reach];
      else for (let k = 0; k < total.length; k++) total[k]! += loose[k]!;
    }
    return total
      ? peaksOf({ middle, reach: size, step, scores: total }, 2).flatMap((p) => (p.correlation >= from ? [p.at] : []))
      : [];
  };
  const held = () => open.reduce((s, i) => s + (found[i] && found[i].score >= STOPS_UNDER ? found[i].score : 0), 0);
  const seen = open.filter((i) => expected[i]).length;
  for (const rough of sum([0, 0], reach, [0, 0], TOGETHER_FROM * seen)) {
    // The way there tells the smear, and the smear where exactly.
    const way = open
      .map(
        (i) =>
          expected[i] &&
          before[i] &&
          ([expected[i][0] + rough[0] - before[i].at[0], expected[i][1] + rough[1] - before[i].at[1]] as Point),
      )
      .find((v) => v);
    const smear: Point = way ? [way[0] * look.shutter, way[1] * look.shutter] : [0, 0];
    const shift = Math.hypot(...smear) > 2 ? (sum(rough, [TOGETHER_FINE, TOGETHER_FINE], smear)[0] ?? rough) : rough;
    const again = found.map((f, i): PointFit | null => {
      const at = open.includes(i) ? expected[i] : null;
      if (!at) return f;
      const place: Point = [at[0] + shift[0], at[1] + shift[1]];
      const window = look.windowOf(work.luma, i, place, map);
      return window && look.look(i, work, map, window, place, place, true, RECKONED_REACH);
    });
    const now = open.reduce((s, i) => s + (again[i] && again[i].score >= STOPS_UNDER ? again[i].score : 0), 0);
    if (now > held()) for (const i of open) found[i] = again[i]!;
    if (now > 0.75 * open.length) return;
  }
}
