import { join } from 'node:path';
import { parentPort, workerData } from 'node:worker_threads';
import { contentTexture } from './content-texture.ts';
import { renderFrame } from './scene/render.ts';
import { recordFrame } from './scene/sensor.ts';
import { SHOTS } from './shots/index.ts';

/** Renders frames of one shot on request: { frame, kind } → 8-bit RGB. */
const { name, seed } = workerData as { name: string; seed?: number };
const shot = SHOTS[name]!(seed);
const plate = shot.scene();
const area = plate.cards[0]!.screen!;
const replaced = contentTexture(join(import.meta.dirname, 'content', shot.content), area.width, area.height, shot.levels).then((screen) => shot.scene(screen));

parentPort!.on('message', async ({ frame, kind }: { frame: number; kind: 'plate' | 'composite' }) => {
  const pixels = kind === 'plate'
    ? recordFrame(renderFrame(plate, frame), shot.noise, shot.seed * 7919 + frame)
    : recordFrame(renderFrame(await replaced, frame), null, 0);
  parentPort!.postMessage({ frame, pixels }, [pixels.buffer as ArrayBuffer]);
});
