/**
 * One channel of picture samples, row after row without padding. Sample (i, j) stands for the light
 * gathered around the pixel centre, which lies at (i + 0.5, j + 0.5) in continuous pixels.
 */
export interface Plane {
  readonly width: number;
  readonly height: number;
  readonly data: Float32Array;
}

export function createPlane(width: number, height: number): Plane {
  if (!Number.isInteger(width) || !Number.isInteger(height) || width < 1 || height < 1) {
    throw new RangeError(`a plane needs a whole positive size, got ${width}×${height}`);
  }
  return { width, height, data: new Float32Array(width * height) };
}
