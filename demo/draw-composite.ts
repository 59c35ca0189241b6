import { join } from 'node:path';
import { contentTexture } from './content-texture.ts';
import { renderFrame } from './scene/render.ts';
import { recordFrame } from './scene/sensor.ts';
import { SHOTS } from './shots/index.ts';

/** A frame of a demo shot as it would have been filmed had the device shown the content, without noise: 8-bit RGB, half as large as the clip. */
export async function drawComposite(
  name: string,
  frame: number,
): Promise<{ width: number; height: number; data: Uint8Array }> {
  const shot = SHOTS[name]!();
  const area = shot.scene().cards[0]!.screen!;
  const file = join(import.meta.dirname, 'content', shot.content);
  const scene = shot.scene(await contentTexture(file, area.width, area.height, shot.levels));
  const { width, height } = scene.lens;
  return {
    width: width / 2,
    height: height / 2,
    data: halved(recordFrame(renderFrame(scene, frame), null, 0), width, height),
  };
}

/** The mean of each four pixels, as the shorter clips have it. */
function halved(rgb: Uint8Array, width: number, height: number): Uint8Array {
  const half = new Uint8Array((width / 2) * (height / 2) * 3);
  for (let y = 0; y < height / 2; y++)
    for (let x = 0; x < width / 2; x++)
      for (let c = 0; c < 3; c++) {
        const at = (2 * y * width + 2 * x) * 3 + c;
        const sum = rgb[at]! + rgb[at + 3]! + rgb[at + 3 * width]! + rgb[at + 3 * width + 3]!;
        half[(y * (width / 2) + x) * 3 + c] = Math.round(sum / 4);
      }
  return half;
}
