import type { Quad } from '../geometry/quad.ts';
import { fitCamera } from '../pose/fit-camera.ts';

/** The focal length that a surface's corners over a shot suggest, px; undefined where they tell none. `known` is used as it is. */
export function surfaceFocal(quads: readonly Quad[], size: { width: number; height: number }, ratio: number, known?: number): number | undefined {
  return known ?? fitCamera(quads, size.width, size.height, { ratio })?.camera.focal;
}
