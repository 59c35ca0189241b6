import type { Homography } from '../../base/geometry/homography.ts';
import { sampleLight, type LightPicture } from '../../base/image/light-sampler.ts';
import { sidePoint, type SideLine } from './sides.ts';

/** What of a band about a line is sampled. */
export interface BandShape {
  /** Shares of the line between which it is looked at. */
  readonly from: number;
  readonly to: number;
  /** So many pieces along it, each of them one profile: the mean of `samples` places along it. */
  readonly segments: number;
  readonly samples: number;
  /** How far across, px inward (negative) and outward, and the step. */
  readonly inner: number;
  readonly outer: number;
  readonly step: number;
}

/** Profiles across a line, piece by piece along it: light, NaN where the picture does not reach. */
export interface EdgeBand {
  readonly segments: number;
  /** Values of a profile, from the inside outward. */
  readonly columns: number;
  readonly inner: number;
  readonly step: number;
  readonly values: Float32Array;
}

export function bandColumns({ inner, outer, step }: BandShape): number {
  return Math.round((outer - inner) / step) + 1;
}

/** The share along the line of a piece's middle. */
export function segmentMiddle({ from, to, segments }: BandShape, j: number): number {
  return from + ((to - from) * (j + 0.5)) / segments;
}

/**
 * Samples a picture in a band about `line`. `map` takes the line's own coordinates to those of the picture (the identity where
 * the line is drawn in the picture itself). A profile with a place outside the picture is NaN there.
 */
export function sampleBand(picture: LightPicture, map: Homography, line: SideLine, shape: BandShape): EdgeBand {
  const columns = bandColumns(shape);
  const { segments, samples, inner, step, from, to } = shape;
  const values = new Float32Array(segments * columns);
  const [h0, h1, h2, h3, h4, h5, h6, h7, h8] = map as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const [nx, ny] = line.normal;
  for (let j = 0; j < segments; j++) {
    for (let k = 0; k < samples; k++) {
      const [x, y] = sidePoint(line, from + ((to - from) * (j + (k + 0.5) / samples)) / segments, 0);
      for (let c = 0, at = j * columns; c < columns; c++, at++) {
        const s = inner + c * step;
        const px = x + nx * s;
        const py = y + ny * s;
        const w = h6 * px + h7 * py + h8;
        values[at]! += sampleLight(picture, (h0 * px + h1 * py + h2) / w, (h3 * px + h4 * py + h5) / w);
      }
    }
  }
  for (let i = 0; i < values.length; i++) values[i]! /= samples;
  return { segments, columns, inner, step, values };
}
