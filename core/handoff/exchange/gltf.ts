import { type Quad, sideRatio } from '../../base/geometry/quad.ts';
import { fitCamera } from '../../motion/pose/fit-camera.ts';
import { poseOfQuad, type SurfaceCamera } from '../../motion/pose/plane-pose.ts';
import { turnedBack, turnVector, type Rotation, type Vector3 } from '../../motion/pose/rotation.ts';
import type { TrackFile } from '../../base/schemas/types.ts';
import type { ChosenFrames } from './export-choices.ts';
import { animation, GltfBuffer, quaternions, rectangle } from './gltf-parts.ts';

export interface SceneParts {
  readonly name: string;
  /** Focal length, px; solved from the corners unless given. */
  readonly focal?: number | undefined;
  /** Width of the surface over its height, where it is known. */
  readonly ratio?: number | undefined;
}

/** How the focal length is known, for whoever uses the scene. */
type FocalSource = 'given' | 'solved from the corners';

interface CameraFrame {
  readonly seconds: number;
  readonly turn: Rotation;
  readonly place: Vector3;
}

/**
 * The surface as a still plane and the camera that moves about it, as glTF 2.0 with everything in one file. One unit is the surface's height; y is
 * up, the camera looks along −z. Source: Khronos Group, glTF 2.0 specification (2021): §3.10 cameras, §3.11 animations.
 * Null where no frame tells a pose.
 */
export function gltf(chosen: ChosenFrames, { name, focal, ratio }: SceneParts): string | null {
  const { track } = chosen;
  const quads = new Map(
    chosen.all().flatMap(({ index }) => (chosen.cornersOf(index) ? [[index, chosen.cornersOf(index)!] as const] : [])),
  );
  const fit = fitCamera([...quads.values()], track.width, track.height, { focal, ratio: ratio ?? undefined });
  const source: FocalSource = focal === undefined ? 'solved from the corners' : 'given';
  const first = [...quads.values()][0];
  if (!fit || !first) return null;
  const camera: SurfaceCamera = { ...fit.camera, ratio: ratio ?? fit.camera.ratio ?? sideRatio(first) };
  const frames = cameraPath(quads, camera, track);
  return frames.length === 0 ? null : scene({ name, track, camera, frames, source, rms: fit.rms });
}

/** The camera seen from the surface, turned so that y is up and it looks along −z. */
function cameraPath(quads: ReadonlyMap<number, Quad>, camera: SurfaceCamera, { rate }: TrackFile): CameraFrame[] {
  const out: CameraFrame[] = [];
  for (const [frame, quad] of quads) {
    const pose = poseOfQuad(quad, camera)?.pose;
    if (!pose) continue;
    // The surface in the camera: X → R·X + t. The camera in the surface: turned by Rᵀ, at −Rᵀ·t. Both have y down and z away; half a turn about x makes them glTF's.
    const back = turnedBack(pose.rotation);
    const [x, y, z] = turnVector(back, pose.position);
    out.push({ seconds: (frame * rate[1]) / rate[0], turn: halfTurned(back), place: [-x, y, z] });
  }
  return out;
}

/** D·R·D with D = diag(1, −1, −1). */
export function halfTurned(r: Rotation): Rotation {
  return r.map((v, i) => (i < 3 === (i % 3 === 0) ? v : -v));
}

function scene({
  name,
  track,
  camera,
  frames,
  source,
  rms,
}: {
  name: string;
  track: TrackFile;
  camera: SurfaceCamera;
  frames: readonly CameraFrame[];
  source: FocalSource;
  rms: number;
}): string {
  const half = camera.ratio / 2;
  const buffer = new GltfBuffer();
  const surface = rectangle(
    buffer,
    [
      [-half, 0.5, 0],
      [half, 0.5, 0],
      [half, -0.5, 0],
      [-half, -0.5, 0],
    ],
    [0, 0, 1],
    0,
  );
  const moving = animation(buffer, name, 1, frames, { framesPerSecond: track.rate });
  const [start] = frames;
  return `${JSON.stringify({
    asset: { version: '2.0', generator: 'Yarlop' },
    scene: 0,
    scenes: [{ name, nodes: [0, 1] }],
    nodes: [
      { name: 'surface', mesh: 0 },
      {
        name: 'camera',
        camera: 0,
        translation: start!.place.map((v) => Math.fround(v)),
        rotation: quaternions([start!.turn])[0],
      },
    ],
    cameras: [
      {
        type: 'perspective',
        name: 'camera',
        perspective: {
          aspectRatio: track.width / track.height,
          yfov: 2 * Math.atan(track.height / (2 * camera.focal)),
          znear: 0.01,
        },
        extras: {
          focalLengthPixels: camera.focal,
          focalLength: source,
          imageWidth: track.width,
          imageHeight: track.height,
          cornerErrorPixels: rms,
        },
      },
    ],
    meshes: [
      {
        name: 'surface',
        primitives: [surface],
        extras: { unit: "the surface's height", widthOverHeight: camera.ratio },
      },
    ],
    materials: [CONTENT_MATERIAL],
    animations: [moving],
    ...buffer.members(),
  })}\n`;
}

/** What a surface is made of for whoever puts content on it. */
export const CONTENT_MATERIAL = {
  name: 'content',
  doubleSided: true,
  pbrMetallicRoughness: { baseColorFactor: [0.8, 0.8, 0.8, 1], metallicFactor: 0, roughnessFactor: 0.6 },
};
