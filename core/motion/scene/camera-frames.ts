import type { Vector3 } from '../pose/rotation.ts';
import { centreOf } from './bundle-adjustment.ts';
import type { Ray } from './essential-matrix.ts';
import type { CameraState } from './scene-camera.ts';

/** A direction in a camera's axes, in the scene's. */
export function inWorld({ rotation: r }: CameraState, [x, y, z]: Vector3): [number, number, number] {
  return [r[0]! * x + r[3]! * y + r[6]! * z, r[1]! * x + r[4]! * y + r[7]! * z, r[2]! * x + r[5]! * y + r[8]! * z];
}

/** A place in a camera's axes, in the scene; the camera's own is that of (0, 0, 0). */
export function placeInWorld(camera: CameraState, [x, y, z]: Vector3): [number, number, number] {
  const [tx, ty, tz] = camera.position;
  return inWorld(camera, [x - tx, y - ty, z - tz]);
}

/** Where a point of the scene is in a camera's axes. */
export function inCamera({ rotation: r, position: t }: CameraState, [x, y, z]: Vector3): [number, number, number] {
  return [
    r[0]! * x + r[1]! * y + r[2]! * z + t[0],
    r[3]! * x + r[4]! * y + r[5]! * z + t[1],
    r[6]! * x + r[7]! * y + r[8]! * z + t[2],
  ];
}

/** Where a point of the scene is seen without a lens, in focal lengths from the middle; null behind the camera. */
export function seenAt(camera: CameraState, point: Vector3): Ray | null {
  const [x, y, z] = inCamera(camera, point);
  return z > 1e-6 ? [x / z, y / z] : null;
}

export function relative(from: CameraState, to: CameraState): { rotation: number[]; position: Vector3 } {
  const a = from.rotation;
  const b = to.rotation;
  const rotation = Array.from({ length: 9 }, (_, i) => {
    const r = Math.floor(i / 3);
    const c = i % 3;
    return b[3 * r]! * a[3 * c]! + b[3 * r + 1]! * a[3 * c + 1]! + b[3 * r + 2]! * a[3 * c + 2]!;
  });
  const home = centreOf(from);
  const position = inCamera(to, home);
  return { rotation, position };
}
