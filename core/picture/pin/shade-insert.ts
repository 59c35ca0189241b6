import type { LookNow } from '../look/look.ts';
import type { InsertLayer } from './pin-layer.ts';
import type { PictureSize, PinnedSurface } from './pinned-surface.ts';
import { cameraFor } from './surface-camera.ts';
import { quadAt } from './shutter-path.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { UNIT_SQUARE } from '../../base/geometry/quad.ts';
import { flickerLight } from './flicker.ts';
import { screenPattern } from './pixel-grid.ts';
import { viewingFalloff, type LightSlope } from './viewing-falloff.ts';

/** Frames a second where nothing is said. */
const USUAL_RATE = 25;

/** Gives a laid insert its light on this frame: gain and exposure, flicker, falloff by the viewing angle, and the screen's own pattern. In place. */
export function shadeInsert(
  { layer, box }: InsertLayer,
  surface: PinnedSurface,
  now: LookNow,
  size: PictureSize,
): void {
  const { texture } = surface.look;
  const quad = surface.motion.now;
  const flicker = texture?.flicker
    ? flickerLight(texture.flicker, surface.frame, surface.perSecond ?? USUAL_RATE, now.motionBlur.shutter / 360)
    : 1;
  const camera = cameraFor(size, surface.ratio, surface.focal);
  const falloff =
    texture?.falloff && texture.falloff.power > 0 ? viewingFalloff(quad, camera, texture.falloff.power) : null;
  const light = now.light * flicker;
  const toUnit = texture?.grid || texture?.lines ? homographyBetweenQuads(quad, UNIT_SQUARE) : null;
  if (light === 1 && !falloff && !toUnit) return;
  const slope: LightSlope = falloff ? [light * falloff[0], light * falloff[1], light * falloff[2]] : [light, 0, 0];
  const pattern = toUnit
    ? screenPattern(texture!, surface.ratio, {
        sigma: Math.hypot(now.soften, now.disc / 2),
        motion: wayOfMiddle(surface, now),
      })
    : null;
  const times: [number, number, number] = [1, 1, 1];
  const { data, width } = layer;
  for (let row = box.top, i = 0; row < box.bottom; row++) {
    for (let col = 0; col < width; col++, i += 4) {
      if (data[i + 3] === 0) continue;
      const x = box.left + col + 0.5;
      const y = row + 0.5;
      const factor = Math.max(0, slope[0] + slope[1] * x + slope[2] * y);
      if (pattern) pattern(toUnit!, x, y, times);
      for (let c = 0; c < 3; c++) data[i + c]! *= factor * times[c]!;
    }
  }
}

/** How far the middle of the surface goes while the shutter is open, px. */
function wayOfMiddle({ motion }: PinnedSurface, { motionBlur: { shutter, phase } }: LookNow): [number, number] {
  const [from, to] = [-0.5, 0.5].map((part) => quadAt(motion, phase / 360 + (part * shutter) / 360));
  const middle = (k: 0 | 1) => [0, 1, 2, 3].reduce((s, i) => s + to![i]![k] - from![i]![k], 0) / 4;
  return [middle(0), middle(1)];
}
