import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoint, compose, IDENTITY, invert, type Homography } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import type { PlateColour } from '../../base/image/plate-colour.ts';
import { lightOfRegion, type LightRegion } from '../../base/image/light-region.ts';
import { codesOfLight } from '../composite/layer-pictures.ts';
import type { Gains } from './match-light.ts';
import { warpLight } from './warp-light.ts';

/** How the second picture takes the first's place on one frame. */
export interface Join {
  /** Where the first's pixels are in the second. */
  readonly map: Homography;
  readonly gains: Gains;
  /** How far the pictures' places and light have gone from the first's to the second's, 0…1. */
  readonly gone: number;
  /** How much of each pixel is the second's, 0…1. */
  readonly second: Float32Array;
}

export function lightOfWhole(picture: CodedPicture, colour: PlateColour): LightRegion['planes'] {
  return lightOfRegion(picture, { left: 0, top: 0, right: picture.width, bottom: picture.height }, colour).planes;
}

/** Maps of both pictures to where they meet: their corners part of the way from the first's places to the second's. Null where that is no map. */
export function meeting(
  map: Homography,
  gone: number,
  width: number,
  height: number,
): { first: Homography; second: Homography } | null {
  const corners: Quad = [
    [0, 0],
    [width, 0],
    [width, height],
    [0, height],
  ];
  const there = corners.map((c) => applyToPoint(map, c));
  const between = corners.map(([x, y], i): [number, number] => [
    x + gone * (there[i]![0] - x),
    y + gone * (there[i]![1] - y),
  ]);
  const first = gone === 0 ? IDENTITY : homographyBetweenQuads(corners, between);
  const back = invert(map);
  return first && back && { first, second: compose(first, back) };
}

/** Both pictures warped to where they meet, their light between the two, mixed in light. What one of them does not reach is the other's. */
export function joinPictures(
  a: CodedPicture,
  b: CodedPicture,
  { map, gains, gone, second }: Join,
  colour: PlateColour,
): CodedPicture {
  const { width, height } = a;
  const to = meeting(map, gone, width, height);
  const first = to && warpLight(lightOfWhole(a, colour), width, height, to.first);
  const other = to && warpLight(lightOfWhole(b, colour), width, height, to.second);
  if (!first || !other) throw new RangeError('the pictures do not lie on each other');
  const light = new Float32Array(3 * width * height);
  const up = gains.map((g) => g ** gone);
  const down = gains.map((g) => g ** (gone - 1));
  for (let at = 0; at < width * height; at++) {
    const wa = (1 - second[at]!) * (first.seen[at]! + 1e-4);
    const wb = second[at]! * (other.seen[at]! + 1e-4);
    const one = wa + wb > 1e-9 ? wb / (wa + wb) : second[at]!;
    // Where the share is all of one that does not reach there, the other one is taken.
    const share =
      one > 0.999 && other.seen[at]! === 0 && first.seen[at]! > 0
        ? 0
        : one < 0.001 && first.seen[at]! === 0 && other.seen[at]! > 0
          ? 1
          : one;
    for (let c = 0; c < 3; c++)
      light[3 * at + c] =
        (1 - share) * first.planes[c as 0][at]! * up[c]! + share * other.planes[c as 0][at]! * down[c]!;
  }
  return { ...a, data: codesOfLight(light, 3, colour, a.peak) };
}
