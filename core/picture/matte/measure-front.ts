import type { MeasuredFront } from '../look/look.ts';
import { bounds, type Quad } from '../../base/geometry/quad.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import type { PlateColour } from '../../base/image/plate-colour.ts';
import type { SpillArea } from '../../base/schemas/types.ts';
import { excessPlane, keyMatte } from './colour-key.ts';
import { deviceFrame } from './device-frame.ts';
import { findMarkers } from './find-markers.ts';
import { innerPixels } from './front-of-frame.ts';
import type { Lens } from '../../motion/lens/lens.ts';
import { boxWithin, lightOfRegion } from '../../base/image/light-region.ts';
import { proposeKey, proposeLimits, type KeySample } from './propose-key.ts';
import { proposeAllowance } from './propose-spill.ts';
import { markerPixels } from './screen-markers.ts';
import { screenField } from './screen-field.ts';

/** A frame of the plate and where the surface is on it. */
export interface FrontFrame {
  readonly picture: CodedPicture;
  readonly quad: Quad;
  /** The plate's lens. */
  readonly lens?: Lens | undefined;
}

/**
 * What `measure` proposes for a plate: a key of the screen's colour, the marks on the screen, and the spill's colour. No key and no spill where the
 * surface shows no colour to key by. `ratio` is the surface's width over height; `home`, where it is given, is where the surface lies on the frame that outlines are determined
 * at: then the device's own frame is looked for.
 */
export function measureFront(
  frames: readonly FrontFrame[],
  ratio: number,
  colour: PlateColour,
  home?: Quad,
): MeasuredFront {
  const samples = frames.flatMap(({ picture, quad, lens }) => {
    const box = boxWithin(bounds(quad), 4, picture);
    return box ? [{ quad, lens, region: lightOfRegion(picture, box, colour), inside: innerPixels(quad, box) }] : [];
  });
  const first = proposeKey(samples);
  if (!first) return { keys: [], markers: [], spill: null };
  const markers = findMarkers(
    samples.map(({ quad, lens, region, inside }) => ({
      quad,
      lens,
      region,
      matte: matteOf({ region, inside }, first),
    })),
    ratio,
  );
  // Marks lie between clear and solid: without them the limits are determined better.
  const rest = samples.map(({ quad, lens, region, inside }) => ({
    region,
    inside: withoutMarks(inside, markers, quad, region, lens),
  }));
  const limits = proposeLimits(rest, first);
  const key = { ...first, floor: Number(limits.floor.toFixed(3)), ceiling: Number(limits.ceiling.toFixed(3)) };
  const frame = home ? deviceFrame(frames, key, ratio, colour, home) : null;
  const rounded = frame?.map(([x, y]): [number, number] => [Number(x.toFixed(2)), Number(y.toFixed(2))]);
  // It is only lit: all that it has of the screen's colour is the screen's.
  const areas: SpillArea[] = rounded
    ? [{ shape: { name: 'device', points: rounded, soft: [0, 1], blur: true }, lit: true }]
    : [];
  return {
    keys: [key],
    markers,
    spill: { colour: key.colour, ...proposeAllowance(frames, key, colour), ...(areas.length > 0 ? { areas } : {}) },
  };
}

function matteOf({ region, inside }: KeySample, key: NonNullable<ReturnType<typeof proposeKey>>): Float32Array {
  const excesses = excessPlane(region, key);
  return keyMatte(excesses, screenField(region, excesses, inside, key).excess, key);
}

function withoutMarks(
  inside: Float32Array,
  markers: MeasuredFront['markers'],
  quad: Quad,
  { box }: KeySample['region'],
  lens: Lens | undefined,
): Float32Array {
  const marked = markerPixels(markers, { before: null, now: quad, after: null }, box, undefined, lens);
  return marked ? inside.map((v, i) => (marked[i]! > 0 ? 0 : v)) : inside;
}
