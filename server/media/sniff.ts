import { closeSync, openSync, readSync } from 'node:fs';
import { Problem } from '../../core/base/problem/problem.ts';

/** Picture formats that are read, with ffmpeg's names for taking one as a file and for its decoder. */
export const PICTURE_FORMATS = {
  png: { demuxer: 'png_pipe', decoder: 'png' },
  jpeg: { demuxer: 'jpeg_pipe', decoder: 'mjpeg' },
  tiff: { demuxer: 'tiff_pipe', decoder: 'tiff' },
  exr: { demuxer: 'exr_pipe', decoder: 'exr' },
  webp: { demuxer: 'webp_pipe', decoder: 'webp' },
  bmp: { demuxer: 'bmp_pipe', decoder: 'bmp' },
} as const;
export type PictureFormat = keyof typeof PICTURE_FORMATS;

export type Sniffed = { kind: 'picture'; format: PictureFormat } | { kind: 'zip' } | { kind: 'other' };

const HEAD = 4096;

/** The first bytes of a file. */
export function readHead(file: string): Buffer {
  const head = Buffer.alloc(HEAD);
  const handle = openSync(file, 'r');
  try {
    return head.subarray(0, readSync(handle, head, 0, HEAD, 0));
  } finally {
    closeSync(handle);
  }
}

/**
 * What a file is by its first bytes; its name may lie. Text, playlists and drawings with script in them are
 * refused here, before any decoder sees them.
 */
export function sniff(file: string, label: string): Sniffed {
  const head = readHead(file);
  const starts = (...bytes: number[]) => bytes.every((b, i) => head[i] === b);
  const text = (at: number, word: string) => head.toString('latin1', at, at + word.length) === word;
  if (starts(0x89, 0x50, 0x4e, 0x47)) return { kind: 'picture', format: 'png' };
  if (starts(0xff, 0xd8, 0xff)) return { kind: 'picture', format: 'jpeg' };
  if (starts(0x49, 0x49, 0x2a, 0) || starts(0x4d, 0x4d, 0, 0x2a)) return { kind: 'picture', format: 'tiff' };
  if (starts(0x76, 0x2f, 0x31, 0x01)) return { kind: 'picture', format: 'exr' };
  // The flag of movement: RFC 9649, §2.7.
  if (text(0, 'RIFF') && text(8, 'WEBP') && text(12, 'VP8X') && (head[20]! & 2) !== 0)
    throw new Problem('animated-webp', { file: label });
  if (text(0, 'RIFF') && text(8, 'WEBP')) return { kind: 'picture', format: 'webp' };
  if (text(0, 'BM') && head.length > 30 && head.readUInt32LE(14) <= 124) return { kind: 'picture', format: 'bmp' };
  if (starts(0x50, 0x4b, 0x03, 0x04) || starts(0x50, 0x4b, 0x05, 0x06)) return { kind: 'zip' };
  const words = head.toString('latin1').trimStart().slice(0, 400).toLowerCase();
  if (/^(<\?xml|<svg|<!doctype|<html)/.test(words))
    throw new Problem('not-media', { file: label, why: 'it is a drawing or page that may hold script' });
  if (/^(#extm3u|ffconcat|\[playlist\])/.test(words))
    throw new Problem('not-media', { file: label, why: 'it is a playlist that points at other files' });
  if (looksLikeText(head)) throw new Problem('not-media', { file: label, why: 'it is text' });
  return { kind: 'other' };
}

/** ffmpeg renders plain text as a picture of letters; a plate is never that. */
function looksLikeText(bytes: Buffer): boolean {
  return (
    bytes.length > 0 &&
    bytes.every((b) => b === 9 || b === 10 || b === 13 || (b >= 32 && b < 127) || b >= 128) &&
    bytes.filter((b) => b < 128).length > 0.8 * bytes.length
  );
}
