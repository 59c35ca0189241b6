import type { FitQuality } from './fit-quality.ts';

/**
 * A single number 0…1: near 1 only when what is seen agrees, correlates, and its pieces do not pull
 * apart. 0.3 is where a person should look, 0.12 where the follower lets go.
 */
export function confidenceOf(fit: FitQuality): number {
  const ramp = (v: number, from: number, to: number) => Math.min(1, Math.max(0, (v - from) / (to - from)));
  return ramp(fit.correlation, 0.3, 0.9) * ramp(fit.agreement, 0.1, 0.5) * ramp(fit.visibility, 0.05, 0.35) / (1 + (fit.error / 2) ** 2);
}
