import { clamp } from '../../base/geometry/clamp.ts';
import { around, isKeyed, numberAt, type Keyed } from '../../base/time/keyframes.ts';

/** What is shown before the content's first and after its last frame: that frame, the content again, there and back, or nothing. */
export type Beyond = 'hold' | 'loop' | 'ping-pong' | 'nothing';

/** When the content's frames are shown. Everything is optional. */
export interface ContentTime {
  /** The plate frame on which the content's first frame that is used is shown; 0 unless given. */
  readonly start?: number | undefined;
  /** First and last frame of the content that is used; all unless given. */
  readonly trim?: readonly [number, number] | undefined;
  /** Content frames by which it is further on than it would be; may be a fraction. */
  readonly offset?: number | undefined;
  /** Content seconds a second of the plate, or keys of it. Negative runs backwards. */
  readonly speed?: Keyed<number> | undefined;
  readonly reverse?: boolean | undefined;
  readonly before?: Beyond | undefined;
  readonly after?: Beyond | undefined;
  /** Between two content frames: the one whose time span holds the moment, or both by their shares. */
  readonly rate?: 'nearest' | 'blend' | undefined;
}

/** What is on show: two neighbouring frames and the share of the second; null for nothing. */
export interface ShownFrames {
  readonly first: number;
  readonly second: number;
  readonly share: number;
}

/**
 * The content frame on show at a plate frame when both start together: the one whose time span holds
 * the plate frame's time. Exact rationals, no rounding drift.
 */
export function contentFrameAt(
  plateFrame: number,
  plateRate: readonly [number, number],
  contentRate: readonly [number, number],
): number {
  return Number(
    (BigInt(plateFrame) * BigInt(plateRate[1]) * BigInt(contentRate[0])) /
      (BigInt(plateRate[0]) * BigInt(contentRate[1])),
  );
}

/** What of content with `frames` frames is shown on a plate frame. Frames count from 0. */
export function shownAt(
  time: ContentTime,
  plateFrame: number,
  plateRate: readonly [number, number],
  contentRate: readonly [number, number],
  frames: number,
): ShownFrames | null {
  const [first, last] = usedFrames(time, frames);
  const length = last - first + 1;
  const moment = momentAt(time, plateFrame, plateRate, contentRate) + (time.offset ?? 0);
  const blend = time.rate === 'blend';
  const at = within(blend ? moment : Math.floor(moment + 1e-9), length, blend, time);
  if (at === null) return null;
  const real = (index: number) => (time.reverse ? last - index : first + index);
  const low = Math.floor(at);
  const share = at - low;
  const high = nextOf(low, length, time);
  return share < 1e-6
    ? { first: real(low), second: real(low), share: 0 }
    : { first: real(low), second: real(high), share };
}

/** Whether a plate frame shows the content in its time, its first or last frame held, the content again, or nothing. */
export type TimePart = 'in time' | 'held' | 'again' | 'nothing';

export function timePartAt(
  time: ContentTime,
  plateFrame: number,
  plateRate: readonly [number, number],
  contentRate: readonly [number, number],
  frames: number,
): TimePart {
  const [first, last] = usedFrames(time, frames);
  const moment = Math.floor(momentAt(time, plateFrame, plateRate, contentRate) + (time.offset ?? 0) + 1e-9);
  if (moment >= 0 && moment <= last - first) return 'in time';
  const beyond = (moment < 0 ? time.before : time.after) ?? 'hold';
  return beyond === 'hold' ? 'held' : beyond === 'nothing' ? 'nothing' : 'again';
}

export function usedFrames({ trim }: ContentTime, frames: number): [number, number] {
  const last = Math.max(0, frames - 1);
  if (!trim) return [0, last];
  const from = clamp(trim[0], 0, last);
  return [from, Math.max(from, Math.min(last, trim[1]))];
}

/** How many content frames have gone by since its start; exact where the speed is 1. */
function momentAt(
  time: ContentTime,
  plateFrame: number,
  plateRate: readonly [number, number],
  contentRate: readonly [number, number],
): number {
  const start = time.start ?? 0;
  const speed = time.speed ?? 1;
  if (isKeyed(speed))
    return travelled(speed, start, plateFrame) * ((plateRate[1] * contentRate[0]) / (plateRate[0] * contentRate[1]));
  // In whole numbers, so that a long shot does not drift.
  const gone = BigInt(plateFrame - start) * BigInt(plateRate[1]) * BigInt(contentRate[0]);
  const unit = BigInt(plateRate[0]) * BigInt(contentRate[1]);
  const whole = gone / unit;
  const rest = Number(gone % unit) / Number(unit);
  return Number(whole) * speed + rest * speed;
}

/** The integral of a keyed speed over plate frames: Simpson's rule frame by frame, exact for what is linear between keys on whole frames. */
function travelled(speed: Keyed<number>, from: number, to: number): number {
  const way = to < from ? -1 : 1;
  let sum = 0;
  for (let frame = from; frame !== to; frame += way) {
    const [a, b] = way > 0 ? [frame, frame + 1] : [frame - 1, frame];
    sum += (way * (numberAt(speed, a) + 4 * numberAt(speed, (a + b) / 2) + speedBefore(speed, b))) / 6;
  }
  return sum;
}

/** A speed that is held jumps on its key: just before it the old one counts. */
function speedBefore(speed: Keyed<number>, frame: number): number {
  if (!isKeyed(speed)) return speed;
  const [from] = around(speed, frame - 1e-9);
  return from.ease === 'hold' ? from.value : numberAt(speed, frame);
}

/** The place within the used frames, 0…length − 1 (with `blend` between them, and after a loop's last), by what is shown beyond; null for nothing. */
function within(
  moment: number,
  length: number,
  blend: boolean,
  { before = 'hold', after = 'hold' }: ContentTime,
): number | null {
  if (moment >= 0 && moment <= length - 1) return moment;
  // The last frame's own time, within which blending looks for a next one.
  if (moment >= 0 && moment < length && after !== 'ping-pong') return after === 'loop' && blend ? moment : length - 1;
  switch (moment < 0 ? before : after) {
    case 'nothing':
      return null;
    case 'hold':
      return moment < 0 ? 0 : length - 1;
    case 'loop':
      return ((moment % length) + length) % length;
    case 'ping-pong': {
      if (length === 1) return 0;
      const period = 2 * (length - 1);
      const at = ((moment % period) + period) % period;
      return at <= length - 1 ? at : period - at;
    }
  }
}

/** The frame that one blends into: of a loop's last, the first. */
function nextOf(low: number, length: number, time: ContentTime): number {
  return low < length - 1 ? low + 1 : time.after === 'loop' || time.before === 'loop' ? 0 : low;
}
