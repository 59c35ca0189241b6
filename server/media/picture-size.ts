import { closeSync, openSync, readSync } from 'node:fs';
import { imageSizeFromFile } from 'image-size/fromFile';
import type { PictureFormat } from './sniff.ts';

export interface Size {
  width: number;
  height: number;
}

/** The size that a picture file states, without decoding it; null when it can't be determined. */
export async function statedSize(file: string, format: PictureFormat): Promise<Size | null> {
  try {
    if (format === 'exr') return exrSize(file);
    const { width, height } = await imageSizeFromFile(file);
    return width && height ? { width, height } : null;
  } catch {
    // What can't be determined from the head is left to the decoder, which says what is wrong.
    return null;
  }
}

const EXR_HEAD = 1 << 16;

/**
 * The display window of an OpenEXR file. Source: Academy Software Foundation, "OpenEXR File Layout": magic and version,
 * then attributes of name, type (both ended by 0), size and value, until an empty name.
 */
function exrSize(file: string): Size | null {
  const buffer = Buffer.alloc(EXR_HEAD);
  const handle = openSync(file, 'r');
  let length: number;
  try {
    length = readSync(handle, buffer, 0, EXR_HEAD, 0);
  } finally {
    closeSync(handle);
  }
  const word = (from: number) => buffer.toString('latin1', from, Math.max(from, buffer.indexOf(0, from)));
  for (let at = 8; at < length - 8 && buffer[at] !== 0;) {
    const name = word(at);
    at += name.length + 1;
    at += word(at).length + 1;
    const size = buffer.readInt32LE(at);
    at += 4;
    if (size < 0) return null;
    if (name === 'displayWindow' && at + 16 <= length) {
      const [left, top, right, bottom] = [0, 4, 8, 12].map((o) => buffer.readInt32LE(at + o)) as [
        number,
        number,
        number,
        number,
      ];
      return { width: right - left + 1, height: bottom - top + 1 };
    }
    at += size;
  }
  return null;
}
