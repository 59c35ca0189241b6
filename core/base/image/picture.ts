/**
 * Colour pictures.
 *
 * `CodedPicture`: red, green, blue as the file has them, interleaved: integer codes 0…peak, or floats
 * (peak 1) of any size and sign, as half-float EXR holds them.
 * `LightPicture`: linear light, red, green, blue, alpha interleaved, colour premultiplied by alpha.
 */
export type Codes = Uint8Array | Uint8ClampedArray | Uint16Array | Float32Array;

/** The code of 1. Floats have a peak of 1 and are not limited by it. */
export type Peak = 255 | 65535 | 1;

export interface CodedPicture {
  readonly width: number;
  readonly height: number;
  /** Three codes a pixel. */
  readonly data: Codes;
  readonly peak: Peak;
}

/** Room for `length` codes of the kind that goes with a peak. */
export function createCodes(peak: Peak, length: number): Uint8Array | Uint16Array | Float32Array {
  return peak === 255 ? new Uint8Array(length) : peak === 65535 ? new Uint16Array(length) : new Float32Array(length);
}

export interface LightPicture {
  readonly width: number;
  readonly height: number;
  /** Four values a pixel. */
  readonly data: Float32Array;
}

export function createLightPicture(width: number, height: number): LightPicture {
  return { width, height, data: new Float32Array(width * height * 4) };
}

/** A content picture as decoded: four codes a pixel. Integer codes are straight, floats premultiplied (as EXR has them). */
export interface ContentPicture {
  readonly width: number;
  readonly height: number;
  /** Red, green, blue, alpha codes. */
  readonly data: Codes;
  readonly peak: Peak;
}
