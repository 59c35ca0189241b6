import type { FitQuality } from './fit-quality.ts';

/** Agreeing detail near a border under which it is said, unless the frame is smeared longer than so many px. */
const SAID_BELOW = 0.35;
const SAID_UP_TO_BLUR = 6;
const BORDERS = ['left', 'right', 'upper', 'lower'] as const;

/** What of a region that is held does not go with it: a person may have drawn it over two planes. */
export function noteOf({ sides }: FitQuality, blur: number): { note?: string } {
  const off = BORDERS.filter((_, side) => sides[side]! < SAID_BELOW);
  if (off.length === 0 || off.length === BORDERS.length || blur > SAID_UP_TO_BLUR) return {};
  return {
    note: `the ${off.join(' and ')} part of the region disagrees: it is covered, or on another plane. Leave out what covers it, or draw around one plane only`,
  };
}

/** Why a frame is lost, from how it looks where the surface was expected: a word, then what was seen. */
export function reasonFor(quality: FitQuality, gap: number): string {
  if (quality.visibility < 0.1)
    return gap > 1
      ? 'outside: it has left the picture, and is not found again'
      : 'outside: almost all of the region has left the picture';
  if (quality.detail < 0.4)
    return `covered: ${Math.round(100 * (1 - quality.detail))} % of the region disagrees with the reference`;
  if (quality.correlation < 0.5) return 'unlike the reference: too blurred, too dark or too small to tell';
  return 'pulled apart: parts of the region move in different directions';
}
