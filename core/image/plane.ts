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

/** Samples of `codes` (0…peak) as a plane of 0…1. */
export function planeFromCodes(codes: ArrayLike<number>, width: number, height: number, peak: number): Plane {
  const plane = createPlane(width, height);
  if (codes.length < plane.data.length) throw new RangeError(`${codes.length} samples do not fill ${width}×${height}`);
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = codes[i]! / peak;
  return plane;
}
