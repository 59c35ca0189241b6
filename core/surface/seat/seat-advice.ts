import { mean } from '../../base/image/statistics.ts';
import type { Correction } from './corrections.ts';
import type { Proposal } from './drift-corrections.ts';
import type { MeasuredSeat, SeatPlan } from './measure-seat.ts';
import { SIDE_NAMES } from './sides.ts';

/** Something a person should know of a seat, and the frames that it is about. */
export interface Advice {
  readonly kind: 'pop' | 'follow-again' | 'no-border' | 'nothing-to-lock' | 'unseen';
  readonly text: string;
  readonly frames?: readonly [number, number] | undefined;
}

/** More keys than one in so many frames, or a correction of more px, and following again is the better way. */
const FRAMES_PER_KEY = 12;
const MOST_CORRECTION = 3;
/** Borders must make the bounds this much narrower to be worth locking to. */
const WORTH = 0.93;
/** Frames on which fewer pieces agree show nothing of the borders. */
const SEEN = 0.15;

/** Whether locking makes the corners surer: the borders' bounds against the track's. Tracks that state no bounds are taken to gain. */
export function worthLocking(plan: SeatPlan, { locked }: MeasuredSeat): boolean {
  if (locked.length === 0) return false;
  const stated = plan.frames.flatMap(({ frame, bounds }) =>
    bounds && frame !== plan.referenceFrame ? [mean(bounds)] : [],
  );
  if (stated.length === 0) return true;
  return (
    mean(locked.filter((l) => l.frame !== plan.referenceFrame).map((l) => mean(l.bounds))) < WORTH * mean(stated) ||
    locked.some((l) => l.drift > 2 * Math.max(...l.bounds) && l.drift > 0.1)
  );
}

/** How many borders were found along each side, and how much of them agreed on each frame. */
export interface SeenSeat {
  readonly borders: readonly number[];
  readonly seen: readonly { readonly frame: number; readonly support: number }[];
}

export function seenOf({ rails, locked }: MeasuredSeat): SeenSeat {
  return { borders: [0, 1, 2, 3].map((side) => rails.filter((r) => r.side === side).length), seen: locked };
}

/** In words what was found. `first` is the number of frame 0 as the person knows it. */
export function seatAdvice(
  plan: { readonly referenceFrame: number; readonly frames: number },
  { borders, seen }: SeenSeat,
  proposal: Proposal | null,
  first = 0,
): Advice[] {
  const advice: Advice[] = [];
  const blind = SIDE_NAMES.filter((_, k) => (borders[k] ?? 0) === 0);
  if (blind.length === 4)
    advice.push({
      kind: 'no-border',
      text: 'None of the four sides shows a straight border on the reference frame, so that nothing could be measured. Set the corners near the borders, or choose a reference on which they are seen.',
    });
  else if (blind.length > 0)
    advice.push({
      kind: 'no-border',
      text: `No straight border is seen at the ${listed(blind)} on the reference frame; that side is held by the others and the track.`,
    });
  for (const [from, to] of spansOf(seen.filter((l) => l.support < SEEN && blind.length < 4).map((l) => l.frame))) {
    advice.push({
      kind: 'unseen',
      frames: [from, to],
      text: `${named(from, to, first)}: the borders are covered or outside the picture; the track alone holds.`,
    });
  }
  for (const { frame, size } of proposal?.pops ?? [])
    advice.push({
      kind: 'pop',
      frames: [frame, frame],
      text: `Frame ${frame + first} jumps by ${size.toFixed(1)} px and comes back.`,
    });
  if (proposal) advice.push(...followAgain(plan.frames, proposal.corrections));
  return advice;
}

/** Whether so many corrections are the wrong remedy, and why. */
export function followAgain(frames: number, corrections: readonly Correction[]): Advice[] {
  const keys = new Set(corrections.filter((c) => c.ease !== 'single').map((c) => c.frame)).size;
  const most = Math.max(0, ...corrections.map((c) => Math.hypot(c.dx, c.dy)));
  if (keys * FRAMES_PER_KEY > frames && keys > 2)
    return [
      {
        kind: 'follow-again',
        text: `${keys} keys in ${frames} frames: the track strays too often to be mended by hand. Follow it again with another region, or lock it to the edges.`,
      },
    ];
  if (most > MOST_CORRECTION)
    return [
      {
        kind: 'follow-again',
        text: `A corner would have to be moved by ${most.toFixed(1)} px: the track has lost its place. Follow it again from a frame before that.`,
      },
    ];
  return [];
}

function spansOf(frames: readonly number[]): [number, number][] {
  const spans: [number, number][] = [];
  for (const frame of frames) {
    const last = spans.at(-1);
    if (last?.[1] === frame - 1) last[1] = frame;
    else spans.push([frame, frame]);
  }
  return spans;
}

const named = (from: number, to: number, first: number) =>
  from === to ? `Frame ${from + first}` : `Frames ${from + first}–${to + first}`;
const listed = (names: readonly string[]) =>
  names.length === 1 ? names[0]! : `${names.slice(0, -1).join(', ')} and ${names.at(-1)!}`;
