const float = new Float32Array(1);
const bits = new Uint32Array(float.buffer);

/** Bits of the nearest 16-bit float, ties to even (IEEE 754-2019, binary16); what is too large becomes infinite. */
export function halfBits(value: number): number {
  float[0] = value;
  const x = bits[0]!;
  const sign = (x >>> 16) & 0x8000;
  const magnitude = x & 0x7fffffff;
  if (magnitude >= 0x7f800000) return sign | (magnitude > 0x7f800000 ? 0x7e00 : 0x7c00);
  if (magnitude < 0x38800000) {
    // Below 2^-14 halves stand 2^-24 apart. Adding 0.5 to a float moves its last bit there, rounded to even.
    float[0] = Math.abs(value) + 0.5;
    return sign | (bits[0]! - 0x3f000000);
  }
  const rounded = magnitude - 0x38000000 + 0xfff + ((magnitude >>> 13) & 1);
  return sign | Math.min(0x7c00, rounded >>> 13);
}

/** The value of a 16-bit float. */
export function halfValue(half: number): number {
  const sign = half & 0x8000 ? -1 : 1;
  const exponent = (half >>> 10) & 31;
  const fraction = half & 0x3ff;
  if (exponent === 0) return sign * fraction * 2 ** -24;
  if (exponent === 31) return fraction ? NaN : sign * Infinity;
  return sign * (1 + fraction / 1024) * 2 ** (exponent - 15);
}
