import { expect, test } from 'vitest';
import { DISPLAY_COLOUR } from '../../base/image/plate-colour.ts';
import { brightestOf, tellDarkContent } from './dark-content.ts';
import { reason } from './look-reason.ts';

const grey = (code: number, alpha = 255) => ({
  width: 20,
  height: 10,
  peak: 255 as const,
  data: Uint8Array.from({ length: 800 }, (_, i) => (i % 4 === 3 ? alpha : i % 4 === 1 ? code : code >> 1)),
});
const proposed = () => ({
  levels: { black: 0.07, white: 0.85 },
  why: { 'levels/black': reason('The darkest places lie at 0.07.', 0.8) },
});

test('the brightest of content in its brightest channel, as displayed', () => {
  expect(brightestOf(grey(128), DISPLAY_COLOUR)).toBeCloseTo(128 / 255, 3);
  expect(brightestOf(grey(128, 0), DISPLAY_COLOUR)).toBe(0);
  // Linear floats: light of 0.2140 is shown as code 0.5 (IEC 61966-2-1).
  expect(
    brightestOf(
      { width: 2, height: 1, peak: 1, data: Float32Array.of(0.214, 0.1, 0.1, 1, 0.214, 0.1, 0.1, 1) },
      { transfer: 'linear', primaries: 'bt709' },
    ),
  ).toBeCloseTo(0.5, 3);
});

test('content darker than the black laid under it is reported, with less certainty; other content changes nothing', () => {
  const dark = proposed();
  const usual = proposed();
  tellDarkContent(dark, 0.05);
  expect(dark.why['levels/black'].says).toContain('its brightest 1.5 % lie at 0.05');
  expect(dark.why['levels/black'].certainty).toBe(0.3);
  tellDarkContent(usual, 0.6);
  expect(usual).toEqual(proposed());
});
