import { beforeAll, expect, test } from 'vitest';
import { bend, straighten, type Lens } from '../../core/motion/lens/lens.ts';
import { StraightenedPicture } from '../../core/motion/lens/straightened-picture.ts';
import { movingFrame } from '../../core/test/moving-plate.ts';
import { loadOpenCv, matFromCodes, release, type Mat, type OpenCv } from '../reference/opencv.ts';

/** What the tests here ask the library for besides. Its JavaScript build has no undistortPoints: the maps of initUndistortRectifyMap are checked both ways instead. */
interface Library extends OpenCv {
  initUndistortRectifyMap(
    camera: Mat,
    distortion: Mat,
    turn: Mat,
    camera2: Mat,
    size: object,
    type: number,
    x: Mat,
    y: Mat,
  ): void;
}
const W = 320;
const H = 180;
const LENSES: Lens[] = [
  { k1: -0.11, k2: 0.02, k3: 0, centre: [164, 87], focal: 270 },
  { k1: 0.08, k2: -0.03, k3: 0.01, centre: [160, 90], focal: 300 },
];
let cv: Library;
beforeAll(async () => {
  cv = (await loadOpenCv()) as Library;
});

/** Where the library films each pixel of the straightened picture, of `room`'s size and place. Its pixel centres lie at whole numbers. */
function libraryMaps(
  { k1, k2, k3, centre: [cx, cy], focal }: Lens,
  left: number,
  top: number,
  width: number,
  height: number,
): { x: Mat; y: Mat } {
  const camera = cv.matFromArray(3, 3, cv.CV_64FC1, [focal, 0, cx - 0.5, 0, focal, cy - 0.5, 0, 0, 1]);
  const straight = cv.matFromArray(3, 3, cv.CV_64FC1, [focal, 0, cx - 0.5 - left, 0, focal, cy - 0.5 - top, 0, 0, 1]);
  const distortion = cv.matFromArray(1, 5, cv.CV_64FC1, [k1, k2, 0, 0, k3]);
  const turn = cv.matFromArray(3, 3, cv.CV_64FC1, [1, 0, 0, 0, 1, 0, 0, 0, 1]);
  const x = new cv.Mat();
  const y = new cv.Mat();
  cv.initUndistortRectifyMap(camera, distortion, turn, straight, new cv.Size(width, height), cv.CV_32FC1, x, y);
  release(camera, straight, distortion, turn);
  return { x, y };
}

// OpenCV 4.12, initUndistortRectifyMap: k1, k2, k3 of the Brown–Conrady model.
test('lenses bend and straighten as the library says', () => {
  for (const lens of LENSES) {
    const { x, y } = libraryMaps(lens, 0, 0, W, H);
    let off = 0;
    let back = 0;
    for (let row = 0, at = 0; row < H; row++)
      for (let col = 0; col < W; col++, at++) {
        const filmed: [number, number] = [x.data32F[at]! + 0.5, y.data32F[at]! + 0.5];
        const ours = bend(lens, [col + 0.5, row + 0.5]);
        const straight = straighten(lens, filmed);
        off = Math.max(off, Math.hypot(ours[0] - filmed[0], ours[1] - filmed[1]));
        back = Math.max(back, Math.hypot(straight[0] - col - 0.5, straight[1] - row - 0.5));
      }
    release(x, y);
    expect(off).toBeLessThan(1e-4);
    expect(back).toBeLessThan(2e-4);
  }
});

// OpenCV 4.12, remap with INTER_CUBIC (its kernel has a = −0.75, ours −0.5).
test('a straightened picture is that of the library’s remap, to a code in 255 in the mean', () => {
  for (const lens of LENSES) {
    const frame = movingFrame({ width: W, height: H, velocity: () => [0, 0], shutter: 0, noise: 0, seed: 3 }, 0);
    const room = new StraightenedPicture(lens, W, H);
    const ours = room.luma(frame);
    const { x, y } = libraryMaps(lens, room.left, room.top, room.width, room.height);
    const from = matFromCodes(cv, frame.codes, W, H);
    const to = new cv.Mat();
    cv.remap(from, to, x, y, cv.INTER_CUBIC, cv.BORDER_REPLICATE);
    let sum = 0;
    let n = 0;
    for (let row = 0, at = 0; row < room.height; row++)
      for (let col = 0; col < room.width; col++, at++) {
        const u = x.data32F[at]!;
        const v = y.data32F[at]!;
        if (u < 2 || v < 2 || u > W - 3 || v > H - 3) continue;
        sum += Math.abs(to.data[at]! - ours.codes[at]!);
        n++;
      }
    release(x, y, from, to);
    expect(n).toBeGreaterThan(0.8 * W * H);
    expect(sum / n).toBeLessThan(1);
  }
});
