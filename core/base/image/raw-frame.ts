import { clamp } from '../geometry/clamp.ts';
import type { LumaFrame } from './luma-frame.ts';
import { createCodes, type CodedPicture, type Codes, type ContentPicture, type Peak } from './picture.ts';
import { lightTable, linearToSrgb } from './transfer.ts';
import { TRANSFERS, type TransferName } from './transfer-curves.ts';
import { chromaSize, rgbFromYcbcr, type YcbcrCoding } from './ycbcr.ts';

/**
 * How a frame's bytes are laid out in the frame store and on the pipe from the decoder: the source's
 * own planes. 8-bit samples take a byte, deeper ones two, low byte first. Integer red, green, blue (and alpha)
 * are interleaved; floats (32 bits) lie in planes of green, blue, red (and alpha).
 */
export type RawLayout =
  | { readonly kind: 'ycbcr'; readonly width: number; readonly height: number; readonly coding: YcbcrCoding }
  | {
      readonly kind: 'rgb';
      readonly width: number;
      readonly height: number;
      readonly bits: 8 | 16 | 32;
      readonly alpha?: boolean;
    };

export function bytesPerFrame(layout: RawLayout): number {
  const pixels = layout.width * layout.height;
  if (layout.kind === 'rgb') return pixels * channelsOf(layout) * (layout.bits / 8);
  const chroma = chromaSize(layout.width, layout.height, layout.coding);
  return (pixels + 2 * chroma.width * chroma.height) * (layout.coding.bits > 8 ? 2 : 1);
}

function channelsOf(layout: RawLayout & { kind: 'rgb' }): 3 | 4 {
  return layout.alpha ? 4 : 3;
}

/** The peak of the codes that a layout's pictures have. */
export function peakOf(layout: RawLayout): Peak {
  const bits = layout.kind === 'rgb' ? layout.bits : layout.coding.bits;
  return bits === 8 ? 255 : bits === 32 ? 1 : 65535;
}

function floats(bytes: Uint8Array): Float32Array {
  const aligned = bytes.byteOffset % 4 === 0 ? bytes : bytes.slice();
  return new Float32Array(aligned.buffer, aligned.byteOffset, aligned.byteLength >> 2);
}

function samples(bytes: Uint8Array, deep: boolean): Uint8Array | Uint16Array {
  if (!deep) return bytes;
  // A pooled buffer may start at an odd byte, which a 16-bit view can't.
  const aligned = bytes.byteOffset % 2 === 0 ? bytes : bytes.slice();
  return new Uint16Array(aligned.buffer, aligned.byteOffset, aligned.byteLength >> 1);
}

function checkLength(bytes: Uint8Array, layout: RawLayout): void {
  if (bytes.byteLength !== bytesPerFrame(layout))
    throw new RangeError(`a frame of ${bytes.byteLength} bytes, ${bytesPerFrame(layout)} expected`);
}

/** Red, green and blue codes of a frame. 8-bit sources give 8-bit codes, deeper ones 16-bit. */
export function pictureFromRaw(bytes: Uint8Array, layout: RawLayout): CodedPicture {
  checkLength(bytes, layout);
  const { width, height } = layout;
  if (layout.kind === 'rgb') return { width, height, data: interleaved(bytes, layout, 3), peak: peakOf(layout) };
  const all = samples(bytes, layout.coding.bits > 8);
  const chroma = chromaSize(width, height, layout.coding);
  const pixels = width * height;
  const chromaPixels = chroma.width * chroma.height;
  return rgbFromYcbcr({
    width,
    height,
    coding: layout.coding,
    y: all.subarray(0, pixels),
    cb: all.subarray(pixels, pixels + chromaPixels),
    cr: all.subarray(pixels + chromaPixels, pixels + 2 * chromaPixels),
  });
}

/** Red, green, blue and, when four are wanted, alpha (1 where there is none), interleaved. */
function interleaved(bytes: Uint8Array, layout: RawLayout & { kind: 'rgb' }, wanted: 3 | 4): Codes {
  const pixels = layout.width * layout.height;
  const have = channelsOf(layout);
  const peak = peakOf(layout);
  const from = layout.bits === 32 ? floats(bytes) : samples(bytes, layout.bits === 16);
  if (layout.bits !== 32 && have === wanted) return from;
  const out = createCodes(peak, pixels * wanted);
  // Where channel c of pixel i lies: planes are green, blue, red, alpha.
  const offset = layout.bits === 32 ? [2 * pixels, 0, pixels, 3 * pixels] : [0, 1, 2, 3];
  const stride = layout.bits === 32 ? 1 : have;
  for (let c = 0; c < wanted; c++) {
    if (c >= have) for (let i = 0; i < pixels; i++) out[i * wanted + c] = peak;
    else for (let i = 0, source = offset[c]!; i < pixels; i++, source += stride) out[i * wanted + c] = from[source]!;
  }
  return out;
}

