import { clamp } from '../geometry/clamp.ts';
import type { CodedPicture } from './picture.ts';

/** How luma and colour differences are coded. */
export interface YcbcrCoding {
  matrix: 'bt709' | 'bt601' | 'bt2020';
  range: 'limited' | 'full';
  /** 8, 10, 12 or 16 bits a sample. */
  bits: number;
  /** Chroma samples are 1/2^x wide and 1/2^y high. */
  chromaShiftX: 0 | 1;
  chromaShiftY: 0 | 1;
}

export interface YcbcrPlanes {
  width: number;
  height: number;
  y: Uint8Array | Uint16Array;
  cb: Uint8Array | Uint16Array;
  cr: Uint8Array | Uint16Array;
  coding: YcbcrCoding;
}

/**
 * Luma weights of red and blue. Sources: ITU-R BT.709-6 §3.2, ITU-R BT.601-7 §2.5.1,
 * ITU-R BT.2020-2 table 4 (non-constant luminance).
 */
const LUMA_WEIGHTS = {
  bt709: { kr: 0.2126, kb: 0.0722 },
  bt601: { kr: 0.299, kb: 0.114 },
  bt2020: { kr: 0.2627, kb: 0.0593 },
} as const;

export function chromaSize(width: number, height: number, coding: YcbcrCoding): { width: number; height: number } {
  return {
    width: (width + coding.chromaShiftX) >> coding.chromaShiftX,
    height: (height + coding.chromaShiftY) >> coding.chromaShiftY,
  };
}

/**
 * Red, green and blue codes of a luma/colour-difference picture. Chroma is interpolated bilinearly;
 * its samples lie on the even luma columns, halfway between rows (the "left" position that MPEG-2,
 * H.264 and their successors use when nothing else is said: ITU-T H.264 annex E, figure E-1).
 * 8-bit sources give 8-bit codes, deeper ones 16-bit codes.
 */
export function rgbFromYcbcr(planes: YcbcrPlanes): CodedPicture {
  const { width, height, coding } = planes;
  const peak = coding.bits === 8 ? 255 : 65535;
  const data = peak === 255 ? new Uint8Array(width * height * 3) : new Uint16Array(width * height * 3);
  const { kr, kb } = LUMA_WEIGHTS[coding.matrix];
  const kg = 1 - kr - kb;
  const unit = 2 ** (coding.bits - 8);
  const limited = coding.range === 'limited';
  const yOffset = limited ? 16 * unit : 0;
  const yScale = peak / (limited ? 219 * unit : 256 * unit - 1);
  const cScale = peak / (limited ? 224 * unit : 256 * unit - 1);
  const lumaOf = new Float32Array(2 ** coding.bits);
  for (let code = 0; code < lumaOf.length; code++) lumaOf[code] = (code - yOffset) * yScale + 0.5;
  const gains: ChromaGains = {
    crToR: 2 * (1 - kr) * cScale,
    cbToB: 2 * (1 - kb) * cScale,
    crToG: (-2 * (1 - kr) * kr * cScale) / kg,
    cbToG: (-2 * (1 - kb) * kb * cScale) / kg,
  };
  const chroma = chromaSize(width, height, coding);
  const cbRow = new Float32Array(chroma.width + 1);
  const crRow = new Float32Array(chroma.width + 1);
  const cbWide = new Float32Array(width);
  const crWide = new Float32Array(width);
  for (let row = 0; row < height; row++) {
    blendChromaRows(planes.cb, chroma, row, coding, 128 * unit, cbRow);
    blendChromaRows(planes.cr, chroma, row, coding, 128 * unit, crRow);
    widen(cbRow, coding.chromaShiftX, cbWide);
    widen(crRow, coding.chromaShiftX, crWide);
    writeRow(planes.y, row, lumaOf, cbWide, crWide, gains, peak, data);
  }
  return { width, height, data, peak };
}

interface ChromaGains {
  crToR: number;
  crToG: number;
  cbToG: number;
  cbToB: number;
}

/** A chroma row on every luma column: even columns have a sample, odd ones lie between two. */
function widen(row: Float32Array, shift: 0 | 1, out: Float32Array): void {
  if (shift === 0) {
    out.set(row.subarray(0, out.length));
    return;
  }
  for (let col = 0; col < out.length; col++) {
    const base = col >> 1;
    out[col] = (col & 1) === 0 ? row[base]! : (row[base]! + row[base + 1]!) * 0.5;
  }
}

function writeRow(
  luma: Uint8Array | Uint16Array,
  row: number,
  lumaOf: Float32Array,
  cb: Float32Array,
  cr: Float32Array,
  gains: ChromaGains,
  peak: number,
  out: Uint8Array | Uint16Array,
): void {
  const width = cb.length;
  const { crToR, crToG, cbToG, cbToB } = gains;
  for (let col = 0, from = row * width, at = from * 3; col < width; col++, at += 3) {
    const y = lumaOf[luma[from + col]!]!;
    const u = cb[col]!;
    const v = cr[col]!;
    const r = y + crToR * v;
    const g = y + crToG * v + cbToG * u;
    const b = y + cbToB * u;
    out[at] = r <= 0 ? 0 : r >= peak ? peak : r | 0;
    out[at + 1] = g <= 0 ? 0 : g >= peak ? peak : g | 0;
    out[at + 2] = b <= 0 ? 0 : b >= peak ? peak : b | 0;
  }
}

/** One chroma row at the luma row's height, about zero; the last sample is repeated once so that a right neighbour exists. */
function blendChromaRows(
  plane: Uint8Array | Uint16Array,
  size: { width: number; height: number },
  row: number,
  coding: YcbcrCoding,
  middle: number,
  out: Float32Array,
): void {
  let upper = row;
  let share = 0;
  if (coding.chromaShiftY === 1) {
    // The luma row's centre in chroma rows: (row + 0.5) / 2 − 0.5.
    const position = row / 2 - 0.25;
    upper = Math.floor(position);
    share = position - upper;
  }
  const a = clamp(upper, 0, size.height - 1) * size.width;
  const b = clamp(upper + 1, 0, size.height - 1) * size.width;
  for (let i = 0; i < size.width; i++) out[i] = plane[a + i]! + (plane[b + i]! - plane[a + i]!) * share - middle;
  out[size.width] = out[size.width - 1]!;
}
