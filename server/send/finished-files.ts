import { clamp } from '../../core/base/geometry/clamp.ts';
import { existsSync, mkdirSync } from 'node:fs';
import { dirname } from 'node:path';
import sharp from 'sharp';
import { Problem } from '../../core/base/problem/problem.ts';
import type { RenderLayer } from '../../core/base/schemas/types.ts';
import { writePng } from '../media/encode.ts';
import { readExrFile, writeExrFile } from '../media/exr-file.ts';
import { CHANNEL_NAMES, channelsOf, type LayerPicture } from '../media/layer-picture.ts';

/** Writes a layer under its name, whole or not at all. @throws Problem disk-full, file-unwritable */
export async function writeFinished(file: string, layer: LayerPicture): Promise<void> {
  try {
    mkdirSync(dirname(file), { recursive: true });
  } catch (error) {
    throw new Problem('file-unwritable', { file, why: (error as Error).message }, { cause: error });
  }
  switch (layer.kind) {
    case 'light':
      return writeExrFile(file, layer.picture.width, layer.picture.height, channelsOf(layer.picture.data, 4), 16);
    case 'share':
      return writePng(
        file,
        {
          width: layer.width,
          height: layer.height,
          peak: 65535,
          data: Uint16Array.from(layer.share, (v) => clamp(v, 0, 1) * 65535 + 0.5),
        },
        1,
      );
    case 'codes':
      return layer.picture.peak === 1
        ? writeExrFile(
            file,
            layer.picture.width,
            layer.picture.height,
            channelsOf(layer.picture.data as Float32Array, 3),
            32,
          )
        : writePng(file, layer.picture);
  }
}

/** Reads a layer back as it was written. @throws Problem frame-gone */
export async function readFinished(file: string, layer: RenderLayer, frame: number): Promise<LayerPicture> {
  if (!existsSync(file)) throw new Problem('frame-gone', { frame });
  if (file.endsWith('.exr')) {
    const { width, height, channels } = readExrFile(file);
    const count = channels.has('A') ? 4 : 3;
    const data = new Float32Array(count * width * height);
    CHANNEL_NAMES.slice(0, count).forEach((name, c) =>
      channels.get(name)!.forEach((v, i) => (data[count * i + c] = v)),
    );
    return count === 4
      ? { kind: 'light', picture: { width, height, data } }
      : { kind: 'codes', picture: { width, height, data, peak: 1 } };
  }
  const image = sharp(file);
  const { width, height, depth } = await image.metadata();
  const deep = depth === 'ushort';
  if (layer === 'matte') {
    const { data } = await image.toColourspace('grey16').raw({ depth: 'ushort' }).toBuffer({ resolveWithObject: true });
    const codes = new Uint16Array(data.buffer, data.byteOffset, width * height);
    return { kind: 'share', width, height, share: Float32Array.from(codes, (v) => v / 65535) };
  }
  const { data } = await (deep ? image.toColourspace('rgb16').raw({ depth: 'ushort' }) : image.raw()).toBuffer({
    resolveWithObject: true,
  });
  return {
    kind: 'codes',
    picture: {
      width,
      height,
      peak: deep ? 65535 : 255,
      data: deep
        ? new Uint16Array(data.buffer, data.byteOffset, 3 * width * height)
        : new Uint8Array(data.buffer, data.byteOffset, data.length),
    },
  };
}
