import { createRequire } from 'node:module';
import { describe, expect, test } from 'vitest';
import type { Quad } from '../../base/geometry/quad.ts';
import { rotationFromVector, turnVector, type Vector3 } from '../../motion/pose/rotation.ts';
import { groundPlane } from '../../motion/scene/ground-plane.ts';
import { filmedAt } from '../../motion/scene/scene-plane.ts';
import { writeScene } from '../../motion/scene/scene-file.ts';
import { randomFrom } from '../../motion/scene/seeded-random.ts';
import type { Scene } from '../../motion/scene/scene.ts';
import { inCamera } from '../../motion/scene/camera-frames.ts';
import { roomGltf } from './room-gltf.ts';

/** A floor that leans a little, a wall behind, and things in the air; a camera that walks and looks down. y is down. */
const random = randomFrom(3);
const LEAN = rotationFromVector([0.08, 0, -0.05]);
const on = (x: number, y: number, z: number): Vector3 => turnVector(LEAN, [x, y, z]);
const POINTS: Vector3[] = [
  ...Array.from({ length: 60 }, () => on(6 * random() - 3, 2 + 0.004 * (random() - 0.5), 3 + 6 * random())),
  ...Array.from({ length: 50 }, () => on(6 * random() - 3, 2 - 3 * random(), 9)),
  ...Array.from({ length: 30 }, () => on(4 * random() - 2, 1 - 2 * random(), 4 + 3 * random())),
];
const SCENE: Scene = {
  motion: 'walks',
  zooms: false,
  focalKnown: false,
  centre: [640, 360],
  k1: 0,
  k2: 0,
  rms: 0.2,
  sigma: 0.15,
  share: 1,
  notes: [],
  points: POINTS.map((at, track) => ({ track, at })),
  frames: [0, 1, 2, 3].map((frame) => ({
    frame,
    camera: {
      rotation: rotationFromVector([-0.15 - 0.02 * frame, 0.06 * frame, 0.01 * frame]),
      position: [-0.3 * frame, 0.1, 0.05 * frame],
      focal: 1000,
    },
    holds: 60,
    rms: 0.2,
    covariance: new Float64Array(49).fill(NaN),
  })),
};
const CORNERS: Quad = [
  [500, 260],
  [780, 260],
  [780, 400],
  [500, 400],
];
const PLACED = {
  plane: { frame: 0, normal: [0, 0, 0.2] as Vector3, covariance: [0, 0, 0, 0, 0, 0, 0, 0, 0] },
  corners: CORNERS,
};
const TRACKS = POINTS.map(() => ({ first: 0, xs: [0], ys: [0] }));
const file = (scene: Scene, placed?: typeof PLACED) =>
  writeScene(scene, { width: 1280, height: 720, rate: [25, 1], pixelCentre: 'half' }, TRACKS, placed);
interface Node {
  name: string;
  mesh?: number;
  translation?: number[];
  rotation?: number[];
}
interface Gltf {
  nodes: Node[];
  meshes: { name: string; primitives: { attributes: { POSITION: number }; mode?: number }[] }[];
  cameras: { perspective: { yfov: number; aspectRatio: number }; extras: Record<string, unknown> }[];
  animations: { samplers: { input: number; output: number }[] }[];
  accessors: { bufferView: number }[];
  bufferViews: { byteOffset: number; byteLength: number }[];
  buffers: { uri: string }[];
}

async function opened(text: string) {
  const { validateString } = createRequire(import.meta.url)('gltf-validator') as {
    validateString(text: string): Promise<{ issues: { numErrors: number; numWarnings: number } }>;
  };
  const { issues } = await validateString(text);
  const gltf = JSON.parse(text) as Gltf;
  const bytes = Buffer.from(gltf.buffers[0]!.uri.split(',')[1]!, 'base64');
  const read = (accessor: number) => {
    const { byteOffset, byteLength } = gltf.bufferViews[gltf.accessors[accessor]!.bufferView]!;
    return new Float32Array(
      bytes.buffer.slice(bytes.byteOffset + byteOffset, bytes.byteOffset + byteOffset + byteLength),
    );
  };
  const mesh = (name: string) => {
    const at = gltf.nodes.find((n) => n.name === name)?.mesh;
    return at === undefined ? null : read(gltf.meshes[at]!.primitives[0]!.attributes.POSITION);
  };
  /** Where a place is seen on the k-th frame: the specification's view and projection (§3.10.3). */
  const seen = (k: number, p: ArrayLike<number>): [number, number] => {
    const [places, turns] = gltf.animations[0]!.samplers.map((s) => read(s.output)) as [Float32Array, Float32Array];
    const [qx, qy, qz, qw] = turns.subarray(4 * k, 4 * k + 4) as unknown as [number, number, number, number];
    const d = [0, 1, 2].map((a) => p[a]! - places[3 * k + a]!);
    const cross = (u: number[], v: number[]) => [
      u[1]! * v[2]! - u[2]! * v[1]!,
      u[2]! * v[0]! - u[0]! * v[2]!,
      u[0]! * v[1]! - u[1]! * v[0]!,
    ];
    const inverse = [-qx, -qy, -qz];
    const t = cross(inverse, d).map((v) => 2 * v);
    const w = d.map((v, a) => v + qw * t[a]! + cross(inverse, t)[a]!);
    const { yfov, aspectRatio } = gltf.cameras[0]!.perspective;
    const high = 1 / Math.tan(yfov / 2);
    return [(((high / aspectRatio) * w[0]!) / -w[2]! + 1) * 640, (1 - (high * w[1]!) / -w[2]!) * 360];
  };
  return { gltf, faults: issues.numErrors + issues.numWarnings, mesh, seen };
}

