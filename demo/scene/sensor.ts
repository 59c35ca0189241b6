import { gaussianFrom, randomFrom } from './random.ts';
import { code } from './texture.ts';

/** How noisy the recording is: variance of a code (0…1) = floor² + shot²·code. */
export interface SensorNoise {
  floor: number;
  shot: number;
}

/** Weights of the luma: ITU-R BT.709-6, item 3.2. */
export const LUMA = [0.2126, 0.7152, 0.0722] as const;

/** Display-referred 8-bit codes of a picture in linear light, with noise that depends on the signal. */
export function recordFrame(lightPicture: Float32Array, noise: SensorNoise | null, seed: number): Uint8Array {
  const out = new Uint8Array(lightPicture.length);
  const gaussian = gaussianFrom(randomFrom(seed));
  for (let i = 0; i < out.length; i++) {
    const clean = code(lightPicture[i]!);
    const noisy = noise ? clean + gaussian() * Math.sqrt(noise.floor ** 2 + noise.shot ** 2 * clean) : clean;
    out[i] = Math.min(255, Math.max(0, Math.round(noisy * 255)));
  }
  return out;
}
