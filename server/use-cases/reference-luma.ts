import type { LumaFrame } from '../../core/base/image/luma-frame.ts';
import { codedLuma } from '../../core/base/image/raw-frame.ts';
import { folders } from '../config.ts';
import { type StoredMedia } from '../database/media.ts';
import { openFrames } from '../media/stored-frames.ts';

export async function lumaOf(plate: StoredMedia, dataFolder: string, frame: number): Promise<LumaFrame> {
  const { layout, colour } = plate.facts!;
  return codedLuma(await openFrames(folders(dataFolder), plate).readRaw(frame), layout, colour.transfer);
}
