import { mapTuple } from '../../base/geometry/map-tuple.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import type { Homography, Point } from '../../base/geometry/homography.ts';
import { UNIT_SQUARE, type Quad } from '../../base/geometry/quad.ts';
import { bend, straighten, type Lens } from '../../motion/lens/lens.ts';

export interface StMapChoices {
  /** Pixels beyond the picture to each side; 0 unless given. */
  readonly overscan?: number | undefined;
  /** Whether t grows downward, as rows do (unless given), or upward. */
  readonly y?: 'down' | 'up' | undefined;
  /** The lens of the plate, whose corners and pixels are as filmed; none unless given. */
  readonly lens?: Lens | undefined;
}

/** A map as an EXR holds it: for each pixel where it is taken from, 0 to 1 across and down the other picture, and whether that is within it. */
export interface StMap {
  readonly width: number;
  readonly height: number;
  readonly s: Float32Array;
  readonly t: Float32Array;
  readonly within: Float32Array;
}

/** For each pixel of the plate, its middle, what place of the content lies there. Null quad: nothing does. */
export function stMap(
  quad: Quad | null,
  plate: { readonly width: number; readonly height: number },
  choices: StMapChoices = {},
): StMap {
  const { lens } = choices;
  const seen = quad && (lens ? straightQuad(lens, quad) : quad);
  const h = seen && homographyBetweenQuads(seen, UNIT_SQUARE);
  return mapped(h, plate, middleOf(seen), [1, 1], choices, lens && ((p) => straighten(lens, p)));
}

/** For each pixel of the flattened surface, its middle, what place of the plate is seen there. */
export function inverseStMap(
  quad: Quad | null,
  size: { readonly width: number; readonly height: number },
  plate: { readonly width: number; readonly height: number },
  choices: StMapChoices = {},
): StMap {
  const { width, height } = size;
  const { lens } = choices;
  const seen = quad && (lens ? straightQuad(lens, quad) : quad);
  const h =
    seen &&
    homographyBetweenQuads(
      [
        [0, 0],
        [width, 0],
        [width, height],
        [0, height],
      ],
      seen,
    );
  return mapped(
    h,
    size,
    [width / 2, height / 2],
    [plate.width, plate.height],
    choices,
    undefined,
    lens && ((p) => bend(lens, p)),
  );
}

const middleOf = (quad: Quad | null): Point =>
  quad ? [quad.reduce((sum, [x]) => sum + x, 0) / 4, quad.reduce((sum, [, y]) => sum + y, 0) / 4] : [0, 0];

function straightQuad(lens: Lens, quad: Quad): Quad | null {
  const straight = mapTuple(quad, (c) => straighten(lens, c));
  return straight.flat().every(Number.isFinite) ? straight : null;
}

type Bending = ((at: Point) => Point) | undefined;

/** `seen`: a place that is in front of the camera for certain. `first` is done to a pixel's place before the homography, `then` to what comes of it. */
function mapped(
  h: Homography | null,
  { width, height }: { readonly width: number; readonly height: number },
  seen: Point,
  [across, down]: readonly [number, number],
  { overscan = 0, y = 'down' }: StMapChoices,
  first?: Bending,
  then?: Bending,
): StMap {
  const wide = width + 2 * overscan;
  const high = height + 2 * overscan;
  const s = new Float32Array(wide * high);
  const t = new Float32Array(wide * high);
  const within = new Float32Array(wide * high);
  if (h) {
    // Beyond the horizon a place would come from behind the camera.
    const side = Math.sign(h[8]! + h[6]! * seen[0] + h[7]! * seen[1]);
    for (let row = 0, i = 0; row < high; row++) {
      for (let col = 0; col < wide; col++, i++) {
        let px = col - overscan + 0.5;
        let py = row - overscan + 0.5;
        if (first) [px, py] = first([px, py]);
        const w = h[6]! * px + h[7]! * py + h[8]!;
        // Not so either where a lens films nothing.
        if (!(w * side > 0)) continue;
        let u = (h[0]! * px + h[1]! * py + h[2]!) / w;
        let v = (h[3]! * px + h[4]! * py + h[5]!) / w;
        if (then) [u, v] = then([u, v]);
        u /= across;
        v /= down;
        s[i] = u;
        t[i] = y === 'up' ? 1 - v : v;
        within[i] = u >= 0 && u <= 1 && v >= 0 && v <= 1 ? 1 : 0;
      }
    }
  }
  return { width: wide, height: high, s, t, within };
}

/** What a file with a map says of itself. */
export function stMapNote(
  plate: { readonly width: number; readonly height: number },
  inverse: boolean,
  y: 'down' | 'up' = 'down',
): string {
  return `${inverse ? 'for each pixel of the flattened surface the place in the plate' : 'for each pixel of the plate the place in the content'}: R across, G ${y}, 0 to 1 from edge to edge, taken at pixel middles; A 1 where that is within; plate ${plate.width}x${plate.height}`;
}

/** A map's channels as an EXR names them. */
export function stMapChannels({ s, t, within }: StMap): { name: string; values: Float32Array }[] {
  return [
    { name: 'R', values: s },
    { name: 'G', values: t },
    { name: 'B', values: new Float32Array(s.length) },
    { name: 'A', values: within },
  ];
}
