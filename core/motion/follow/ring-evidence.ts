import type { Homography } from '../../base/geometry/homography.ts';
import { DOUBT_BELOW, LOST_BELOW, SURE } from './confidence.ts';
import type { Attempt, Registration, Task } from './registration.ts';

/** What is listened to: all points of the region, or only those of the ring around the screen. */
export type Evidence = 'all' | 'ring';

/** A ring with less agreeing detail than this objects to the common motion. */
const RING_OBJECTS = 0.6;
/** On its own it must fit so much better than with the rest: where it can slide along its edges it does not. */
const RING_GAINS = 0.8;
/** Longest smear with which a ring that does not object is asked, px. */
const RING_UP_TO_BLUR = 5;
/** Where by its own equations it would move by less than this share of a conflict, it is not asked. */
const UNMOVED = 0.5;
/** So many frames must the inside agree before it is listened to again. */
const AGREES_AGAIN = 6;

/**
 * Where the inside of the screen pulls the common motion away from the ring around it (a reflection, a picture that
 * scrolls), the ring is followed alone, until the inside moves with it again.
 */
export class RingEvidence {
  evidence: Evidence = 'all';
  /** Frames in a row on which the inside agreed with the ring again. */
  agreeing = 0;
  /** How often the inside has been found to go its own way. */
  conflicts = 0;

  /** `weigh` gives each point its say for the evidence that is listened to. */
  constructor(
    private readonly registration: Registration,
    private readonly hasInside: boolean,
    private readonly weigh: (evidence: Evidence) => void,
  ) {}

  /** The attempt, or a better one by what should be listened to on this frame. */
  choose(task: Task, attempt: Attempt, starts: readonly Homography[]): Attempt {
    if (!this.hasInside) return attempt;
    if (this.evidence === 'all') {
      // Smeared rings say little; they are asked only when they object.
      if (
        !(attempt.quality.ringDetail < RING_OBJECTS) &&
        this.registration.blurAt(attempt.homography, task.motionAt, this.registration.shutter.value) > RING_UP_TO_BLUR
      )
        return attempt;
      if (!(attempt.quality.ringDetail < RING_OBJECTS) && this.registration.ringPull(attempt, task.gap) < UNMOVED)
        return attempt;
      this.listenTo('ring');
      const alone = [
        this.registration.register(
          task,
          attempt.homography,
          attempt.light,
          attempt.quality.ringDetail < RING_OBJECTS ? 3 : 1,
        ),
      ];
      if (attempt.quality.ringDetail < RING_OBJECTS)
        alone.push(...starts.map((start) => this.registration.register(task, start, attempt.light)));
      const best = alone.reduce((a, b) => (b.confidence > a.confidence ? b : a));
      if (
        best.confidence >= SURE &&
        best.quality.ringMisfit < RING_GAINS * attempt.quality.ringMisfit &&
        this.registration.apart(best, attempt) > 1
      ) {
        this.agreeing = 0;
        this.conflicts++;
        return best;
      }
      this.listenTo('all');
      return attempt;
    }
    if (attempt.confidence < LOST_BELOW) {
      // The ring alone has nothing to hold on to here; the inside may.
      this.listenTo('all');
      const all = [attempt.homography, ...starts]
        .map((start) => this.registration.register(task, start, attempt.light))
        .reduce((a, b) => (b.confidence > a.confidence ? b : a));
      if (all.confidence >= DOUBT_BELOW) return all;
      this.listenTo('ring');
      return attempt;
    }
    this.agreeing = attempt.confidence >= SURE && this.insideAgrees(task, attempt) ? this.agreeing + 1 : 0;
    if (this.agreeing >= AGREES_AGAIN * 2 ** this.conflicts) this.listenTo('all');
    return attempt;
  }

  /** Listens to what was listened to on a frame that is looked at again. */
  listenAgain(evidence: Evidence): void {
    if (this.hasInside && this.evidence !== evidence) this.listenTo(evidence);
  }

  private listenTo(evidence: Evidence): void {
    this.evidence = evidence;
    this.weigh(evidence);
  }

  /** Whether all points, solved together from where the ring is, stay there. */
  private insideAgrees(task: Task, ring: Attempt): boolean {
    this.listenTo('all');
    const all = this.registration.register(task, ring.homography, ring.light, 1);
    this.listenTo('ring');
    return (
      all.trust > 0.8 &&
      all.quality.detail > RING_OBJECTS &&
      all.quality.ringDetail > RING_OBJECTS &&
      this.registration.apart(ring, all) < 0.6
    );
  }
}
