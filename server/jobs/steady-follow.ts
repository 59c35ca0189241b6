import { certaintyFromElsewhere } from '../../core/motion/follow/certainty.ts';
import type { FrameFit } from '../../core/motion/follow/frame-fit.ts';
import { carryOutline, type KeyedOutline } from '../../core/base/geometry/outline.ts';
import { applyToPoint, compose, invert, type Homography } from '../../core/base/geometry/homography.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { Shot, ShotDocument } from '../../core/base/schemas/types.ts';
import { ontoSteadied, steadiedSurface, steadyOf } from '../../core/motion/steady/steadied-luma.ts';
import type { Queryable } from '../database/connection.ts';
import { readDocument } from '../database/documents.ts';
import { readMotion } from '../database/motion-source.ts';
import { findShot } from '../database/shots.ts';
import { mapsOf } from './seating.ts';

/** A follow on a picture that another track steadies: what goes in is led onto it, what comes out is led back, exactly. */
export interface SteadyFollow {
  /** The plate's reference frame to the steadied one. */
  readonly reference: Homography;
  readonly at: (frame: number) => Homography;
  readonly outline: <O extends KeyedOutline>(outline: O) => O;
  readonly onSteadied: (frame: number, map: Homography) => Homography | null;
  readonly ofPlate: (fit: FrameFit) => FrameFit;
}

/** How a shot's follow is steadied; null where it is followed on the plate itself. @throws Problem steady-by-itself, steady-unknown */
export async function steadyFor(db: Queryable, shot: Shot, document: ShotDocument): Promise<SteadyFollow | null> {
  if (document.steady?.follow !== true) return null;
  const other =
    document.steady.by === undefined || document.steady.by === shot.id ? null : await findShot(db, document.steady.by);
  if (!other || !shot.plate?.facts || other.plate?.id !== shot.plate.id) throw new Problem('steady-by-itself');
  const theirs = await readDocument(db, other.id, other.revision);
  const corners = steadiedSurface(theirs);
  const maps = corners
    ? steadyOf(document.steady, corners, mapsOf(await readMotion(db, other, theirs)), shot.plate.facts.frames)
    : new Map<number, Homography>();
  const reference = maps.get(document.referenceFrame);
  const backFromReference = reference && invert(reference);
  if (!reference || !backFromReference)
    throw new Problem('steady-unknown', { name: other.name, frame: document.referenceFrame });
  const at = (frame: number) => maps.get(frame) ?? reference;
  return {
    reference,
    at,
    outline: (outline) => carryOutline(outline, (p) => applyToPoint(reference, p)),
    onSteadied: (frame, map) => ontoSteadied(map, at(frame), reference),
    ofPlate: (fit) => {
      const back = fit.homography && invert(at(fit.frame));
      const { disagreement: _ofSteadied, ...rest } = fit;
      return fit.homography && back
        ? {
            ...rest,
            homography: compose(back, fit.homography, reference),
            ...(fit.certainty ? { certainty: certaintyFromElsewhere(fit.certainty, reference, 0) } : {}),
          }
        : rest;
    },
  };
}
