import { devicePoint, screenCorners } from './scene/render.ts';
import type { Shot } from './scene/shot.ts';

/** What is exactly known about a generated plate. Corners are at mid-shutter, pixel centres at +0.5. */
export interface Truth {
  format: 'yarlop-truth/1';
  pixelCentre: 'half';
  width: number;
  height: number;
  rate: [number, number];
  /** Degrees. */
  shutter: number;
  /** Gaussian softness of the lens, σ in px. */
  softness: number;
  levels: { black: number; white: number };
  content: string;
  referenceFrame: number;
  /** A rough region on the reference frame. */
  region: [number, number][];
  /** A rough keep-out on the reference frame, where something covers the device. */
  keepOut?: [number, number][];
  frames: { frame: number; corners: [number, number][] }[];
}

export function truthOf(shot: Shot): Truth {
  const scene = shot.scene();
  const round = ([x, y]: [number, number]): [number, number] => [Number(x.toFixed(5)), Number(y.toFixed(5))];
  const onReference = (points: [number, number][]) =>
    points.map(([x, y]) => devicePoint(scene, shot.referenceFrame, x, y)).map(round);
  return {
    format: 'yarlop-truth/1',
    pixelCentre: 'half',
    width: scene.lens.width,
    height: scene.lens.height,
    rate: shot.rate,
    shutter: scene.shutter * 360,
    softness: scene.softness,
    levels: shot.levels,
    content: shot.content,
    referenceFrame: shot.referenceFrame,
    region: onReference(shot.region),
    ...(shot.keepOut ? { keepOut: onReference(shot.keepOut) } : {}),
    frames: Array.from({ length: shot.frames }, (_, frame) => ({
      frame,
      corners: screenCorners(scene, frame).map(round),
    })),
  };
}