/** A frame as content: four codes a pixel. */
export function contentFromRaw(bytes: Uint8Array, layout: RawLayout): ContentPicture {
  const { width, height } = layout;
  if (layout.kind === 'rgb') {
    checkLength(bytes, layout);
    return { width, height, data: interleaved(bytes, layout, 4), peak: peakOf(layout) };
  }
  const { data: rgb, peak } = pictureFromRaw(bytes, layout);
  const data = createCodes(peak, width * height * 4);
  for (let i = 0, from = 0, at = 0; i < width * height; i++, from += 3, at += 4) {
    data[at] = rgb[from]!;
    data[at + 1] = rgb[from + 1]!;
    data[at + 2] = rgb[from + 2]!;
    data[at + 3] = peak;
  }
  return { width, height, data, peak };
}

/** Full-range luma codes of a frame: the source's own luma plane where there is one, else BT.709 weights.
 * Floats become display codes by way of `transfer`, held within 0…1. */
export function lumaFromRaw(bytes: Uint8Array, layout: RawLayout, transfer: TransferName = 'linear'): LumaFrame {
  checkLength(bytes, layout);
  const { width, height } = layout;
  const pixels = width * height;
  if (layout.kind === 'rgb' && layout.bits === 32) return lumaFromFloats(floats(bytes), width, height, transfer);
  if (layout.kind === 'rgb') {
    const rgb = samples(bytes, layout.bits === 16);
    const step = channelsOf(layout);
    const codes = layout.bits === 16 ? new Uint16Array(pixels) : new Uint8Array(pixels);
    for (let i = 0, at = 0; i < pixels; i++, at += step)
      codes[i] = (0.2126 * rgb[at]! + 0.7152 * rgb[at + 1]! + 0.0722 * rgb[at + 2]! + 0.5) | 0;
    return { width, height, codes, peak: layout.bits === 16 ? 65535 : 255 };
  }
  const { bits, range } = layout.coding;
  const luma = samples(bytes, bits > 8).subarray(0, pixels);
  const peak = bits === 8 ? 255 : 65535;
  const unit = 2 ** (bits - 8);
  const black = range === 'limited' ? 16 * unit : 0;
  const white = range === 'limited' ? 235 * unit : 2 ** bits - 1;
  const table = peak === 255 ? new Uint8Array(2 ** bits) : new Uint16Array(2 ** bits);
  for (let code = 0; code < table.length; code++)
    table[code] = clamp((code - black) / (white - black), 0, 1) * peak + 0.5;
  const codes =
    luma instanceof Uint8Array && table instanceof Uint8Array
      ? lookUp8(luma, table)
      : lookUp16(luma as Uint16Array, table as Uint16Array);
  return { width, height, codes, peak };
}

const codedTables = new Map<string, Float32Array>();

/**
 * Luma as the file codes it, with the light of every code: for whoever looks at small parts only, since whole pictures need not be recoded then. `light` says
 * what a code means and goes with `codes`; other layouts than 8-bit luma are recoded as by `lumaFromRaw`.
 */
export function codedLuma(bytes: Uint8Array, layout: RawLayout, transfer: TransferName = 'linear'): LumaFrame {
  if (layout.kind !== 'ycbcr' || layout.coding.bits !== 8) return lumaFromRaw(bytes, layout, transfer);
  checkLength(bytes, layout);
  const {
    width,
    height,
    coding: { range },
  } = layout;
  const full = lightTable(255);
  let light = codedTables.get(range);
  if (!light) {
    light = Float32Array.from(
      { length: 256 },
      (_, code) => full[range === 'limited' ? Math.round(clamp((code - 16) / 219, 0, 1) * 255) : code]!,
    );
    codedTables.set(range, light);
  }
  return { width, height, codes: bytes.subarray(0, width * height), peak: 255, light };
}

// One loop for each kind of array: one for both is several times slower.
function lookUp8(luma: Uint8Array, table: Uint8Array): Uint8Array {
  const codes = new Uint8Array(luma.length);
  for (let i = 0; i < codes.length; i++) codes[i] = table[luma[i]!]!;
  return codes;
}
function lookUp16(luma: Uint16Array, table: Uint16Array): Uint16Array {
  const codes = new Uint16Array(luma.length);
  for (let i = 0; i < codes.length; i++) codes[i] = table[luma[i]!]!;
  return codes;
}

function lumaFromFloats(planes: Float32Array, width: number, height: number, transfer: TransferName): LumaFrame {
  const pixels = width * height;
  const codes = new Uint16Array(pixels);
  const { toLight } = TRANSFERS[transfer];
  for (let i = 0; i < pixels; i++) {
    const light =
      0.7152 * toLight(planes[i]!) + 0.0722 * toLight(planes[pixels + i]!) + 0.2126 * toLight(planes[2 * pixels + i]!);
    codes[i] = light > 0 ? Math.min(1, linearToSrgb(light)) * 65535 + 0.5 : 0;
  }
  return { width, height, codes, peak: 65535 };
}
