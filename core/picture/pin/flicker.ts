import type { ScreenTexture } from '../../base/schemas/types.ts';

/**
 * Times a screen's light on a frame, of a backlight that swings `rate` times a second by `amount` to either side, averaged over the open shutter:
 * the mean of 1 + a·sin over a window is 1 + a·sinc(window)·sin at its middle. `shutter` is a fraction of the frame's time, `perSecond` frames a second.
 */
export function flickerLight(
  { amount, rate, phase = 0 }: NonNullable<ScreenTexture['flicker']>,
  frame: number,
  perSecond: number,
  shutter: number,
): number {
  const swings = (rate / perSecond) * shutter;
  const sinc = swings === 0 ? 1 : Math.sin(Math.PI * swings) / (Math.PI * swings);
  return 1 + amount * sinc * Math.sin(2 * Math.PI * ((frame * rate) / perSecond) + (phase * Math.PI) / 180);
}
