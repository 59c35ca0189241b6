import { latticeHash } from './random.ts';

/** Smooth wandering −1…1 with about one swing per `period` frames: what a hand does to a camera. */
export function wander(time: number, period: number, seed: number): number {
  const swings = [1, 0.47, 0.23];
  let sum = 0;
  swings.forEach((strength, i) => {
    const phase = 2 * Math.PI * latticeHash(i, 7, seed);
    sum += strength * Math.sin((2 * Math.PI * time * (i * 1.37 + 1)) / period + phase);
  });
  return sum / 1.7;
}

/** 0 before `from`, 1 after `to`, smooth between. */
export function ease(from: number, to: number, time: number): number {
  const t = Math.min(1, Math.max(0, (time - from) / (to - from)));
  return t * t * t * (t * (6 * t - 15) + 10);
}

export const degrees = (angle: number): number => (angle * Math.PI) / 180;
