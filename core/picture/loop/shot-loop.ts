import { compose, type Homography } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { motionAbout } from '../pin/shutter-path.ts';
import { inUse, keyThatDoesNotFit } from '../../base/geometry/outline.ts';
import { shapeOnFrame } from '../matte/roto-shapes.ts';
import { Problem } from '../../base/problem/problem.ts';
import type { AlignedByNumbers, ShotDocument, ShotLoop } from '../../base/schemas/types.ts';
import { AS_IT_IS, type JoinSettings } from './joining.ts';
import { splitMatte } from './split-share.ts';

export const USUAL_FADE = 12;
export const USUAL_SOFT = 20;
/** A smeared shape is made from no more moments than this. */
const MOMENTS = 8;

/** What a schema cannot say of a shot's loop. @throws Problem bad-field */
export function checkShotLoop({ split, second }: ShotLoop, where: string): void {
  const fail = (field: string, why: string): never => {
    throw new Problem('bad-field', { where, field: `loop/${field}`, why });
  };
  const { line, shape } = split ?? {};
  if (line && shape) fail('split', 'has a line and a shape; it must be one of them');
  if (line && [line.points, ...(line.keys ?? []).map((key) => key.points)].some((points) => points.length !== 2))
    fail('split/line', 'needs two points, on every key as well');
  if (shape && (shape.points.length < 3 || keyThatDoesNotFit(shape)))
    fail('split/shape', 'needs three points or more, and as many on every key');
  if (second && !line && !shape) fail('split', 'is missing: two takes are divided by a line or a shape');
}

/** Moved, then turned and scaled about the picture's middle. */
export function mapByNumbers(
  { move: [dx, dy], turn, scale }: AlignedByNumbers,
  width: number,
  height: number,
): Homography {
  const a = (turn * Math.PI) / 180;
  const c = scale * Math.cos(a);
  const s = scale * Math.sin(a);
  const x = width / 2;
  const y = height / 2;
  return compose([c, -s, x - c * x + s * y, s, c, y - s * x - c * y, 0, 0, 1], [1, 0, dx, 0, 1, dy, 0, 0, 1]);
}

/** How a shot is joined: what its document tells, in plate pixels. `corners`: where the surface is, for a shape that rides on it. */
export function shotJoin(
  {
    loop = {},
    keepOut,
    corners: reference,
    referenceFrame,
  }: Pick<ShotDocument, 'loop' | 'keepOut' | 'corners' | 'referenceFrame'>,
  { width, height }: { readonly width: number; readonly height: number },
  first: number,
  corners: ReadonlyMap<number, Quad>,
): JoinSettings {
  const { split, byHand } = loop;
  const box = { left: 0, top: 0, right: width, bottom: height };
  const within = (frame: number): Float32Array => {
    const shape = split!.shape!;
    const motion = motionAbout((f) => corners.get(f), frame);
    // Where the surface is not known a shape that rides on it is nowhere.
    if (!motion && shape.rides !== 'plate') return new Float32Array(width * height);
    const still: Quad = [
      [0, 0],
      [width, 0],
      [width, height],
      [0, height],
    ];
    return shapeOnFrame(
      shape,
      {
        motion: motion ?? { before: null, now: still, after: null },
        frame,
        reference,
        referenceFrame,
        shutter: 0,
        phase: 0,
        mostMoments: MOMENTS,
      },
      box,
    );
  };
  const line = split?.line && { home: split.home ?? first, soft: split.soft ?? USUAL_SOFT, line: split.line };
  return {
    plan: { motion: loop.motion ?? 'perspective', region: loop.region, keepOut: inUse(keepOut) },
    light: loop.light !== false,
    where: 'the loop',
    told: byHand ? { map: mapByNumbers(byHand, width, height) } : loop.align === 'none' ? AS_IT_IS : null,
    splitAt: split?.shape ? within : line ? (frame) => splitMatte(line, frame, width, height) : null,
  };
}
