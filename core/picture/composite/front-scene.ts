import { numberAt } from '../../base/time/keyframes.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { cleanDifference } from '../matte/clean-difference.ts';
import type { FrontScene } from '../matte/front-of-frame.ts';
import { lookNow, type LookNow } from '../look/look.ts';
import { outlineOf, type PinnedSurface } from '../pin/pinned-surface.ts';
import type { Quality } from '../pin/render-insert.ts';
import { quadAt } from '../pin/shutter-path.ts';

/** Whether anything is known to stand before the surface. */
export function hasFront(surface: PinnedSurface): boolean {
  const { front } = surface.look;
  return (
    front.keys.length > 0 ||
    front.shapes.length > 0 ||
    surface.differs !== undefined ||
    (front.difference !== null && surface.clean !== undefined) ||
    front.spill !== null
  );
}

/** Where and when the front of a surface is looked for. */
export function frontScene(surface: PinnedSurface, quality: Quality): FrontScene {
  const { motion, frame } = surface;
  const { motionBlur } = lookNow(surface.look, frame);
  const outline = outlineOf(surface, motion.now);
  return {
    outline,
    smeared: smearedOutlines(surface, motionBlur),
    motion,
    frame,
    reference: surface.reference ?? null,
    referenceFrame: surface.referenceFrame ?? 0,
    shutter: motionBlur.shutter,
    phase: motionBlur.phase,
    mostMoments: quality === 'quick' ? 8 : 24,
    differs: surface.differs ?? differsFromClean(surface),
    lens: surface.lens,
  };
}

/** What differs from the surface told clean, where the look asks for that. */
function differsFromClean({ look, clean, motion, frame }: PinnedSurface): FrontScene['differs'] {
  const settings = look.front.difference;
  const { motionBlur } = lookNow(look, frame);
  return settings && clean
    ? (region) =>
        cleanDifference(region, clean, { motion, motionBlur, light: 2 ** numberAt(look.exposure, frame) }, settings)
    : undefined;
}

/** The outline at the shutter's ends and middle. Where no smear is asked for the plate may be smeared all the same: half of the time between frames is taken. */
function smearedOutlines(surface: PinnedSurface, motionBlur: LookNow['motionBlur']): (readonly Point[])[] {
  const { motion } = surface;
  const open = (motionBlur.shutter || 180) / 360;
  const middle = motionBlur.phase / 360;
  const still = !motion.before && !motion.after;
  return still
    ? [outlineOf(surface, motion.now)]
    : [-0.5, 0, 0.5].map((part) => outlineOf(surface, quadAt(motion, middle + part * open)));
}
