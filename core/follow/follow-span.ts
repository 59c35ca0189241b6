import type { Homography } from '../geometry/homography.ts';
import { PlanarFollower, type FollowSettings, type FrameFit, type PreparedPicture } from './planar-follower.ts';
import { openRoom, PictureLevels } from './picture-levels.ts';
import { fixedMask } from './region.ts';
import { DEFAULT_TEMPLATE_OPTIONS, mostPoints } from './template.ts';

/** Luma codes of one frame, full range. */
export interface LumaFrame {
  readonly width: number;
  readonly height: number;
  readonly codes: Uint8Array | Uint16Array;
  readonly peak: 255 | 65535;
}

export interface FollowPlan extends FollowSettings {
  readonly referenceFrame: number;
  /** First and last frame to be followed, inclusive; the reference need not lie between. */
  readonly frames: readonly [number, number];
  readonly direction: 'forward' | 'backward' | 'both';
  /** What is known from an earlier run; null for frames that were lost. These frames are not done again. */
  readonly known?: ReadonlyMap<number, Homography | null>;
}

/** Why following can't begin, as a sentence for a person. */
export class NothingToFollow extends Error {
  override name = 'NothingToFollow';
}

const FAULT_SENTENCES = {
  empty: 'The region lies outside the picture or is wholly kept out. Draw it around something that moves with the screen.',
  'too-small': 'The region is too small to hold on to. Draw it at least 12 pixels wide and high.',
} as const;

/**
 * Follows a span from its reference frame outward, yielding each frame once and finally: a frame comes
 * when its successor has been seen, because that tells how it was smeared.
 * Frames come in the order of the run: reference, then forward, then backward.
 */
export async function* followSpan(plan: FollowPlan, read: (frame: number) => Promise<LumaFrame>): AsyncGenerator<FrameFit> {
  const { width, height, codes, peak } = await read(plan.referenceFrame);
  // The reference, the frame in work and the one before it, which waits for its successor.
  const room = openRoom(width, height, 3, mostPoints(DEFAULT_TEMPLATE_OPTIONS)), reference = new PictureLevels(room, width, height).fill(codes, peak);
  const fixed = fixedMask(width, height, plan.keepOut), slots = [new PictureLevels(room, width, height), new PictureLevels(room, width, height)] as const;
  let turn = 0;
  const prepare = async (frame: number): Promise<PreparedPicture> => {
    const luma = await read(frame);
    return { frame, levels: slots[turn++ % 2]!.fill(luma.codes, luma.peak).permit(fixed) };
  };
  const follower = PlanarFollower.create(plan.referenceFrame, reference, plan);
  if (!(follower instanceof PlanarFollower)) throw new NothingToFollow(FAULT_SENTENCES[follower.fault]);
  for (const [frame, h] of plan.known ?? []) if (h) follower.history.maps.set(frame, h);

  const [first, last] = plan.frames;
  const wanted = (frame: number) => frame >= first && frame <= last;
  if (wanted(plan.referenceFrame) && !plan.known?.has(plan.referenceFrame)) yield follower.referenceFit();
  const spans: [number, 1 | -1][] = [];
  if (plan.direction !== 'backward') spans.push([last, 1]);
  if (plan.direction !== 'forward') spans.push([first, -1]);
  for (const [end, direction] of spans) yield* followTowards(follower, plan, end, direction, wanted, prepare);
}

/** So many frames found again must have been followed before their velocity counts as known. */
const PROVEN_AFTER = 2;
/** Frames after a loss that may be done again from the other side; what is before stays lost. */
const MOST_BACKFILL = 60;

async function* followTowards(
  follower: PlanarFollower, plan: FollowPlan, end: number, direction: 1 | -1, wanted: (frame: number) => boolean,
  read: (frame: number) => Promise<PreparedPicture>,
): AsyncGenerator<FrameFit> {
  let held: { picture: PreparedPicture; fit: FrameFit } | null = null;
  // Lost frames, then those found again that have not proved themselves.
  let pending: FrameFit[] = [], proven = 0;
  const from = -direction as -1 | 1;
  const settle = (): FrameFit | null => {
    const fit = held && (held.fit.homography ? follower.refine(held.picture, held.fit, direction) ?? held.fit : held.fit);
    held = null;
    return fit;
  };
  for (let frame = plan.referenceFrame + direction; direction === 1 ? frame <= end : frame >= end; frame += direction) {
    if (plan.known?.has(frame)) {
      const fit = settle();
      if (fit && wanted(fit.frame)) yield fit;
      continue;
    }
    const picture = await read(frame);
    const fit = follower.follow(picture, from);
    const before = settle();
    held = { picture, fit };
    if (!before) continue;
    if (before.homography && pending.length === 0) {
      if (wanted(before.frame)) yield before;
      continue;
    }
    pending.push(before);
    proven = before.homography ? proven + 1 : 0;
    if (proven < PROVEN_AFTER || !fit.homography) continue;
    // Found again, and its velocity known: what was lost is looked at once more, backwards from here.
    const again = await backfill(follower, pending.slice(-MOST_BACKFILL), direction, read);
    for (const entry of pending) if (wanted(entry.frame)) yield again.get(entry.frame) ?? entry;
    pending = [];
    proven = 0;
    // The pictures' places have been used for others.
    held = { picture: await read(frame), fit };
  }
  for (const entry of pending) if (wanted(entry.frame)) yield entry;
  const last = settle();
  if (last && wanted(last.frame)) yield last;
}

/** Follows into lost frames from their later side, the nearest first, until it is lost again. */
async function backfill(follower: PlanarFollower, lost: readonly FrameFit[], direction: 1 | -1, read: (frame: number) => Promise<PreparedPicture>): Promise<Map<number, FrameFit>> {
  const found = new Map<number, FrameFit>();
  let held: { picture: PreparedPicture; fit: FrameFit } | null = null;
  const settle = () => {
    if (held) found.set(held.fit.frame, follower.refine(held.picture, held.fit, -direction as -1 | 1) ?? held.fit);
    held = null;
  };
  for (const { frame } of [...lost].reverse()) {
    const picture = await read(frame);
    const fit = follower.follow(picture, direction);
    settle();
    if (!fit.homography) break;
    held = { picture, fit };
  }
  settle();
  return found;
}