describe('a solved room as glTF 2.0', () => {
  test('valid for the validator of Khronos; points and the surface are seen where they were filmed, and the ground is level', async () => {
    const { gltf, faults, mesh, seen } = await opened(roomGltf(file(SCENE, PLACED), { name: 'Hall' })!);
    const points = mesh('points')!;
    const surface = mesh('surface')!;
    const ground = mesh('ground')!;
    expect(faults).toBe(0);
    let off = 0;
    SCENE.frames.forEach(({ camera }, k) =>
      POINTS.forEach((at, i) => {
        const there = filmedAt(SCENE, camera, inCamera(camera, at));
        const here = seen(k, points.subarray(3 * i, 3 * i + 3));
        if (there) off = Math.max(off, Math.hypot(there[0] - here[0], there[1] - here[1]));
      }),
    );
    expect(off).toBeLessThan(0.05);
    CORNERS.forEach(([x, y], i) => {
      const [u, v] = seen(0, surface.subarray(3 * i, 3 * i + 3));
      expect(Math.hypot(u - x, v - y)).toBeLessThan(0.02);
    });
    // One unit is the surface's height; what stands on the ground has no height.
    expect(Math.hypot(surface[0]! - surface[9]!, surface[1]! - surface[10]!, surface[2]! - surface[11]!)).toBeCloseTo(
      1,
      4,
    );
    expect([1, 4, 7, 10].map((k) => ground[k])).toEqual([0, 0, 0, 0]);
    expect(Math.max(...Array.from({ length: 60 }, (_, i) => Math.abs(points[3 * i + 1]!)))).toBeLessThan(0.02);
    expect(Math.min(...Array.from({ length: 30 }, (_, i) => points[3 * (110 + i) + 1]!))).toBeGreaterThan(0.3);
    expect(gltf.cameras[0]!.extras).toMatchObject({ focalLength: 'solved from the room', focalLengthPixels: 1000 });
  });
  test('a size told in centimetres is the unit; a zoom has its focal lengths beside it', async () => {
    const zoomed: Scene = {
      ...SCENE,
      zooms: true,
      frames: SCENE.frames.map((f, k) => ({ ...f, camera: { ...f.camera, focal: 1000 + 100 * k } })),
    };
    const { gltf, mesh } = await opened(roomGltf(file(zoomed, PLACED), { name: 'Hall', size: [120, 60] })!);
    const surface = mesh('surface')!;
    expect(Math.hypot(surface[0]! - surface[9]!, surface[1]! - surface[10]!, surface[2]! - surface[11]!)).toBeCloseTo(
      60,
      2,
    );
    expect(gltf.cameras[0]!.extras.focalLengthsPixels).toEqual([1000, 1100, 1200, 1300]);
  });
  test('a length of the upper side makes the unit, whatever the height', async () => {
    const { mesh } = await opened(roomGltf(file(SCENE, PLACED), { name: 'Hall', size: [120, 60], upperSide: 1.18 })!);
    const surface = mesh('surface')!;
    expect(Math.hypot(surface[0]! - surface[3]!, surface[1]! - surface[4]!, surface[2]! - surface[5]!)).toBeCloseTo(
      1.18,
      4,
    );
  });
  test('without a surface, and of a camera that only turned, there is what there is', async () => {
    const bare = await opened(roomGltf(file(SCENE), { name: 'Hall' })!);
    expect(bare.faults).toBe(0);
    expect(bare.mesh('surface')).toBeNull();
    expect(bare.mesh('ground')).not.toBeNull();
    const turned = await opened(roomGltf(file({ ...SCENE, motion: 'turns' }), { name: 'Hall' })!);
    expect([turned.faults, turned.mesh('points'), turned.mesh('ground')]).toEqual([0, null, null]);
  });
});

describe('the ground', () => {
  test('is the level plane that many points lie on and few under; a wall is none', () => {
    const ground = groundPlane(SCENE)!;
    const up = turnVector(LEAN, [0, -1, 0]);
    expect(
      Math.acos(
        Math.min(
          1,
          ground.up.reduce((s, v, k) => s + v * up[k]!, 0),
        ),
      ),
    ).toBeLessThan(0.01);
    expect(ground.points).toBeGreaterThanOrEqual(60);
    expect(groundPlane({ ...SCENE, points: SCENE.points.slice(60) })).toBeNull();
    expect(groundPlane({ ...SCENE, points: SCENE.points.slice(0, 5) })).toBeNull();
  });
});
