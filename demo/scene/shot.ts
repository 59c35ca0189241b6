import type { Scene } from './render.ts';
import type { SensorNoise } from './sensor.ts';
import type { Texture } from './texture.ts';

/** A demo shot: a scene with a length, what replaces its screen, and how it is recorded. */
export interface Shot {
  name: string;
  title: string;
  frames: number;
  rate: [number, number];
  noise: SensorNoise;
  seed: number;
  /** The content's file in demo/content, and how the device's screen shows its 0 and 1 (display-referred). */
  content: string;
  levels: { black: number; white: number };
  /** Corners of a rough region on the device, centimetres of its card. */
  region: [number, number][];
  /** What covers the device on the reference frame, likewise. */
  keepOut?: [number, number][];
  referenceFrame: number;
  /** The screen as it is filmed, without its marks; where it has some. */
  unmarked?(): Texture;
  /** The scene as filmed, or with a texture on the screen (the true composite). */
  scene(screen?: Texture): Scene;
}
