import type { LumaFrame } from '../follow/follow-span.ts';
import type { CodedPicture } from './picture.ts';
import { chromaSize, rgbFromYcbcr, type YcbcrCoding } from './ycbcr.ts';

/**
 * How a frame's bytes are laid out in the frame store and on the pipe from the decoder: the source's
 * own planes. 8-bit samples take a byte, deeper ones two, low byte first.
 */
export type RawLayout =
  | { readonly kind: 'ycbcr'; readonly width: number; readonly height: number; readonly coding: YcbcrCoding }
  | { readonly kind: 'rgb'; readonly width: number; readonly height: number; readonly bits: 8 | 16 };

export function bytesPerFrame(layout: RawLayout): number {
  const pixels = layout.width * layout.height;
  if (layout.kind === 'rgb') return pixels * 3 * (layout.bits / 8);
  const chroma = chromaSize(layout.width, layout.height, layout.coding);
  return (pixels + 2 * chroma.width * chroma.height) * (layout.coding.bits > 8 ? 2 : 1);
}

function samples(bytes: Uint8Array, deep: boolean): Uint8Array | Uint16Array {
  if (!deep) return bytes;
  // A pooled buffer may start at an odd byte, which a 16-bit view can't.
  const aligned = bytes.byteOffset % 2 === 0 ? bytes : bytes.slice();
  return new Uint16Array(aligned.buffer, aligned.byteOffset, aligned.byteLength >> 1);
}

function checkLength(bytes: Uint8Array, layout: RawLayout): void {
  if (bytes.byteLength !== bytesPerFrame(layout)) throw new RangeError(`a frame of ${bytes.byteLength} bytes, ${bytesPerFrame(layout)} expected`);
}

/** Red, green and blue codes of a frame. 8-bit sources give 8-bit codes, deeper ones 16-bit. */
export function pictureFromRaw(bytes: Uint8Array, layout: RawLayout): CodedPicture {
  checkLength(bytes, layout);
  const { width, height } = layout;
  if (layout.kind === 'rgb') return { width, height, data: samples(bytes, layout.bits === 16), peak: layout.bits === 16 ? 65535 : 255 };
  const all = samples(bytes, layout.coding.bits > 8);
  const chroma = chromaSize(width, height, layout.coding);
  const pixels = width * height, chromaPixels = chroma.width * chroma.height;
  return rgbFromYcbcr({
    width, height, coding: layout.coding,
    y: all.subarray(0, pixels), cb: all.subarray(pixels, pixels + chromaPixels), cr: all.subarray(pixels + chromaPixels, pixels + 2 * chromaPixels),
  });
}

/** Full-range luma codes of a frame: the source's own luma plane where there is one, else BT.709 weights. */
export function lumaFromRaw(bytes: Uint8Array, layout: RawLayout): LumaFrame {
  checkLength(bytes, layout);
  const { width, height } = layout;
  const pixels = width * height;
  if (layout.kind === 'rgb') {
    const rgb = samples(bytes, layout.bits === 16);
    const codes = layout.bits === 16 ? new Uint16Array(pixels) : new Uint8Array(pixels);
    for (let i = 0, at = 0; i < pixels; i++, at += 3) codes[i] = (0.2126 * rgb[at]! + 0.7152 * rgb[at + 1]! + 0.0722 * rgb[at + 2]! + 0.5) | 0;
    return { width, height, codes, peak: layout.bits === 16 ? 65535 : 255 };
  }
  const { bits, range } = layout.coding;
  const luma = samples(bytes, bits > 8).subarray(0, pixels);
  const peak = bits === 8 ? 255 : 65535;
  const unit = 2 ** (bits - 8);
  const black = range === 'limited' ? 16 * unit : 0;
  const white = range === 'limited' ? 235 * unit : 2 ** bits - 1;
  const table = peak === 255 ? new Uint8Array(2 ** bits) : new Uint16Array(2 ** bits);
  for (let code = 0; code < table.length; code++) table[code] = Math.min(1, Math.max(0, (code - black) / (white - black))) * peak + 0.5;
  const codes = peak === 255 ? new Uint8Array(pixels) : new Uint16Array(pixels);
  for (let i = 0; i < pixels; i++) codes[i] = table[luma[i]!]!;
  return { width, height, codes, peak };
}
