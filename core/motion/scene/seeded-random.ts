/** Repeatable numbers 0…1, so that the same plate gives the same scene. (The demo's generator has its own: it shares no code with what it judges.) Source: mulberry32, T. Ettinger, public domain. */
export function randomFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
