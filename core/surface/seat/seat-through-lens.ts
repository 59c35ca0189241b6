import { mapTuple } from '../../base/geometry/map-tuple.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { compose, translation, type Point } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import type { Correction } from './corrections.ts';
import type { SeatPlan } from './measure-seat.ts';
import { IdealMotion } from '../../motion/lens/ideal-motion.ts';
import type { Lens } from '../../motion/lens/lens.ts';
import { StraightenedPicture } from '../../motion/lens/straightened-picture.ts';

/**
 * Looking at a surface's borders through a lens: in straightened pictures, in which they are straight. What is found is stated for the plate as it was filmed: corners, and moves of the
 * reference's corners.
 */
export class SeatThroughLens {
  private readonly room: StraightenedPicture;

  constructor(
    private readonly lens: Lens,
    width: number,
    height: number,
  ) {
    this.room = new StraightenedPicture(lens, width, height);
  }

  luma(frame: LumaFrame): LumaFrame {
    return this.room.luma(frame);
  }

  straight(quad: Quad): Quad {
    return mapTuple(quad, (p) => this.room.toStraight(p));
  }

  filmed(quad: Quad): Quad {
    return mapTuple(quad, (p) => this.room.toFilmed(p));
  }

  filmedPlace(at: Point): Point {
    return this.room.toFilmed(at);
  }

  /** A plan told of the plate as one of straightened pictures; frames that the lens films nowhere are left out. Null where it films no corners. */
  plan(plan: SeatPlan): SeatPlan | null {
    const { left, top } = this.room;
    const ideal = IdealMotion.at(this.lens, plan.corners);
    const into = translation(-left, -top);
    const out = translation(left, top);
    return (
      ideal && {
        ...plan,
        corners: this.straight(plan.corners),
        frames: plan.frames.flatMap((row) => {
          const map = ideal.ideal(row.map);
          return map ? [{ ...row, map: compose(compose(into, map), out) }] : [];
        }),
      }
    );
  }

  /** How far a straightened corner moves where it is filmed, when it is moved. */
  filmedMove(corner: Point, dx: number, dy: number): [number, number] {
    const [x0, y0] = this.room.toFilmed(corner);
    const [x1, y1] = this.room.toFilmed([corner[0] + dx, corner[1] + dy]);
    return [x1 - x0, y1 - y0];
  }

  /** Moves of all four corners, straightened, as they are filmed. */
  filmedMoves(corners: Quad, moves: Float64Array): Float64Array {
    return Float64Array.from(corners.flatMap((corner, k) => this.filmedMove(corner, moves[2 * k]!, moves[2 * k + 1]!)));
  }

  filmedCorrections(corners: Quad, corrections: readonly Correction[]): Correction[] {
    return corrections.map((c) => {
      const [dx, dy] = this.filmedMove(corners[c.corner]!, c.dx, c.dy);
      return { ...c, dx, dy };
    });
  }
}
