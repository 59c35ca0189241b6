import { join } from 'node:path';
import { loadOpenCv, matFromCodes, release, type Mat } from '../../bench/reference/opencv.ts';
import { contentTexture } from '../../demo/content-texture.ts';
import { renderFrame } from '../../demo/scene/render.ts';
import { recordFrame } from '../../demo/scene/sensor.ts';
import { SHOTS } from '../../demo/shots/index.ts';
import { ROOT } from '../../server/test/folders.ts';

/** Frames of a demo shot as they would have been filmed had the device shown the content: 8-bit RGB by frame, as large or half as the clip. */
export async function trueComposite(
  name: string,
  frames: readonly number[],
  size: 'full' | 'half' = 'full',
): Promise<Map<number, Uint8Array>> {
  const shot = SHOTS[name]!();
  const area = shot.scene().cards[0]!.screen!;
  const scene = shot.scene(
    await contentTexture(join(ROOT, 'demo/content', shot.content), area.width, area.height, shot.levels),
  );
  const { width, height } = scene.lens;
  const pictures = new Map<number, Uint8Array>();
  for (const frame of frames) {
    const whole = recordFrame(renderFrame(scene, frame), null, 0);
    pictures.set(frame, size === 'full' ? whole : halved(whole, width, height));
  }
  return pictures;
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

/**
 * How far a patch around a point is shifted between two pictures, px: the reference vision library's
 * enhanced correlation (OpenCV, findTransformECC with translation), so that our own following has no say.
 */
export async function patchShift(
  a: Uint8Array,
  b: Uint8Array,
  width: number,
  [cx, cy]: readonly [number, number],
  half = 36,
): Promise<number> {
  const cv = await loadOpenCv();
  const left = Math.round(cx) - half;
  const top = Math.round(cy) - half;
  const side = 2 * half;
  const patch = (rgb: Uint8Array) =>
    matFromCodes(
      cv,
      Array.from({ length: side * side }, (_, i) => {
        const at = ((top + Math.floor(i / side)) * width + left + (i % side)) * 3;
        return 0.2126 * rgb[at]! + 0.7152 * rgb[at + 1]! + 0.0722 * rgb[at + 2]!;
      }),
      side,
      side,
    );
  const [from, to, warp, mask]: [Mat, Mat, Mat, Mat] = [
    patch(a),
    patch(b),
    new cv.Mat(2, 3, cv.CV_32FC1),
    new cv.Mat(),
  ];
  warp.data32F.set([1, 0, 0, 0, 1, 0]);
  cv.findTransformECC(
    from,
    to,
    warp,
    cv.MOTION_TRANSLATION,
    new cv.TermCriteria(cv.TermCriteria_EPS + cv.TermCriteria_COUNT, 60, 1e-5),
    mask,
    3,
  );
  const shift = Math.hypot(warp.data32F[2]!, warp.data32F[5]!);
  release(from, to, warp, mask);
  return shift;
}
