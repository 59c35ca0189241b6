import { quantile } from '../../base/image/statistics.ts';
import { lightToCode } from '../../base/image/transfer.ts';
import { luminanceOf, type PlaneCells } from './plane-cells.ts';

/** Display-referred darkest and brightest that a camera recorded about a screen, as on the frame that exposures are determined from; above 1 where that is brighter than the camera records. */
export interface LevelsFound {
  readonly black: number;
  readonly white: number;
  /** Mean colour of the darkest and of the brightest places, light. */
  readonly dark: readonly [number, number, number];
  readonly bright: readonly [number, number, number];
  readonly places: number;
  /** Share of the places that are as bright as the camera records. */
  readonly clipped: number;
}

/** Of the places so many count as the darkest, and as the brightest: common practice, no source. */
const ENDS = 0.015;
const CLIPPED = 0.985;
/** Frames with so much more of it than the least are left out. */
const UNCLIPPED = 0.002;
const FEWEST = 60;

/** A frame's light at the places, and by how many stops what is around the screen, and the screen itself, is brighter than where levels are determined; a screen of null has no say. */
export interface LevelFrame {
  readonly light: Float32Array;
  readonly stops: number;
  readonly screenStops: number | null;
}

/** The robust ends of what is seen at the places of some frames, each evened out by its exposure. Frames on which less is as bright as the camera records go before others. */
export function levelsFound(cells: PlaneCells, frames: readonly LevelFrame[]): LevelsFound | null {
  const looked = frames.map((frame) => placesOf(cells, frame));
  const fewest = Math.min(...looked.map((l) => l.clipped));
  const kept = looked.filter((l) => l.clipped <= fewest + UNCLIPPED);
  const seen = kept.flatMap((l) => l.seen);
  const clipped = kept.reduce((s, l) => s + l.clipped * l.seen.length, 0);
  if (seen.length < FEWEST) return null;
  const ys = Float64Array.from(seen, (s) => s.y);
  const screen = Float64Array.from(
    seen.filter((s) => s.inside),
    (s) => s.y,
  );
  const enough = screen.length >= FEWEST;
  // The screen by itself, where it counts: it may be small among what is around it.
  const low = Math.min(quantile(ys, ENDS), enough ? quantile(screen, ENDS) : Infinity);
  const high = Math.max(quantile(ys, 1 - ENDS), enough ? quantile(screen, 1 - ENDS) : 0);
  const meanOf = (of: readonly Place[]): [number, number, number] =>
    [0, 1, 2].map((c) => of.reduce((s, one) => s + one.rgb[c]!, 0) / Math.max(1, of.length)) as [
      number,
      number,
      number,
    ];
  return {
    black: lightToCode(low),
    white: lightToCode(high),
    dark: meanOf(seen.filter((s) => s.y <= low)),
    bright: meanOf(seen.filter((s) => s.y >= high)),
    places: seen.length,
    clipped: clipped / seen.length,
  };
}

interface Place {
  readonly inside: boolean;
  readonly y: number;
  readonly rgb: readonly [number, number, number];
}

function placesOf(cells: PlaneCells, { light, stops, screenStops }: LevelFrame): { seen: Place[]; clipped: number } {
  const seen: Place[] = [];
  let clipped = 0;
  for (let i = 0; i < cells.u.length; i++) {
    const own = cells.inside[i] === 1 ? screenStops : stops;
    const y = luminanceOf(light, i);
    if (own === null || y < 0) continue;
    if (lightToCode(y) > CLIPPED) clipped++;
    const gain = 2 ** -own;
    seen.push({
      inside: cells.inside[i] === 1,
      y: y * gain,
      rgb: [light[3 * i]! * gain, light[3 * i + 1]! * gain, light[3 * i + 2]! * gain],
    });
  }
  return { seen, clipped: seen.length > 0 ? clipped / seen.length : 1 };
}
