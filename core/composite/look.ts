import type { Look } from '../schemas/types.ts';

/** A look with every value present. */
export interface ResolvedLook {
  fit: 'stretch' | 'fit' | 'fill';
  levels: { black: number; white: number; gamma: number };
  soften: number;
  feather: [number, number, number, number];
  opacity: number;
  motionBlur: { shutter: number; phase: number };
}

export const NEUTRAL_LOOK: ResolvedLook = {
  fit: 'stretch', levels: { black: 0, white: 1, gamma: 1 }, soften: 0, feather: [0, 0, 0, 0], opacity: 1, motionBlur: { shutter: 0, phase: 0 },
};

/** Fills in what a look leaves out. */
export function resolveLook(look: Look): ResolvedLook {
  return {
    fit: look.fit ?? NEUTRAL_LOOK.fit,
    levels: { ...NEUTRAL_LOOK.levels, ...look.levels },
    soften: look.soften ?? 0,
    feather: (look.feather) ?? [0, 0, 0, 0],
    opacity: look.opacity ?? 1,
    motionBlur: { ...NEUTRAL_LOOK.motionBlur, ...look.motionBlur },
  };
}

/** The display-referred value that a content value 0…1 becomes. */
export function applyLevels(levels: ResolvedLook['levels'], value: number): number {
  return levels.black + (levels.white - levels.black) * value ** (1 / levels.gamma);
}
