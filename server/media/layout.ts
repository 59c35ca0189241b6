import type { RawLayout } from '../../core/base/image/raw-frame.ts';
import type { YcbcrCoding } from '../../core/base/image/ycbcr.ts';

/**
 * The layout that frames of an ffmpeg pixel format are kept in, and ffmpeg's name of it: luma and colour
 * differences stay as they are, everything else becomes red, green, blue of 8, 16 or 32 (float) bits.
 */
export function layoutOf(
  format: string,
  width: number,
  height: number,
  coding: Pick<YcbcrCoding, 'matrix' | 'range'>,
  keepAlpha: boolean,
): { layout: RawLayout; rawFormat: string } {
  const alpha = keepAlpha && /^(rgba|bgra|argb|abgr|gbrap|ya\d|yuva|pal8)/.test(format);
  const ycbcr = alpha ? null : samplingOf(format);
  if (ycbcr) {
    const { sampling, bits } = ycbcr;
    return {
      layout: {
        kind: 'ycbcr',
        width,
        height,
        coding: { ...coding, bits, chromaShiftX: sampling === '444' ? 0 : 1, chromaShiftY: sampling === '420' ? 1 : 0 },
      },
      rawFormat: `yuv${sampling}p${bits > 8 ? `${bits}le` : ''}`,
    };
  }
  const depth = /f(16|32)/.test(format)
    ? 32
    : /(48|64)(le|be)?$|(9|10|12|14|16)(le|be)$|^x2(rgb|bgr)10/.test(format)
      ? 16
      : 8;
  const names = alpha
    ? { 8: 'rgba', 16: 'rgba64le', 32: 'gbrapf32le' }
    : { 8: 'rgb24', 16: 'rgb48le', 32: 'gbrpf32le' };
  return { layout: { kind: 'rgb', width, height, bits: depth, ...(alpha ? { alpha } : {}) }, rawFormat: names[depth] };
}

/** Chroma sampling and depth of a luma/colour-difference format; null for other formats. */
function samplingOf(format: string): { sampling: string; bits: number } | null {
  const planar = /^yuva?j?(4[24][024])p(\d+)?(le|be)?$/.exec(format);
  if (planar) return { sampling: planar[1] === '440' ? '444' : planar[1]!, bits: Number(planar[2] ?? 8) };
  const semi = /^p([024])(1[026])(le|be)$/.exec(format);
  if (semi) return { sampling: { 0: '420', 2: '422', 4: '444' }[semi[1]!]!, bits: Number(semi[2]) };
  if (/^nv(12|21)$/.test(format)) return { sampling: '420', bits: 8 };
  if (/^nv16$|^yuyv422$|^uyvy422$|^yvyu422$/.test(format)) return { sampling: '422', bits: 8 };
  if (/^nv20(le|be)$|^y210(le|be)$/.test(format)) return { sampling: '422', bits: 10 };
  if (/^nv24$|^nv42$|^yuv4(10|11)p$|^uyyvyy411$/.test(format)) return { sampling: '444', bits: 8 };
  return null;
}
