import { mapTuple } from '../../base/geometry/map-tuple.ts';
import { pointFromFile, pointToFile, type PixelCentre } from '../../base/geometry/pixel-centre.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import type { Vector3 } from '../pose/rotation.ts';
import type { QuadCorners, SceneFile } from '../../base/schemas/types.ts';
import { lastFrame, type FeatureTrack } from './feature-tracks.ts';
import { CAMERA_UNKNOWNS } from './scene-camera.ts';
import type { ScenePlane } from './scene-plane.ts';
import type { Scene } from './scene.ts';

const short = (v: number) => Number(v.toPrecision(10));
const shorter = (v: number) => Number(v.toPrecision(6));
const P = CAMERA_UNKNOWNS;

/** A scene as a file of format yarlop-scene/1. */
export function writeScene(
  scene: Scene,
  facts: { width: number; height: number; rate: readonly [number, number]; pixelCentre: PixelCentre },
  tracks: readonly FeatureTrack[],
  placed?: { plane: ScenePlane; corners: Quad },
): SceneFile {
  const { pixelCentre } = facts;
  return {
    format: 'yarlop-scene/1',
    pixelCentre,
    width: facts.width,
    height: facts.height,
    rate: [facts.rate[0], facts.rate[1]],
    motion: scene.motion,
    zooms: scene.zooms,
    focalKnown: scene.focalKnown,
    centre: pointToFile(scene.centre, pixelCentre),
    k1: short(scene.k1),
    k2: short(scene.k2),
    rms: shorter(scene.rms),
    sigma: shorter(scene.sigma),
    share: shorter(scene.share),
    notes: [...scene.notes],
    ...(scene.rows ? { rows: shorter(scene.rows.rowTime) } : {}),
    ...(placed
      ? {
          plane: {
            frame: placed.plane.frame,
            corners: placed.corners.map((c) => pointToFile(c, pixelCentre)) as QuadCorners,
            normal: placed.plane.normal.map(short),
            covariance: placed.plane.covariance.map(shorter),
          },
        }
      : {}),
    frames: scene.frames.map(({ frame, camera, holds, rms, covariance }) => ({
      frame,
      focal: short(camera.focal),
      rotation: camera.rotation.map(short),
      position: camera.position.map(short),
      holds,
      rms: shorter(rms),
      ...(covariance.every(Number.isFinite)
        ? {
            covariance: Array.from({ length: P }, (_, i) => [...covariance.subarray(i * P, i * P + i + 1)])
              .flat()
              .map(shorter),
          }
        : {}),
    })),
    points: scene.points.map(({ track, at }) => [...at.map(shorter), tracks[track]!.first, lastFrame(tracks[track]!)]),
  };
}

/** A scene from its file. */
export function readScene(file: SceneFile): Scene & { placed: { plane: ScenePlane; corners: Quad } | null } {
  const { pixelCentre, plane } = file;
  return {
    motion: file.motion,
    zooms: file.zooms,
    focalKnown: file.focalKnown,
    centre: pointFromFile(file.centre, pixelCentre),
    k1: file.k1,
    k2: file.k2,
    rms: file.rms,
    sigma: file.sigma,
    share: file.share,
    notes: file.notes,
    ...(file.rows ? { rows: { rowTime: file.rows, height: file.height } } : {}),
    frames: file.frames.map(({ frame, focal, rotation, position, holds, rms, covariance }) => {
      const full = new Float64Array(P * P);
      if (covariance?.length === (P * (P + 1)) / 2)
        for (let i = 0, n = 0; i < P; i++)
          for (let k = 0; k <= i; k++) full[i * P + k] = full[k * P + i] = covariance[n++]!;
      return {
        frame,
        camera: { rotation, position: vectorOf(position), focal },
        holds,
        rms,
        covariance: full,
      };
    }),
    points: file.points.map(([x, y, z], track) => ({ track, at: [x!, y!, z!] })),
    placed: plane
      ? {
          plane: { frame: plane.frame, normal: vectorOf(plane.normal), covariance: plane.covariance },
          corners: mapTuple(plane.corners, (c) => pointFromFile(c, pixelCentre)),
        }
      : null,
  };
}

const vectorOf = ([x, y, z]: readonly number[]): Vector3 => [x!, y!, z!];
