import { createPlane, type Plane } from '../base/image/plane.ts';

/** A repeatable picture for tests: a few waves of different direction and length, and a little noise. */
export function wavePlane(width: number, height: number, noise = 0): Plane {
  const plane = createPlane(width, height);
  let state = 1;
  for (let row = 0; row < height; row++) {
    for (let col = 0; col < width; col++) {
      state = (Math.imul(state, 1103515245) + 12345) >>> 0;
      plane.data[row * width + col] = waveAt(col + 0.5, row + 0.5) + noise * (state / 2 ** 32 - 0.5);
    }
  }
  return plane;
}

/** The same picture at any point of continuous pixels, 0.1…0.9. */
export function waveAt(x: number, y: number): number {
  return (
    0.5 +
    0.13 * Math.sin(x * 0.31 + y * 0.11) +
    0.12 * Math.cos(x * 0.07 - y * 0.23) +
    0.09 * Math.sin(x * 0.045 + y * 0.38) +
    0.06 * Math.sin(x * 0.51 - y * 0.47)
  );
}

/** Independent samples 0…1. */
export function noisyPlane(width: number, height: number, seed: number): Plane {
  const plane = createPlane(width, height);
  let state = seed >>> 0;
  for (let i = 0; i < plane.data.length; i++) {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    plane.data[i] = state / 2 ** 32;
  }
  return plane;
}
