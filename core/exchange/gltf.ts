import type { Quad } from '../geometry/quad.ts';
import { sideRatio } from '../geometry/quad.ts';
import { fitCamera } from '../pose/fit-camera.ts';
import { poseOfQuad, type SurfaceCamera } from '../pose/plane-pose.ts';
import { turnedBack, turnVector, vectorFromRotation, type Rotation, type Vector3 } from '../pose/rotation.ts';
import type { TrackFile } from '../schemas/types.ts';
import type { ChosenFrames } from './export-choices.ts';

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

const FLOAT = 5126, UNSIGNED_SHORT = 5123;

/**
 * The surface as a still plane and the camera that moves about it, as glTF 2.0 with everything in one file. One unit is the surface's height; y is
 * up, the camera looks along −z. Source: Khronos Group, glTF 2.0 specification (2021): §3.10 cameras, §3.11 animations.
 * Null where no frame tells a pose.
 */
export function gltf(chosen: ChosenFrames, { name, focal, ratio }: SceneParts): string | null {
  const { track } = chosen, quads = new Map(chosen.all().flatMap(({ index }) => (chosen.cornersOf(index) ? [[index, chosen.cornersOf(index)!] as const] : [])));
  const fit = fitCamera([...quads.values()], track.width, track.height, { focal, ratio: ratio ?? undefined }), source: FocalSource = focal === undefined ? 'solved from the corners' : 'given';
  const first = [...quads.values()][0];
  if (!fit || !first) return null;
  const camera: SurfaceCamera = { ...fit.camera, ratio: ratio ?? fit.camera.ratio ?? sideRatio(first) }, frames = cameraPath(quads, camera, track);
  return frames.length === 0 ? null : scene({ name, track, camera, frames, source, rms: fit.rms });
}

/** The camera seen from the surface, turned so that y is up and it looks along −z. */
function cameraPath(quads: ReadonlyMap<number, Quad>, camera: SurfaceCamera, { rate }: TrackFile): CameraFrame[] {
  const out: CameraFrame[] = [];
  for (const [frame, quad] of quads) {
    const pose = poseOfQuad(quad, camera)?.pose;
    if (!pose) continue;
    // The surface in the camera: X → R·X + t. The camera in the surface: turned by Rᵀ, at −Rᵀ·t. Both have y down and z away; half a turn about x makes them glTF's.
    const back = turnedBack(pose.rotation), [x, y, z] = turnVector(back, pose.position);
    out.push({ seconds: (frame * rate[1]) / rate[0], turn: halfTurned(back), place: [-x, y, z] });
  }
  return out;
}

/** D·R·D with D = diag(1, −1, −1). */
function halfTurned(r: Rotation): Rotation {
  return r.map((v, i) => ((i < 3) === (i % 3 === 0) ? v : -v));
}

