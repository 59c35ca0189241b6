import type { Quad } from '../../base/geometry/quad.ts';

/** Corners that differ by less than this, px, make no other look. */
const STEP = 0.25;
const MOST = 48;

/**
 * A short name for where a surface is over a shot: looks that were measured along other corners are out of date. An even choice of frames is taken into a 32-bit
 * hash (FNV-1a: G. Fowler, L. Noll, K.-P. Vo, IETF draft-eastlake-fnv).
 */
export function lookBasis(quads: ReadonlyMap<number, Quad>): string {
  const frames = [...quads.keys()].sort((a, b) => a - b);
  const few = frames.filter((_, i) => i % Math.ceil(frames.length / MOST) === 0);
  let hash = 0x811c9dc5;
  for (const text of [
    String(frames.length),
    ...few.map(
      (f) =>
        `${f}:${quads
          .get(f)!
          .map((p) => p.map((v) => Math.round(v / STEP)).join())
          .join()}`,
    ),
  ]) {
    for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193) >>> 0;
  }
  return hash.toString(16);
}
