import { quantile } from '../../base/image/statistics.ts';

/** Side of the squares over which points are spread, in reference pixels. */
export const BUCKET = 40;
/** The share of each square's points that is taken whatever their strength. */
const BUCKET_SHARE = 0.15;

export function strengthsAt(texels: Float32Array, places: Int32Array): Float32Array {
  const out = new Float32Array(places.length);
  for (let i = 0; i < places.length; i++)
    out[i] = Math.sqrt(texels[places[i]! * 4 + 1]! ** 2 + texels[places[i]! * 4 + 2]! ** 2);
  return out;
}

/** The strongest candidates overall, after each square has given its own strongest share. */
export function strongestSpread(
  candidates: Int32Array,
  strength: Float32Array,
  width: number,
  bucket: number,
  budget: number,
): Int32Array {
  const columns = Math.ceil(width / bucket);
  const share = Math.min(BUCKET_SHARE, budget / candidates.length);
  const bucketOf = new Int32Array(candidates.length);
  const sizes = new Map<number, number>();
  for (let k = 0; k < candidates.length; k++) {
    const at = candidates[k]!;
    const key = Math.floor(Math.floor(at / width) / bucket) * columns + Math.floor((at % width) / bucket);
    bucketOf[k] = key;
    sizes.set(key, (sizes.get(key) ?? 0) + 1);
  }
  const members = new Map([...sizes].map(([key, size]) => [key, new Float32Array(size)]));
  const filled = new Map<number, number>();
  for (let k = 0; k < candidates.length; k++) {
    const key = bucketOf[k]!;
    const at = filled.get(key) ?? 0;
    members.get(key)![at] = strength[k]!;
    filled.set(key, at + 1);
  }
  // What a square's share must reach, and how many it may still give.
  const limits = new Map(
    [...members].map(([key, all]) => [key, all.sort()[all.length - Math.ceil(all.length * share)]!]),
  );
  const left = new Map([...sizes].map(([key, size]) => [key, Math.ceil(size * share)]));
  const taken = new Uint8Array(candidates.length);
  const rest = new Float32Array(candidates.length);
  let given = 0;
  let remaining = 0;
  for (let k = 0; k < candidates.length; k++) {
    const key = bucketOf[k]!;
    const may = left.get(key)!;
    if (may > 0 && strength[k]! >= limits.get(key)!) {
      taken[k] = 1;
      left.set(key, may - 1);
      given++;
    } else rest[remaining++] = strength[k]!;
  }
  const wanted = budget - given;
  const threshold = wanted > 0 ? quantile(rest.subarray(0, remaining), 1 - Math.min(1, wanted / remaining)) : Infinity;
  return candidates.filter((_, k) => taken[k] === 1 || strength[k]! >= threshold);
}
