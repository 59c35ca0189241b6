import type { Look } from '../../base/schemas/types.ts';

/** Looks to start from where a plate cannot be measured: common practice, no source. */
export const SHIPPED_LOOKS: readonly { readonly name: string; readonly look: Look }[] = [
  {
    name: 'Indoor phone',
    look: {
      levels: { black: 0.07, white: 0.85 },
      soften: 1.2,
      motionBlur: { shutter: 180, phase: 0 },
      oldScreen: 'edges',
      texture: { glow: { amount: 0.02 } },
      grain: {
        levels: [
          { level: 0, sigma: [0.005, 0.005, 0.006] },
          { level: 1, sigma: [0.009, 0.009, 0.011] },
        ],
        size: [0.6, 0.6],
      },
    },
  },
  {
    // Daylight veils a screen: its black rises, its colours fade, and it falls off to the side.
    name: 'Wall screen in daylight',
    look: {
      levels: { black: 0.16, white: 0.78, saturation: 0.88 },
      soften: 1.2,
      motionBlur: { shutter: 180, phase: 0 },
      oldScreen: 'edges',
      texture: { glow: { amount: 0.01 }, falloff: { power: 0.5 } },
      grain: {
        levels: [
          { level: 0, sigma: [0.003, 0.003, 0.003] },
          { level: 1, sigma: [0.006, 0.006, 0.006] },
        ],
        size: [0.6, 0.6],
      },
    },
  },
];
