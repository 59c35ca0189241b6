import { existsSync, mkdirSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import sharp, { type Sharp } from 'sharp';
import type { CodedPicture } from '../../core/base/image/picture.ts';
import { displayPicture, type PlateColour } from '../../core/base/image/plate-colour.ts';
import { writeWholeFile } from '../media/frame-store.ts';
import { readFinished } from './finished-files.ts';

/** Longer side of light pictures of finished frames, for playing, px. */
const LIGHT_SIDE = 1280;
const LINEAR: PlateColour = { transfer: 'linear', primaries: 'bt709' };

const lightFile = (renders: string, key: string): string => join(renders, 'light', key.slice(0, 2), `${key}.jpg`);

/** Leaves a light picture beside a frame that was just made. */
export async function writeLight(
  renders: string,
  key: string,
  picture: CodedPicture,
  colour: PlateColour,
): Promise<void> {
  const { width, height, data } = displayPicture(picture, colour);
  await write(lightFile(renders, key), sharp(data, { raw: { width, height, channels: 3 } }));
}

/** A finished frame as a light JPEG; made here where rendering has not left one. */
export async function lightPicture(renders: string, key: string, file: string): Promise<Buffer> {
  const light = lightFile(renders, key);
  if (existsSync(light)) return readFile(light);
  return write(light, file.endsWith('.png') ? sharp(file).toColourspace('srgb') : await shownFloats(file));
}

async function write(file: string, image: Sharp): Promise<Buffer> {
  const bytes = await image
    .resize({ width: LIGHT_SIDE, height: LIGHT_SIDE, fit: 'inside', withoutEnlargement: true })
    .jpeg({ quality: 90, chromaSubsampling: '4:4:4' })
    .toBuffer();
  mkdirSync(dirname(file), { recursive: true });
  writeWholeFile(file, bytes);
  return bytes;
}

async function shownFloats(file: string): Promise<Sharp> {
  const layer = await readFinished(file, 'full', 0);
  if (layer.kind === 'share') throw new RangeError('a matte is no EXR');
  const { width, height, data } = displayPicture(
    layer.kind === 'light'
      ? {
          width: layer.picture.width,
          height: layer.picture.height,
          peak: 1,
          data: layer.picture.data.filter((_, i) => i % 4 !== 3),
        }
      : layer.picture,
    LINEAR,
  );
  return sharp(data, { raw: { width, height, channels: 3 } });
}
