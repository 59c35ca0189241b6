import type { CodedPicture } from '../../core/base/image/picture.ts';
import { writeExrFile } from './exr-file.ts';
import { channelsOf } from './layer-picture.ts';

/** True when every value is one that 16-bit floating point has exactly (IEEE 754 binary16). */
export function fitsHalf(values: Float32Array): boolean {
  const bits = new Uint32Array(values.buffer, values.byteOffset, values.length);
  for (let i = 0; i < bits.length; i++) {
    const magnitude = bits[i]! & 0x7fffffff;
    if (magnitude === 0) continue;
    const exponent = (magnitude >>> 23) - 127;
    if (exponent > 15 && magnitude !== 0x7f800000) return false;
    // Below 2^-14 halves have fewer digits, one less with each step.
    const spare = exponent >= -14 ? 13 : 13 + (-14 - exponent);
    if (exponent <= 15 && (spare > 23 ? magnitude !== 0 && exponent < -24 : (magnitude & ((1 << spare) - 1)) !== 0))
      return false;
  }
  return true;
}

/** Writes one picture as OpenEXR, its codes as they are, half float where that loses nothing; under its name only when whole. */
export function writeExr(file: string, { width, height, data, peak }: CodedPicture): void {
  const channels = channelsOf(peak === 1 ? (data as Float32Array) : Float32Array.from(data, (code) => code / peak), 3);
  writeExrFile(file, width, height, channels, channels.every(({ values }) => fitsHalf(values)) ? 16 : 32);
}
