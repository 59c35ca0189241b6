import { lumaFromRaw, pictureFromRaw } from '../../core/base/image/raw-frame.ts';
import { lensFromPictures, framesOfBoards, type NamedPicture } from '../../core/motion/lens/lens-from-pictures.ts';
import { lensFromMap, mapOfPicture, type MapDirection } from '../../core/motion/lens/lens-map.ts';
import type { LensFromBoards, LensFromMap } from '../../core/base/schemas/types.ts';
import { folders } from '../config.ts';
import type { StoredMedia } from '../database/media.ts';
import { openFrames } from '../media/stored-frames.ts';

/** Tell a plate's lens by pictures of chessboards. */
export interface BoardsTask {
  readonly kind: 'boards';
  readonly media: readonly StoredMedia[];
  readonly dataFolder: string;
  /** The plate's. */
  readonly size: { readonly width: number; readonly height: number };
}

/** Tell a plate's lens by an ST map. */
export interface LensMapTask {
  readonly kind: 'lens-map';
  readonly map: StoredMedia;
  readonly takes: MapDirection;
  readonly dataFolder: string;
  readonly size: { readonly width: number; readonly height: number };
}

export function boards({ media, dataFolder, size }: BoardsTask): Promise<LensFromBoards> {
  return lensFromPictures(picturesOf(media, dataFolder), size);
}

async function* picturesOf(media: readonly StoredMedia[], dataFolder: string): AsyncGenerator<NamedPicture> {
  for (const medium of media) {
    const { layout, colour, frames } = medium.facts!;
    const store = openFrames(folders(dataFolder), medium);
    for (const frame of framesOfBoards(frames))
      yield { name: medium.name, frame, luma: lumaFromRaw(await store.readRaw(frame), layout, colour.transfer) };
  }
}

export async function lensMap({ map, takes, dataFolder, size }: LensMapTask): Promise<LensFromMap> {
  const picture = pictureFromRaw(await openFrames(folders(dataFolder), map).readRaw(0), map.facts!.layout);
  const { lens, ...how } = lensFromMap(mapOfPicture(picture), size, takes);
  return { lens: { ...lens, centre: [lens.centre[0], lens.centre[1]] }, ...how };
}
