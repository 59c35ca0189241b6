/**
 * Transfer functions between code values 0…1 and light 0…1. Odd continuation below 0, so that
 * nothing is clipped on the way through.
 */

/** IEC 61966-2-1:1999 §5.2, the sRGB display's function: code to linear light. */
export function srgbToLinear(code: number): number {
  if (code < 0) return -srgbToLinear(-code);
  return code <= 0.04045 ? code / 12.92 : ((code + 0.055) / 1.055) ** 2.4;
}

/** IEC 61966-2-1:1999 §5.2, inverse: linear light to code. */
export function linearToSrgb(light: number): number {
  if (light < 0) return -linearToSrgb(-light);
  return light <= 0.0031308 ? light * 12.92 : 1.055 * light ** (1 / 2.4) - 0.055;
}

/** Recommendation ITU-R BT.709-6 §1.2: scene light to camera code. */
export function bt709FromLight(light: number): number {
  if (light < 0) return -bt709FromLight(-light);
  return light < 0.018 ? 4.5 * light : 1.099 * light ** 0.45 - 0.099;
}

/** The inverse of BT.709's camera function. */
export function bt709ToLight(code: number): number {
  if (code < 0) return -bt709ToLight(-code);
  return code < 4.5 * 0.018 ? code / 4.5 : ((code + 0.099) / 1.099) ** (1 / 0.45);
}

/** Recommendation ITU-R BT.1886 annex 1 for a display of zero black level: code to screen light. */
export function bt1886ToLight(code: number): number {
  return Math.max(0, code) ** 2.4;
}

/** The working curve: display-referred codes of plates and content alike are linearised as on an sRGB display. */
export const codeToLight = srgbToLinear;
export const lightToCode = linearToSrgb;

/** Light of every code 0…peak. */
export function lightTable(peak: 255 | 65535): Float32Array {
  const cached = tables.get(peak);
  if (cached) return cached;
  const table = new Float32Array(peak + 1);
  for (let code = 0; code <= peak; code++) table[code] = codeToLight(code / peak);
  tables.set(peak, table);
  return table;
}
const tables = new Map<number, Float32Array>();

const ENCODE_STEPS = 1 << 14;
/** √-spaced table of `lightToCode` over 0…1; linear interpolation keeps the error under 1e-5. */
export const encodeTable = (() => {
  const table = new Float32Array(ENCODE_STEPS + 2);
  for (let i = 0; i < table.length; i++) table[i] = lightToCode((i / ENCODE_STEPS) ** 2);
  return table;
})();

/** Fast `lightToCode`, clamped to 0…1. */
export function encodeLight(light: number): number {
  if (!(light > 0)) return 0;
  if (light >= 1) return 1;
  const position = Math.sqrt(light) * ENCODE_STEPS;
  const index = position | 0;
  const from = encodeTable[index]!;
  return from + (encodeTable[index + 1]! - from) * (position - index);
}
