import { join } from 'node:path';
import { parentPort, workerData } from 'node:worker_threads';
import { contentTexture } from './content-texture.ts';
import { matteScene } from './scene/matte.ts';
import { renderFrame, type Scene } from './scene/render.ts';
import { recordFrame } from './scene/sensor.ts';
import { shotNamed } from './shots/index.ts';

/** The pictures of a frame: as filmed, as it would look with the content, how much of each pixel is screen (0…255, linear), and as filmed without the screen's marks and without grain. */
export type PictureKind = 'plate' | 'composite' | 'matte' | 'unmarked';

/** Renders frames of one shot on request: { frame, kind } → 8-bit RGB. */
const { name } = workerData as { name: string };
const shot = shotNamed(name);
const plate = shot.scene();
const area = plate.cards[0]!.screen!;
let replaced: Promise<Scene> | null = null;
const withoutMarks = shot.unmarked ? shot.scene(shot.unmarked()) : null;
const withContent = () =>
  (replaced ??= contentTexture(
    join(import.meta.dirname, 'content', shot.content),
    area.width,
    area.height,
    shot.levels,
  ).then((screen) => shot.scene(screen)));

async function make(frame: number, kind: PictureKind): Promise<Uint8Array> {
  switch (kind) {
    case 'plate':
      return recordFrame(renderFrame(plate, frame), shot.noise, shot.seed * 7919 + frame);
    case 'composite':
      return recordFrame(renderFrame(await withContent(), frame), null, 0);
    case 'unmarked':
      if (!withoutMarks) throw new RangeError(`${name} has no marks to be without`);
      return recordFrame(renderFrame(withoutMarks, frame), null, 0);
    case 'matte':
      return Uint8Array.from(renderFrame(matteScene(plate), frame), (share) => Math.round(255 * share));
  }
}

parentPort!.on('message', ({ frame, kind }: { frame: number; kind: PictureKind }) => {
  void make(frame, kind).then((pixels) => parentPort!.postMessage({ frame, pixels }, [pixels.buffer as ArrayBuffer]));
});
