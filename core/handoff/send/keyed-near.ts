/** Keys farther away than the next ones beyond so many frames do not matter to a frame: an open shutter reaches no farther. */
const REACH = 2;

/**
 * The same value with only those of its keys that can matter about a frame: from the last one `REACH` frames before it to the first one as far
 * after it. Keys are objects with a whole `frame`, in order. What has none comes back as it is, the same object.
 */
export function keyedNear(value: unknown, frame: number): unknown {
  if (Array.isArray(value))
    return value.length > 0 && value.every(isKey)
      ? nearKeys(value, frame)
      : sameOr(
          value,
          value.map((item: unknown) => keyedNear(item, frame)),
        );
  if (typeof value !== 'object' || value === null) return value;
  const entries = Object.entries(value);
  const near = entries.map(([, own]) => keyedNear(own, frame));
  return near.every((own, i) => own === entries[i]![1])
    ? value
    : Object.fromEntries(entries.map(([name], i) => [name, near[i]]));
}

function isKey(value: unknown): value is { frame: number } {
  return typeof value === 'object' && value !== null && Number.isInteger((value as { frame?: unknown }).frame);
}

function nearKeys(keys: readonly { frame: number }[], frame: number): unknown {
  const after = keys.findIndex((key) => key.frame >= frame + REACH);
  const before = keys.findLastIndex((key) => key.frame <= frame - REACH);
  return sameOr(keys, keys.slice(Math.max(0, before), after < 0 ? keys.length : after + 1));
}

function sameOr(value: readonly unknown[], other: readonly unknown[]): unknown {
  return value.length === other.length && value.every((item, i) => item === other[i]) ? value : other;
}
