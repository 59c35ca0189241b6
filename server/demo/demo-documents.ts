import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { grownQuad } from '../../core/motion/keys/pull-region.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import type { QuadCorners, ShotDocument } from '../../core/base/schemas/types.ts';
import type { Truth } from '../../demo/truth.ts';
import { EMPTY_DOCUMENT } from '../database/documents.ts';

/** The demo's clips and contents: those that ship, or others of the same names. */
export const DEMO_FOLDER = process.env.YARLOP_DEMO_FOLDER || join(import.meta.dirname, '../../demo');

/** A shot that is worked to the end by what the generator knows. */
export function finishedDocument(truth: Truth, contentId: number): ShotDocument {
  return {
    ...EMPTY_DOCUMENT,
    referenceFrame: truth.referenceFrame,
    regions: [{ points: truth.region }],
    corners: truth.frames[truth.referenceFrame]!.corners as ShotDocument['corners'],
    contentId,
    look: {
      fit: 'stretch',
      levels: { black: truth.levels.black, white: truth.levels.white },
      soften: truth.softness,
      motionBlur: { shutter: truth.shutter, phase: 0 },
    },
  };
}

export const truthOf = (name: string) =>
  JSON.parse(readFileSync(join(DEMO_FOLDER, `clips/${name}.truth.json`), 'utf8')) as Truth;
const cornersOf = (truth: Truth, frame: number) => truth.frames[frame]!.corners as unknown as Quad;

/** Frames between which the phone is keyed by hand: before it is let go and after it is caught. */
export const KEYED = [18, 44] as const;
const KEYS = 8;

/** A phone thrown up and caught: followed while it is held, keyed by hand while it flies, and followed again. */
export function thrownDocument(truth: Truth, contentId: number, caught: number): ShotDocument {
  const [from, to] = KEYED;
  const last = truth.frames.length - 1;
  return {
    ...finishedDocument(truth, contentId),
    keepOut: truth.keepOut ? [{ points: truth.keepOut }] : [],
    range: [0, last],
    handKeys: Array.from({ length: KEYS }, (_, i) => Math.round(from + ((to - from) * i) / (KEYS - 1))).map(
      (frame) => ({ frame, corners: truth.frames[frame]!.corners as QuadCorners }),
    ),
    spans: [
      { from: 0, to: from - 1, source: 'plane' },
      { from, to, source: 'keys' },
      { from: to + 1, to: last, source: 'shot', shot: caught },
    ],
    fade: 4,
  };
}

/** What Front proposes for the held phone. */
const PROPOSED: Pick<ShotDocument['look'], 'keys' | 'markers' | 'spill'> = {
  keys: [{ colour: [0.03253, 0.4921, 0.07152], floor: 0.016, ceiling: 0.79 }],
  markers: [
    [0.2528, 0.1253, 0.0278, 0.015],
    [0.75, 0.124, 0.025, 0.0136],
    [0.2472, 0.3747, 0.0278, 0.0136],
    [0.7472, 0.3747, 0.0278, 0.0136],
    [0.7472, 0.6253, 0.0278, 0.0136],
    [0.2472, 0.876, 0.0278, 0.0136],
    [0.7472, 0.876, 0.0278, 0.0136],
  ],
  spill: {
    colour: [0.03253, 0.4921, 0.07152],
    allowance: 1.054,
    most: 1.61,
    areas: [
      {
        lit: true,
        shape: {
          name: 'device',
          soft: [0, 1],
          blur: true,
          points: [
            [482.01, 103.9],
            [484.34, 97.73],
            [499.82, 81.96],
            [528.8, 77.96],
            [697.7, 74.04],
            [725.16, 77.11],
            [741.97, 91.23],
            [744.97, 96.81],
            [749.82, 125.26],
            [802.24, 610.51],
            [800.59, 621.83],
            [785.55, 642.97],
            [758.05, 650.9],
            [583.49, 675.39],
            [552.84, 675.72],
            [533.79, 649.05],
            [529.89, 647.9],
            [525.86, 614],
            [515.05, 490.72],
            [503.18, 369.78],
            [482.56, 134.09],
          ],
        },
      },
    ],
  },
};

/** A green phone held in a glove: keyed as proposed. */
export function heldDocument(truth: Truth, contentId: number): ShotDocument {
  const plain = finishedDocument(truth, contentId);
  return { ...plain, keepOut: truth.keepOut ? [{ points: truth.keepOut }] : [], look: { ...plain.look, ...PROPOSED } };
}

/** The same plate followed from a frame after the catch. */
export function caughtDocument(truth: Truth): ShotDocument {
  const referenceFrame = truth.frames.length - 6;
  return {
    ...EMPTY_DOCUMENT,
    referenceFrame,
    regions: [{ points: grownQuad(cornersOf(truth, referenceFrame)).map(([x, y]): [number, number] => [x, y]) }],
    corners: truth.frames[referenceFrame]!.corners as ShotDocument['corners'],
  };
}
