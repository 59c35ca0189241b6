import { eased, type Easing } from './easing.ts';

/** A value at a frame, and how it goes on to the next key; linear unless said. */
export interface Key<T> {
  readonly frame: number;
  readonly value: T;
  readonly ease?: Easing | undefined;
}

/** A value that stays, or keys in the order of their frames. */
export type Keyed<T> = T | readonly Key<T>[];

export function isKeyed<T>(value: Keyed<T>): value is readonly Key<T>[] {
  return (
    Array.isArray(value) && value.length > 0 && typeof value[0] === 'object' && value[0] !== null && 'frame' in value[0]
  );
}

/** The number at a frame (whole or between): the first key's before it, the last key's after it. */
export function numberAt(value: Keyed<number>, frame: number): number {
  if (!isKeyed(value)) return value;
  const [from, to, t] = around(value, frame);
  return from.value + (to.value - from.value) * t;
}

/** A row of numbers, each between its neighbours as above. All keys have as many. */
export function numbersAt<T extends readonly number[]>(value: Keyed<T>, frame: number): T {
  if (!isKeyed(value)) return value;
  const [from, to, t] = around(value, frame);
  return (t === 0 ? from.value : from.value.map((v, i) => v + (to.value[i]! - v) * t)) as unknown as T;
}

/** The keys before and after a frame, and how far the value has gone from one to the other. */
export function around<T>(keys: readonly Key<T>[], frame: number): [from: Key<T>, to: Key<T>, t: number] {
  const after = keys.findIndex((key) => key.frame > frame);
  if (after === 0) return [keys[0]!, keys[0]!, 0];
  const from = keys[after < 0 ? keys.length - 1 : after - 1]!;
  if (after < 0) return [from, from, 0];
  const to = keys[after]!;
  return [from, to, eased(from.ease ?? 'linear', (frame - from.frame) / (to.frame - from.frame))];
}

type ValueOf<K> = K extends readonly { readonly value: infer V }[] ? V : K;

/** The same keys with other values. */
export function mapKeyed<K extends Keyed<number> | Keyed<readonly number[]>>(
  value: K,
  to: (value: ValueOf<K>) => ValueOf<K>,
): K {
  const map = to as (value: unknown) => unknown;
  return (isKeyed<unknown>(value) ? value.map((key) => ({ ...key, value: map(key.value) })) : map(value)) as K;
}
