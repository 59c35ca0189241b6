import type { Quad } from '../../base/geometry/quad.ts';
import {
  NO_TURN,
  rotationFromVector,
  turnedBack,
  turnedBy,
  turnVector,
  type Rotation,
  type Vector3,
} from '../../motion/pose/rotation.ts';
import { groundPlane } from '../../motion/scene/ground-plane.ts';
import { readScene } from '../../motion/scene/scene-file.ts';
import { closenessOf, rayOf, type ScenePlane } from '../../motion/scene/scene-plane.ts';
import type { Scene } from '../../motion/scene/scene.ts';
import { placeInWorld } from '../../motion/scene/camera-frames.ts';
import type { SceneFile } from '../../base/schemas/types.ts';
import { CONTENT_MATERIAL, halfTurned } from './gltf.ts';
import { animation, GltfBuffer, quaternions, rectangle } from './gltf-parts.ts';

export interface RoomParts {
  readonly name: string;
  /** Width and height of the surface in the unit that the file is to have; its height is one unless given. */
  readonly size?: readonly [number, number] | undefined;
  /** Length of the surface's upper side in that unit, where that is given instead. */
  readonly upperSide?: number | undefined;
  /** The surface, where it is not the file's own. */
  readonly placed?: { readonly plane: ScenePlane; readonly corners: Quad } | null | undefined;
}

/** Points are drawn so far from a ground's border, of its reach. */
const WIDER = 1.1;

/**
 * A solved room as glTF 2.0: its still points, the plane of the surface, the ground they stand on (y = 0 then), and the camera's way. y is up, the camera looks along −z. With a surface the unit is its height, or the
 * one its size is given in. Focal lengths of a zoom, which glTF does not animate, are beside the camera.
 */
