import { mapTuple } from '../../base/geometry/map-tuple.ts';
import type { Certainty } from '../follow/certainty.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoint, compose, type Homography } from '../../base/geometry/homography.ts';
import { distance, type Quad } from '../../base/geometry/quad.ts';
import { bend, straighten, type Lens } from './lens.ts';

/** A place bent and straightened again comes back within this, px. */
const BACK = 0.01;

/**
 * Maps of a plane without the lens (straightened places to straightened places, plate px), told as maps between where its corners are filmed, and back.
 * A plane that moves by homographies without a lens does not with one: at the corners these maps are exact.
 */
export class IdealMotion {
  private constructor(
    private readonly lens: Lens,
    private readonly corners: Quad,
    private readonly straight: Quad,
    private readonly toStraight: Homography,
  ) {}

  /** Null where the lens does not film the corners. */
  static at(lens: Lens, corners: Quad): IdealMotion | null {
    const straight = mapTuple(corners, (c) => straighten(lens, c));
    const map = straight.flat().every(Number.isFinite) ? homographyBetweenQuads(corners, straight) : null;
    return map && new IdealMotion(lens, corners, straight, map);
  }

  /** Null where a corner goes where the lens films nothing. */
  filmed(ideal: Homography): Homography | null {
    const straight = this.straight.map((p) => applyToPoint(ideal, p));
    const there = straight.map((p) => bend(this.lens, p));
    // Beyond where a strong barrel folds back, what is bent is not filmed.
    return there.every((p, i) => distance(straighten(this.lens, p), straight[i]!) < BACK)
      ? homographyBetweenQuads(this.corners, there)
      : null;
  }

  ideal(filmed: Homography): Homography | null {
    const there = this.corners.map((c) => straighten(this.lens, applyToPoint(filmed, c)));
    return there.flat().every(Number.isFinite) ? homographyBetweenQuads(this.straight, there) : null;
  }

  certainty(known: Certainty): Certainty {
    return { ...known, toUnit: compose(known.toUnit, this.toStraight) };
  }
}
