/**
 * Colour pictures.
 *
 * `CodedPicture`: red, green, blue as the file has them (display-referred codes 0…peak), interleaved.
 * `LightPicture`: linear light, red, green, blue, alpha interleaved, colour premultiplied by alpha.
 */
export interface CodedPicture {
  readonly width: number;
  readonly height: number;
  /** Three codes a pixel. */
  readonly data: Uint8Array | Uint8ClampedArray | Uint16Array;
  /** The code of display-referred 1. */
  readonly peak: 255 | 65535;
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

/** A content picture as decoded: straight (not premultiplied) codes, four a pixel. */
export interface ContentPicture {
  readonly width: number;
  readonly height: number;
  /** Red, green, blue, alpha codes, not premultiplied. */
  readonly data: Uint8Array | Uint8ClampedArray | Uint16Array;
  readonly peak: 255 | 65535;
}