export function roomGltf(file: SceneFile, { name, size, upperSide, placed: other }: RoomParts): string | null {
  const scene = readScene(file);
  const placed = other === undefined ? scene.placed : other;
  const corners = placed && cornersInSpace(scene, placed.plane, placed.corners);
  const ground = groundPlane(scene);
  const [first] = scene.frames;
  if (!first) return null;
  const high = corners ? (apart(corners[0]!, corners[3]!) + apart(corners[1]!, corners[2]!)) / 2 : 1;
  const wide = corners ? apart(corners[0]!, corners[1]!) : 1;
  const unit = upperSide !== undefined ? upperSide / wide : (size?.[1] ?? 1) / high;
  // Half a turn about x makes y up; then the ground is made level, and y = 0.
  const toGltf = ([x, y, z]: readonly number[]): Vector3 => [x!, -y!, -z!];
  const level = ground ? levelling(toGltf(ground.up)) : NO_TURN;
  const base = ground ? turnVector(level, toGltf(ground.middle))[1] : 0;
  const there = (p: readonly number[]): number[] => {
    const [x, y, z] = turnVector(level, toGltf(p));
    return [unit * x, unit * (y - base), unit * z];
  };
  const frames = scene.frames.map(({ frame, camera }) => ({
    seconds: (frame * file.rate[1]) / file.rate[0],
    turn: turnedBy(level, halfTurned(turnedBack(camera.rotation))),
    place: there(placeInWorld(camera, [0, 0, 0])),
  }));
  const buffer = new GltfBuffer();
  const nodes: object[] = [
    {
      name: 'camera',
      camera: 0,
      translation: frames[0]!.place.map((v) => Math.fround(v)),
      rotation: quaternions([frames[0]!.turn])[0],
    },
  ];
  const meshes: object[] = [];
  const mesh = (label: string, primitive: object, extras?: object) => {
    nodes.push({ name: label, mesh: meshes.length });
    meshes.push({ name: label, primitives: [primitive], ...(extras ? { extras } : {}) });
  };
  if (corners)
    mesh('surface', rectangle(buffer, corners.map(there), normalOf(corners.map(there)), 0), {
      unit: upperSide !== undefined || size ? 'as its size was given' : "the surface's height",
    });
  if (ground) {
    const [x, , z] = there(ground.middle) as [number, number, number];
    const r = WIDER * unit * ground.reach;
    mesh(
      'ground',
      rectangle(
        buffer,
        [
          [x - r, 0, z - r],
          [x + r, 0, z - r],
          [x + r, 0, z + r],
          [x - r, 0, z + r],
        ],
        [0, 1, 0],
        corners ? 1 : 0,
      ),
      { points: ground.points },
    );
  }
  // Where the camera only turned points have directions and no places.
  if (scene.motion === 'walks' && scene.points.length > 0)
    mesh('points', {
      attributes: { POSITION: buffer.places(Float32Array.from(scene.points.flatMap(({ at }) => there(at)))) },
      mode: 0,
    });
  const { focal } = first.camera;
  const moving = frames.length > 1 ? [animation(buffer, name, 0, frames, { framesPerSecond: file.rate })] : [];
  const used = [
    ...(corners ? [CONTENT_MATERIAL] : []),
    ...(ground
      ? [
          {
            name: 'ground',
            doubleSided: true,
            pbrMetallicRoughness: { baseColorFactor: [0.5, 0.5, 0.5, 1], metallicFactor: 0, roughnessFactor: 1 },
          },
        ]
      : []),
  ];
  return `${JSON.stringify({
    asset: { version: '2.0', generator: 'Yarlop' },
    scene: 0,
    scenes: [{ name, nodes: nodes.map((_, i) => i) }],
    nodes,
    cameras: [
      {
        type: 'perspective',
        name: 'camera',
        perspective: {
          aspectRatio: file.width / file.height,
          yfov: 2 * Math.atan(file.height / (2 * focal)),
          znear: 0.01,
        },
        extras: {
          focalLengthPixels: focal,
          focalLength: scene.focalKnown ? 'given' : 'solved from the room',
          imageWidth: file.width,
          imageHeight: file.height,
          pointErrorPixels: scene.rms,
          k1: scene.k1,
          k2: scene.k2,
          ...(scene.zooms ? { focalLengthsPixels: scene.frames.map((f) => f.camera.focal) } : {}),
        },
      },
    ],
    ...(meshes.length > 0 ? { meshes } : {}),
    ...(used.length > 0 ? { materials: used } : {}),
    ...(moving.length > 0 ? { animations: moving } : {}),
    ...buffer.members(),
  })}\n`;
}

/** Where the plane's corners are. Null where one is not in front of its camera. */
function cornersInSpace(scene: Scene, plane: ScenePlane, corners: Quad): number[][] | null {
  const home = scene.frames.find((f) => f.frame === plane.frame)?.camera;
  if (!home) return null;
  const out = corners.map((corner) => {
    const ray = rayOf(scene, home, corner);
    const near = closenessOf(plane.normal, ray);
    return near > 1e-9 ? [...placeInWorld(home, [ray[0] / near, ray[1] / near, ray[2] / near])] : null;
  });
  return out.every((p) => p !== null) ? out : null;
}

const apart = (a: readonly number[], b: readonly number[]) => Math.hypot(a[0]! - b[0]!, a[1]! - b[1]!, a[2]! - b[2]!);

/** Of a rectangle seen from the side on which its corners run clockwise. */
function normalOf([a, b, , d]: readonly (readonly number[])[]): number[] {
  const u = [0, 1, 2].map((i) => d![i]! - a![i]!);
  const v = [0, 1, 2].map((i) => b![i]! - a![i]!);
  const n = [u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!];
  const size = Math.hypot(...n);
  return n.map((w) => w / size);
}

/** The smallest turn that brings a direction upright. */
function levelling([x, y, z]: Vector3): Rotation {
  // About up × (0, 1, 0).
  const sine = Math.hypot(x, z);
  const angle = Math.atan2(sine, y);
  return sine < 1e-12 ? NO_TURN : rotationFromVector([(-z / sine) * angle, 0, (x / sine) * angle]);
}
