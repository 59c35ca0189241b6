import type { Quad } from '../base/geometry/quad.ts';
import { cornersOfPose, type SurfaceCamera } from '../motion/pose/plane-pose.ts';
import { rotationFromVector } from '../motion/pose/rotation.ts';
import { homographyBetweenQuads } from '../base/geometry/estimate-homography.ts';
import type { ExportChoices, TrackFile } from '../base/schemas/types.ts';
import { exportText, type TextFormat } from '../handoff/exchange/export-formats.ts';
import { writeTrack } from '../handoff/exchange/track-file.ts';

export const WIDTH = 1920;
export const HEIGHT = 1080;
export const CAMERA: SurfaceCamera = { focal: 1700, cx: WIDTH / 2, cy: HEIGHT / 2, ratio: 1.6 };
/** A surface that turns and comes nearer; exact. */
export const QUADS: Quad[] = Array.from({ length: 12 }, (_, f) =>
  cornersOfPose(
    {
      rotation: rotationFromVector([0.3 + 0.02 * f, -0.35 + 0.05 * f, 0.1 + 0.01 * f]),
      position: [0.2 - 0.03 * f, 0.1, 3.4 - 0.08 * f],
    },
    CAMERA,
  )!,
);
export const TRACK: TrackFile = writeTrack(
  {
    pixelCentre: 'half',
    width: WIDTH,
    height: HEIGHT,
    rate: [30000, 1001],
    referenceFrame: 4,
    corners: QUADS[4]!,
    firstFrameNumber: 1001,
  },
  QUADS.map((quad, frame) =>
    frame === 9
      ? { frame, homography: null, error: 1, confidence: 0, lost: 'covered' }
      : { frame, homography: homographyBetweenQuads(QUADS[4]!, quad), error: 0, confidence: 1 },
  ),
);
export const text = (format: TextFormat, choices?: ExportChoices, more = {}) =>
  exportText({ name: 'Shot', track: TRACK, ...more }, format, choices);
export const rows = (csv: string) =>
  csv
    .trimEnd()
    .split('\n')
    .filter((line) => !line.startsWith('#'))
    .slice(1)
    .map((line) => line.split(','));

export interface Gltf {
  nodes: { name: string; camera?: number; translation?: number[]; rotation?: number[] }[];
  cameras: {
    perspective: { yfov: number; aspectRatio: number };
    extras: { focalLength: string; focalLengthPixels: number };
  }[];
  animations: {
    samplers: { input: number; output: number }[];
    channels: { sampler: number; target: { node: number; path: string } }[];
  }[];
  accessors: { bufferView: number; count: number; type: string }[];
  bufferViews: { byteOffset: number; byteLength: number }[];
  buffers: { uri: string }[];
}
