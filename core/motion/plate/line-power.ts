import type { Plane } from '../../base/image/plane.ts';
import { sampleBilinear } from '../../base/image/sampling.ts';
import type { TileMotion } from './tile-motion.ts';

/** Mean power of lines through a picture, all in one direction. */
export interface LinePower {
  /** Samples of a line, one a pixel. */
  samples: number;
  /** Direction of the lines, radians, y down. */
  angle: number;
  /** At frequencies k/samples, k = 0…samples/2; white noise of variance 1 has the power of `noiseShape`. */
  power: Float64Array;
}

const LINES_A_TILE = 24;
const LINE_STEP = 4;
const FEWEST_LINES = 12;

/** Mean power of lines of `samples` pixels through the middles of some pieces; null when too few lie inside the picture. */
export function linePower(
  plane: Plane,
  tiles: readonly TileMotion[],
  angle: number,
  samples: number,
): LinePower | null {
  const { taper, gain } = lineKit(samples);
  const power = new Float64Array(samples / 2 + 1);
  const line = new Float64Array(samples);
  const ux = Math.cos(angle);
  const uy = Math.sin(angle);
  let lines = 0;
  for (const { x, y } of tiles) {
    for (let k = 0; k < LINES_A_TILE; k++) {
      const aside = (k + 0.5 - LINES_A_TILE / 2) * LINE_STEP;
      const x0 = x - uy * aside - (ux * samples) / 2;
      const y0 = y + ux * aside - (uy * samples) / 2;
      if (!within(plane, x0, y0) || !within(plane, x0 + ux * samples, y0 + uy * samples)) continue;
      // The derivative whitens, so that little of the strong low frequencies spills into the others.
      let before = sampleBilinear(plane, x0, y0);
      for (let i = 0; i < samples; i++) {
        const after = sampleBilinear(plane, x0 + ux * (i + 1), y0 + uy * (i + 1));
        line[i] = (after - before) * taper[i]!;
        before = after;
      }
      addPower(line, samples, power);
      lines++;
    }
  }
  if (lines < FEWEST_LINES) return null;
  // The derivative is undone again.
  return {
    samples,
    angle,
    power: power.map((v, k) => (k === 0 ? 0 : v / (lines * gain * (2 - 2 * Math.cos((2 * Math.PI * k) / samples))))),
  };
}

/**
 * Power that white noise of variance 1 has at `frequency` (cycles a pixel) along a line: interpolation between
 * pixels is a tent in both directions, and what two samples of it share is a cubic B-spline of their distance.
 */
export function noiseShape(frequency: number, angle: number): number {
  const ux = Math.cos(angle);
  const uy = Math.sin(angle);
  let sum = spline(0) ** 2;
  for (let lag = 1; lag <= 2; lag++)
    sum += 2 * spline(lag * ux) * spline(lag * uy) * Math.cos(2 * Math.PI * frequency * lag);
  return sum;
}

/** The cubic B-spline. */
function spline(x: number): number {
  const a = Math.abs(x);
  return a < 1 ? 2 / 3 - a * a + (a * a * a) / 2 : a < 2 ? (2 - a) ** 3 / 6 : 0;
}

interface LineKit {
  /** Hann's window keeps strong frequencies from spilling into the notches. */
  taper: Float64Array;
  /** Sum of its squares. */
  gain: number;
  cosines: Float64Array;
}
const kits = new Map<number, LineKit>();
function lineKit(samples: number): LineKit {
  let kit = kits.get(samples);
  if (!kit) {
    const taper = Float64Array.from(
      { length: samples },
      (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / samples),
    );
    kit = {
      taper,
      gain: taper.reduce((sum, w) => sum + w * w, 0),
      cosines: Float64Array.from({ length: samples }, (_, i) => Math.cos((2 * Math.PI * i) / samples)),
    };
    kits.set(samples, kit);
  }
  return kit;
}

function addPower(line: Float64Array, samples: number, power: Float64Array): void {
  const { cosines } = lineKit(samples);
  for (let k = 1; k < power.length; k++) {
    let re = 0;
    let im = 0;
    for (let i = 0; i < samples; i++) {
      const turn = (k * i) % samples;
      re += line[i]! * cosines[turn]!;
      im += line[i]! * cosines[(turn + (samples * 3) / 4) % samples]!;
    }
    power[k]! += re * re + im * im;
  }
}

function within({ width, height }: Plane, x: number, y: number): boolean {
  return x >= 0 && y >= 0 && x <= width - 1 && y <= height - 1;
}
