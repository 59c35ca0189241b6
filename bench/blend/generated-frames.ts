import { clamp } from '../../core/base/geometry/clamp.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import type { CodedPicture } from '../../core/base/image/picture.ts';
import { gaussianFrom, randomFrom } from '../../demo/scene/random.ts';
import { renderFrame, screenCorners, type Scene } from '../../demo/scene/render.ts';
import { recordFrame, type SensorNoise } from '../../demo/scene/sensor.ts';
import type { Shot } from '../../demo/scene/shot.ts';
import { code } from '../../demo/scene/texture.ts';
import { MeasureLook, type LookFindings, type Role } from '../../core/picture/measure/measure-look.ts';
import { shotOf } from './blend-plate.ts';

/** A shot filmed otherwise: with another lens, shutter or sensor. */
export interface Filmed {
  readonly softness?: number;
  /** Part of a frame. */
  readonly shutter?: number;
  readonly record?: (light: Float32Array, width: number, seed: number) => Uint8Array;
}

/** Noise that differs by channel and is smoothed over neighbours. Its own code: nothing of core's grain is used. */
export interface ColouredNoise extends SensorNoise {
  readonly channels: readonly [number, number, number];
  /** Standard deviation of the gaussian, px; 0 leaves it white. */
  readonly size: number;
}

export function colouredRecord(noise: ColouredNoise): NonNullable<Filmed['record']> {
  return (light, width, seed) => {
    const height = light.length / 3 / width;
    const gaussian = gaussianFrom(randomFrom(seed));
    const out = new Uint8Array(light.length);
    const radius = Math.ceil(3 * noise.size);
    const weights = Array.from({ length: 2 * radius + 1 }, (_, k) =>
      noise.size > 0 ? Math.exp(-((k - radius) ** 2) / (2 * noise.size ** 2)) : 1,
    );
    const norm = Math.sqrt(weights.reduce((s, w) => s + w * w, 0));
    for (let c = 0; c < 3; c++) {
      const white = Float32Array.from({ length: width * height }, () => gaussian());
      const across = new Float32Array(width * height);
      const at = (from: Float32Array, x: number, y: number) =>
        from[clamp(y, 0, height - 1) * width + clamp(x, 0, width - 1)]!;
      for (let i = 0; i < across.length; i++)
        weights.forEach(
          (w, k) => (across[i]! += (w / norm) * at(white, (i % width) + k - radius, Math.floor(i / width))),
        );
      for (let i = 0; i < across.length; i++) {
        let n = 0;
        weights.forEach((w, k) => (n += (w / norm) * at(across, i % width, Math.floor(i / width) + k - radius)));
        const clean = code(light[3 * i + c]!);
        out[3 * i + c] = clamp(
          Math.round(255 * (clean + n * noise.channels[c]! * Math.sqrt(noise.floor ** 2 + noise.shot ** 2 * clean))),
          0,
          255,
        );
      }
    }
    return out;
  };
}

/** Pictures of a shot filmed otherwise, made when they are asked for. */
export function filmed(
  shot: Shot,
  { softness, shutter, record }: Filmed,
): { scene: Scene; quads: Map<number, Quad>; picture: (frame: number) => CodedPicture } {
  const made = shot.scene();
  const scene: Scene = { ...made, softness: softness ?? made.softness, shutter: shutter ?? made.shutter };
  const quads = new Map(
    Array.from({ length: shot.frames }, (_, f): [number, Quad] => [f, screenCorners(scene, f) as unknown as Quad]),
  );
  return {
    scene,
    quads,
    picture: (frame) => {
      const light = renderFrame(scene, frame);
      const seed = shot.seed * 7919 + frame;
      return {
        width: scene.lens.width,
        height: scene.lens.height,
        data: record ? record(light, scene.lens.width, seed) : recordFrame(light, shot.noise, seed),
        peak: 255,
      };
    },
  };
}

/** What is measured of some of a shot's frames: those that one kind of measurement asks for. */
export function measuredFrames(shot: Shot, otherwise: Filmed, role: Role, most: number): LookFindings {
  const { scene, quads, picture } = filmed(shot, otherwise);
  const measure = new MeasureLook(
    shotOf(
      { width: scene.lens.width, height: scene.lens.height, referenceFrame: shot.referenceFrame, rate: shot.rate },
      quads,
    ),
  );
  measure.begin(picture(measure.home));
  for (const frame of measure.framesFor(role).slice(0, most)) measure.add(frame, picture(frame), role);
  return measure.finish();
}
