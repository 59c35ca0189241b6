import { clamp } from '../../core/base/geometry/clamp.ts';
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import type { LumaFrame } from '../../core/base/image/luma-frame.ts';
import type { Point } from '../../core/base/geometry/homography.ts';
import type { Plane } from '../../core/base/image/plane.ts';
import { straighten, type Lens } from '../../core/motion/lens/lens.ts';

/**
 * Views of a chessboard that Debian's opencv-doc ships, with the camera calibrated from them (left_intrinsics.yml). Its
 * corners as the reference library finds them natively (findChessboardCorners, cornerSubPix; bench/reference/chessboard.py
 * printed them), without the lens's distortion.
 */
const { camera, distortion, views } = JSON.parse(
  readFileSync(new URL('../../core/test/chessboard-corners.json', import.meta.url), 'utf8'),
) as { camera: number[]; distortion: number[]; views: Record<string, Point[]> };
const FOLDER = '/usr/share/doc/opencv-doc/examples/data';

export const CHESSBOARD_VIEWS: readonly string[] = Object.keys(views);
/** Inner corners from one long side to the other. */
export const BOARD_ACROSS = 9;

/** Focal length (px) and radial distortion of left_intrinsics.yml. */
export const PUBLISHED_CAMERA = { focal: camera[0]!, k: [distortion[0]!, distortion[1]!, distortion[4]!] as const };

/** All 13 photographs that the published camera was calibrated from. */
export const PHOTOGRAPHS: readonly string[] = [1, 2, 3, 4, 5, 6, 7, 8, 9, 11, 12, 13, 14].map(
  (n) => `left${String(n).padStart(2, '0')}.jpg`,
);

/** How differently a lens and the published one straighten a radius, px, at most as far out as `reach`; a straightened picture's scale (also told) is its own. */
export function offPublished(lens: Lens, reach: number): { most: number; scale: number } {
  const {
    focal,
    k: [k1, k2, k3],
  } = PUBLISHED_CAMERA;
  const straight = (of: Lens) =>
    Array.from({ length: 40 }, (_, i) => straighten({ ...of, centre: [0, 0] }, [(reach * (i + 1)) / 40, 0])[0]);
  const ours = straight(lens);
  const theirs = straight({ focal, k1, k2, k3, centre: [0, 0] });
  const scale = ours.reduce((sum, r, i) => sum + r * theirs[i]!, 0) / theirs.reduce((sum, r) => sum + r * r, 0);
  return { most: Math.max(...ours.map((r, i) => Math.abs(r - scale * theirs[i]!))), scale };
}

/** Pixel centres at half, without the lens's distortion. */
export const boardCorners = (name: string): Point[] => views[name]!.map(([x, y]): Point => [x + 0.5, y + 0.5]);

/** The same as they are filmed. */
export function filmedCorners(name: string): Point[] {
  return views[name]!.map(([x, y]) => filmed(x, y).map((v) => v + 0.5) as unknown as Point);
}

/** A view as it is, light codes from 0 to 1. */
export async function filmedView(name: string): Promise<Plane> {
  const {
    data,
    info: { width, height },
  } = await sharp(`${FOLDER}/${name}`).greyscale().raw().toBuffer({ resolveWithObject: true });
  return { width, height, data: Float32Array.from(data, (v) => v / 255) };
}

/** Where the lens (Brown–Conrady: k1, k2, p1, p2, k3) films a place, pixel centres at whole numbers. */
function filmed(i: number, j: number): [number, number] {
  const [fx, , cx, , fy, cy] = camera as [number, number, number, number, number, number];
  const [k1, k2, p1, p2, k3] = distortion as [number, number, number, number, number];
  const x = (i - cx) / fx;
  const y = (j - cy) / fy;
  const r = x * x + y * y;
  const radial = 1 + r * (k1 + r * (k2 + r * k3));
  return [
    fx * (x * radial + 2 * p1 * x * y + p2 * (r + 2 * x * x)) + cx,
    fy * (y * radial + p1 * (r + 2 * y * y) + 2 * p2 * x * y) + cy,
  ];
}

/** A view without the lens's distortion, sampled bilinearly. */
export async function straightView(name: string): Promise<LumaFrame> {
  const {
    data,
    info: { width, height },
  } = await sharp(`${FOLDER}/${name}`).greyscale().raw().toBuffer({ resolveWithObject: true });
  const codes = new Uint8Array(width * height);
  for (let j = 0; j < height; j++) {
    for (let i = 0; i < width; i++) {
      const [u, v] = filmed(i, j);
      const iu = clamp(Math.floor(u), 0, width - 2);
      const iv = clamp(Math.floor(v), 0, height - 2);
      const fu = clamp(u - iu, 0, 1);
      const fv = clamp(v - iv, 0, 1);
      const at = iv * width + iu;
      codes[j * width + i] =
        (1 - fv) * ((1 - fu) * data[at]! + fu * data[at + 1]!) +
        fv * ((1 - fu) * data[at + width]! + fu * data[at + width + 1]!) +
        0.5;
    }
  }
  return { width, height, codes, peak: 255 };
}
