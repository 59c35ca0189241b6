import { renameSync, rmSync } from 'node:fs';
import { basename, dirname, extname, join } from 'node:path';
import sharp from 'sharp';
import { Problem } from '../../core/base/problem/problem.ts';

/** A picture of integer codes: grey, colours, or colours with straight alpha. */
export interface IntegerPicture {
  readonly width: number;
  readonly height: number;
  readonly channels: 1 | 3 | 4;
  readonly peak: 255 | 65535;
  readonly data: Uint8Array | Uint16Array;
}

/** Writes a picture as PNG or TIFF by the name's ending, of its own depth, under its name only when whole. @throws Problem disk-full, file-unwritable */
export async function writeIntegers(
  file: string,
  { width, height, channels, peak, data }: IntegerPicture,
): Promise<void> {
  const temporary = join(dirname(file), `.${basename(file)}.${process.pid}.part`);
  const deep = peak === 65535;
  try {
    const raw = sharp(data, { raw: { width, height, channels } });
    const image = channels === 1 ? raw.toColourspace(deep ? 'grey16' : 'b-w') : deep ? raw.toColourspace('rgb16') : raw;
    await (
      extname(file) === '.tif'
        ? image.tiff({ compression: 'deflate', predictor: 'horizontal' })
        : image.png({ compressionLevel: 2 })
    ).toFile(temporary);
    renameSync(temporary, file);
  } catch (error) {
    rmSync(temporary, { force: true });
    if ((error as NodeJS.ErrnoException).code === 'ENOSPC' || /No space left/i.test(String(error)))
      throw new Problem('disk-full');
    throw new Problem('file-unwritable', { file, why: (error as Error).message }, { cause: error });
  }
}
