import { compose, invert, type Homography } from '../../base/geometry/homography.ts';
import { mapKeyed } from '../../base/time/keyframes.ts';
import { carryOutline, type KeyedOutline } from '../../base/geometry/outline.ts';
import type { PlateFacts, PointPair, ShotDocument } from '../../base/schemas/types.ts';
import { decimalRate } from '../../base/time/frame-rate.ts';

/** How the work of a shot moves from one version of its plate to another. */
export interface PlateMove {
  scaleX: number;
  scaleY: number;
  /** Frame f becomes frame f + offset. */
  offset: number;
}

export function plateMove(
  old: { width: number; height: number },
  fresh: { width: number; height: number },
  offset: number,
): PlateMove {
  return { scaleX: fresh.width / old.width, scaleY: fresh.height / old.height, offset };
}

/** The document on the new plate; lengths in pixels scale with it. */
export function moveDocument(
  document: ShotDocument,
  { scaleX, scaleY, offset }: PlateMove,
  frames: number,
): ShotDocument {
  const point = ([x, y]: PointPair): PointPair => [x * scaleX, y * scaleY];
  const outline = <O extends KeyedOutline>(o: O): O => {
    const moved = carryOutline(o, ([x, y]) => point([x, y]));
    return moved.keys
      ? {
          ...moved,
          keys: moved.keys
            .map((key) => ({ ...key, frame: key.frame + offset }))
            .filter((key) => key.frame >= 0 && key.frame < frames),
        }
      : moved;
  };
  const even = Math.sqrt(scaleX * scaleY);
  const { look, range, protect, corrections, outset, cornerRadius } = document;
  const span = ([a, b]: readonly [number, number]): [number, number] => [
    Math.max(0, a + offset),
    Math.min(frames - 1, b + offset),
  ];
  return {
    ...document,
    referenceFrame: document.referenceFrame + offset,
    regions: document.regions.map(outline),
    keepOut: document.keepOut.map(outline),
    corners: document.corners && (document.corners.map(point) as ShotDocument['corners']),
    look: {
      ...look,
      ...(look.soften === undefined ? {} : { soften: mapKeyed(look.soften, (s) => Math.min(50, s * even)) }),
      ...(look.disc === undefined ? {} : { disc: mapKeyed(look.disc, (r) => r * even) }),
      ...(look.feather === undefined
        ? {}
        : { feather: mapKeyed(look.feather, (sides) => sides.map((f) => f * even) as typeof sides) }),
      ...(look.crop === undefined
        ? {}
        : { crop: mapKeyed(look.crop, (sides) => sides.map((f) => f * even) as typeof sides) }),
      ...(look.radius === undefined ? {} : { radius: mapKeyed(look.radius, (r) => r * even) }),
    },
    ...(corrections
      ? {
          corrections: corrections
            .map((c) => ({ ...c, frame: c.frame + offset, dx: c.dx * scaleX, dy: c.dy * scaleY }))
            .filter((c) => c.frame >= 0 && c.frame < frames),
        }
      : {}),
    ...(outset?.unit === 'px'
      ? { outset: { ...outset, sides: outset.sides.map((s) => s * even) as typeof outset.sides } }
      : {}),
    ...(cornerRadius === undefined ? {} : { cornerRadius: cornerRadius * even }),
    ...(range ? { range: span(range) } : {}),
    ...(protect ? { protect: protect.map(span).filter(([a, b]) => a <= b) } : {}),
  };
}

/** A frame's homography in pixels of the new plate. */
export function moveHomography(h: Homography, { scaleX, scaleY }: PlateMove): Homography {
  const scale = [scaleX, 0, 0, 0, scaleY, 0, 0, 0, 1];
  return compose(scale, compose(h, invert(scale)!));
}

/** What does not fit, in sentences; nothing has changed yet. */
export function moveWarnings(document: ShotDocument, old: PlateFacts, fresh: PlateFacts, offset: number): string[] {
  const out: string[] = [];
  const { scaleX, scaleY } = plateMove(old, fresh, offset);
  const reference = document.referenceFrame + offset;
  if (reference < 0 || reference >= fresh.frames)
    out.push(`The reference frame would be ${reference}, outside the new plate's ${fresh.frames} frames.`);
  const first = Math.max(0, -offset);
  const last = Math.min(old.frames - 1, fresh.frames - 1 - offset);
  const lost = old.frames - Math.max(0, last - first + 1);
  if (lost > 0)
    out.push(`${lost} of ${old.frames} frames are not in the new plate; what was followed on them is left out.`);
  if (old.rate[0] * fresh.rate[1] !== fresh.rate[0] * old.rate[1])
    out.push(
      `The rate changes from ${decimalRate(old.rate)} to ${decimalRate(fresh.rate)}; frames stay paired one to one.`,
    );
  if (Math.abs(scaleX / scaleY - 1) > 0.005)
    out.push(
      `The proportions differ (${old.width}×${old.height} and ${fresh.width}×${fresh.height}): the work would be stretched.`,
    );
  if (old.pixelAspect[0] * fresh.pixelAspect[1] !== fresh.pixelAspect[0] * old.pixelAspect[1])
    out.push(`The shape of the pixels differs (${old.pixelAspect.join(':')} and ${fresh.pixelAspect.join(':')}).`);
  return out;
}
