import { mapTuple } from '../base/geometry/map-tuple.ts';
import { invert, type Homography } from '../base/geometry/homography.ts';
import { createPlane, type Plane } from '../base/image/plane.ts';
import { homographyOfPose } from '../motion/pose/plane-pose.ts';
import { rotationFromVector, type Vector3 } from '../motion/pose/rotation.ts';
import { straighten, type Lens } from '../motion/lens/lens.ts';

/** Pixels that an edge crosses are the mean of so many places across and down. */
const SUB = 20;

/** Where a board of 8 × 5 crossings is seen without the lens (squares to px): turned so, its middle so far across and down (in focal lengths) and away (in squares). */
export function heldBoard(turn: Vector3, [x, y, z]: Vector3, { focal, centre: [cx, cy] }: Lens): Homography {
  const rotation = rotationFromVector(turn);
  const at = mapTuple([0, 1, 2], (k) => rotation[3 * k]! * -3.5 + rotation[3 * k + 1]! * -2);
  return homographyOfPose(
    { rotation, position: [at[0] + x * z, at[1] + y * z, at[2] + z] },
    { focal, cx, cy, ratio: 1 },
  );
}

/** A chessboard with `across` × `down` inner crossings at whole numbers from 0 (a white rim about it) on grey, seen by `map` (squares to px without the lens) through a lens. */
export function boardPicture(
  width: number,
  height: number,
  map: Homography,
  lens: Lens,
  across: number,
  down: number,
): Plane {
  const out = createPlane(width, height);
  const back = invert(map)!;
  const row = width + 1;
  const is = new Float64Array(row * (height + 1));
  const js = is.slice();
  for (let y = 0; y <= height; y++) {
    for (let x = 0; x <= width; x++) {
      const [u, v] = straighten(lens, [x, y]);
      const w = back[6]! * u + back[7]! * v + back[8]!;
      is[y * row + x] = (back[0]! * u + back[1]! * v + back[2]!) / w;
      js[y * row + x] = (back[3]! * u + back[4]! * v + back[5]!) / w;
    }
  }
  const lightAt = (i: number, j: number): number => {
    if (!(i > -1.6 && j > -1.6 && i < across + 0.6 && j < down + 0.6)) return 0.4;
    return i < -1 || j < -1 || i > across || j > down || (Math.floor(i) + Math.floor(j)) % 2 === 0 ? 0.85 : 0.08;
  };
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const k = y * row + x;
      const around = [k, k + 1, k + row, k + row + 1];
      const light = around.map((c) => lightAt(is[c]!, js[c]!));
      let sum = light[0]!;
      if (
        light.some((v) => v !== sum) ||
        new Set(around.map((c) => `${Math.floor(is[c]!)},${Math.floor(js[c]!)}`)).size > 1
      ) {
        sum = 0;
        for (let b = 0; b < SUB; b++) {
          for (let a = 0; a < SUB; a++) {
            const s = (a + 0.5) / SUB;
            const t = (b + 0.5) / SUB;
            const mix = (v: Float64Array) =>
              (1 - t) * ((1 - s) * v[k]! + s * v[k + 1]!) + t * ((1 - s) * v[k + row]! + s * v[k + row + 1]!);
            sum += lightAt(mix(is), mix(js));
          }
        }
        sum /= SUB * SUB;
      }
      out.data[y * width + x] = sum;
    }
  }
  return out;
}