function scene({ name, track, camera, frames, source, rms }: { name: string; track: TrackFile; camera: SurfaceCamera; frames: readonly CameraFrame[]; source: FocalSource; rms: number }): string {
  const half = camera.ratio / 2, corners = [-half, 0.5, 0, half, 0.5, 0, half, -0.5, 0, -half, -0.5, 0], n = frames.length;
  const parts: { data: Uint8Array; accessor: object; target?: number }[] = [];
  const add = (data: Float32Array | Uint16Array, type: string, count: number, more: object = {}, target?: number) => {
    parts.push({ data: new Uint8Array(data.buffer, data.byteOffset, data.byteLength), accessor: { componentType: data instanceof Float32Array ? FLOAT : UNSIGNED_SHORT, count, type, ...more }, ...(target === undefined ? {} : { target }) });
    return parts.length - 1;
  };
  const positions = Float32Array.from(corners), position = add(positions, 'VEC3', 4, { min: [positions[0], -0.5, 0], max: [positions[3], 0.5, 0] }, 34962), normal = add(Float32Array.from([0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1]), 'VEC3', 4, {}, 34962);
  const texture = add(Float32Array.from([0, 0, 1, 0, 1, 1, 0, 1]), 'VEC2', 4, {}, 34962), indices = add(Uint16Array.from([0, 3, 2, 0, 2, 1]), 'SCALAR', 6, {}, 34963);
  const times = Float32Array.from(frames, (f) => f.seconds), time = add(times, 'SCALAR', n, { min: [times[0]], max: [times[n - 1]] });
  const places = add(Float32Array.from(frames.flatMap((f) => [...f.place])), 'VEC3', n), turns = add(Float32Array.from(quaternions(frames).flat()), 'VEC4', n);
  let length = 0;
  const views = parts.map(({ data, target }) => {
    const view = { buffer: 0, byteOffset: length, byteLength: data.length, ...(target === undefined ? {} : { target }) };
    length += Math.ceil(data.length / 4) * 4;
    return view;
  });
  const bytes = new Uint8Array(length);
  parts.forEach(({ data }, i) => bytes.set(data, views[i]!.byteOffset));
  const [start] = frames;
  return `${JSON.stringify({
    asset: { version: '2.0', generator: 'Yarlop' },
    scene: 0, scenes: [{ name, nodes: [0, 1] }],
    nodes: [{ name: 'surface', mesh: 0 }, { name: 'camera', camera: 0, translation: start!.place.map((v) => Math.fround(v)), rotation: quaternions([start!])[0] }],
    cameras: [{ type: 'perspective', name: 'camera', perspective: { aspectRatio: track.width / track.height, yfov: 2 * Math.atan(track.height / (2 * camera.focal)), znear: 0.01 }, extras: { focalLengthPixels: camera.focal, focalLength: source, imageWidth: track.width, imageHeight: track.height, cornerErrorPixels: rms } }],
    meshes: [{ name: 'surface', primitives: [{ attributes: { POSITION: position, NORMAL: normal, TEXCOORD_0: texture }, indices, material: 0 }], extras: { unit: "the surface's height", widthOverHeight: camera.ratio } }],
    materials: [{ name: 'content', doubleSided: true, pbrMetallicRoughness: { baseColorFactor: [0.8, 0.8, 0.8, 1], metallicFactor: 0, roughnessFactor: 0.6 } }],
    animations: [{ name, samplers: [{ input: time, output: places, interpolation: 'LINEAR' }, { input: time, output: turns, interpolation: 'LINEAR' }], channels: [{ sampler: 0, target: { node: 1, path: 'translation' } }, { sampler: 1, target: { node: 1, path: 'rotation' } }], extras: { framesPerSecond: track.rate } }],
    accessors: parts.map(({ accessor }, i) => ({ bufferView: i, ...accessor })), bufferViews: views,
    buffers: [{ byteLength: length, uri: `data:application/octet-stream;base64,${base64(bytes)}` }],
  })}\n`;
}

/** Unit quaternions x, y, z, w, each the nearer of its two signs to the one before. */
function quaternions(frames: readonly CameraFrame[]): number[][] {
  let before: number[] | null = null;
  return frames.map(({ turn }) => {
    const [x, y, z] = vectorFromRotation(turn), angle = Math.hypot(x, y, z), s = angle < 1e-12 ? 0.5 : Math.sin(angle / 2) / angle;
    let q = [x * s, y * s, z * s, Math.cos(angle / 2)];
    if (before && q.reduce((sum, v, i) => sum + v * before![i]!, 0) < 0) q = q.map((v) => -v);
    before = q;
    return q;
  });
}

const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';

/** RFC 4648, section 4. */
function base64(bytes: Uint8Array): string {
  let out = '';
  for (let i = 0; i < bytes.length; i += 3) {
    const n = (bytes[i]! << 16) | ((bytes[i + 1] ?? 0) << 8) | (bytes[i + 2] ?? 0);
    out += LETTERS[n >> 18]! + LETTERS[(n >> 12) & 63]! + (i + 1 < bytes.length ? LETTERS[(n >> 6) & 63]! : '=') + (i + 2 < bytes.length ? LETTERS[n & 63]! : '=');
  }
  return out;
}

