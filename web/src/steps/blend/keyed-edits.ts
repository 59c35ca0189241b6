import { isKeyed, numberAt, type Keyed } from '../../../../core/base/time/keyframes.ts';
import type { Look } from '../../../../core/base/schemas/types.ts';

/** A number of a look that may be keyed. */
export type KeyedNumber = NonNullable<Look['soften']>;

export function valueAt(value: KeyedNumber | undefined, frame: number, usual: number): number {
  return value === undefined ? usual : numberAt(value, frame);
}

export function keysOf(value: KeyedNumber | undefined): readonly { frame: number; value: number }[] {
  return value !== undefined && isKeyed(value as Keyed<number>) ? (value as { frame: number; value: number }[]) : [];
}

/** The same with another number on a frame: for all frames where it is not keyed. */
export function withValue(value: KeyedNumber | undefined, frame: number, number: number): KeyedNumber {
  const keys = keysOf(value);
  if (keys.length === 0) return number;
  return [
    ...keys.filter((key) => key.frame !== frame),
    { ...keys.find((key) => key.frame === frame), frame, value: number },
  ].sort((a, b) => a.frame - b.frame) as KeyedNumber;
}

/** A key made on a frame, or the one there taken away; without its last key it is one number again. */
export function withKeyToggled(value: KeyedNumber | undefined, frame: number, usual: number): KeyedNumber {
  const keys = keysOf(value);
  const now = valueAt(value, frame, usual);
  if (!keys.some((key) => key.frame === frame))
    return [...keys, { frame, value: now }].sort((a, b) => a.frame - b.frame) as KeyedNumber;
  const left = keys.filter((key) => key.frame !== frame);
  return left.length > 0 ? (left as KeyedNumber) : now;
}
