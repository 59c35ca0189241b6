import { shownAt, usedFrames, type ContentTime } from '../../../../core/picture/content/content-time.ts';
import { isKeyed, numberAt, type Key, type Keyed } from '../../../../core/base/time/keyframes.ts';
import type { ContentTiming } from '../../../../core/base/schemas/types.ts';

type Speed = NonNullable<ContentTiming['speed']>;

export function speedAt(time: ContentTiming, frame: number): number {
  return numberAt(time.speed ?? 1, frame);
}
export function speedKeys(time: ContentTiming): readonly Key<number>[] {
  const speed = (time.speed ?? 1) as Keyed<number>;
  return isKeyed(speed) ? speed : [];
}
const inOrder = (keys: readonly Key<number>[]) => [...keys].sort((a, b) => a.frame - b.frame) as Speed;

/** Sets the speed: on this frame where it is keyed, else for the whole time. */
export function setSpeed(time: ContentTiming, frame: number, value: number): void {
  const keys = speedKeys(time);
  const there = keys.find((key) => key.frame === frame);
  time.speed =
    keys.length === 0 ? value : inOrder([...keys.filter((key) => key.frame !== frame), { ...there, frame, value }]);
}
/** Makes a key of the speed on a frame, or takes it away; when none is left the speed stays as it was there. */
export function toggleSpeedKey(time: ContentTiming, frame: number): void {
  const keys = speedKeys(time);
  const value = speedAt(time, frame);
  const left = keys.filter((key) => key.frame !== frame);
  time.speed =
    left.length === keys.length ? inOrder([...keys, { frame, value }]) : left.length > 0 ? inOrder(left) : value;
}
/** Moves a key of the speed in time; false where another stands there. */
export function moveSpeedKey(time: ContentTiming, from: number, to: number): boolean {
  const keys = speedKeys(time);
  if (keys.some((key) => key.frame === to) || !keys.some((key) => key.frame === from)) return false;
  time.speed = inOrder(keys.map((key) => (key.frame === from ? { ...key, frame: to } : key)));
  return true;
}

type Rate = readonly [number, number];

/** Ends the content on a plate frame: trims it to what is shown there. False where that cannot be determined: beyond what there is of it. */
export function endOn(
  time: ContentTiming,
  plateFrame: number,
  plateRate: Rate,
  contentRate: Rate,
  frames: number,
): boolean {
  const [first, last] = usedFrames(time, frames);
  const whole: ContentTime = {
    ...(time as ContentTime),
    trim: time.reverse ? [0, last] : [first, frames - 1],
    before: 'nothing',
    after: 'nothing',
    rate: 'nearest',
  };
  const shown = shownAt(whole, plateFrame, plateRate, contentRate, frames);
  if (!shown) return false;
  time.trim = time.reverse ? [Math.min(shown.first, last), last] : [first, Math.max(first, shown.first)];
  return true;
}
