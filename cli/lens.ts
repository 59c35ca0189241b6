import { lensFromFile } from '../core/handoff/exchange/lens-file.ts';
import { checkLens } from '../core/motion/lens/check-lens.ts';
import type { PixelCentre } from '../core/base/geometry/pixel-centre.ts';
import { lensFromScene, reachOf } from '../core/motion/scene/lens-from-scene.ts';
import type { Lens } from '../core/motion/lens/lens.ts';
import { Problem } from '../core/base/problem/problem.ts';
import { followFeatures, type FeaturePlan } from '../core/motion/scene/follow-features.ts';
import { randomFrom } from '../core/motion/scene/seeded-random.ts';
import { solveScene } from '../core/motion/scene/solve-scene.ts';
import type { LensAsked } from '../core/base/schemas/types.ts';
import type { LumaFile } from './luma-file.ts';
import { note, progress } from './options.ts';

/** Terms of a lens that is estimated. */
const TERMS = 2;

/** The lens that a file asks for; estimated from what stands still in the plate where it says so. Undefined where it bends nothing. */
export async function lensAsked(
  asked: LensAsked | undefined,
  pixelCentre: PixelCentre,
  plate: LumaFile,
  where: string,
  size: { readonly width: number; readonly height: number },
  allowed?: FeaturePlan['allowed'],
): Promise<Lens | undefined> {
  if (asked === 'estimate') return (await estimatedLens(plate, size, allowed)) ?? undefined;
  const lens = lensFromFile(asked, pixelCentre);
  if (lens) checkLens(lens, size.width, size.height, where);
  return lens;
}

/** The lens that what stands still in a plate tells; null, with a note, where it tells none. */
export async function estimatedLens(
  plate: LumaFile,
  { width, height }: { readonly width: number; readonly height: number },
  allowed?: FeaturePlan['allowed'],
): Promise<Lens | null> {
  const frames: [number, number] = [0, plate.frames - 1];
  try {
    const { tracks } = await followFeatures(
      { width, height, frames, allowed },
      async (frame) => plate.read(frame),
      (done) => progress('looking at the lens', done, plate.frames),
    );
    const scene = await solveScene({ width, height, frames, tracks, lens: { terms: TERMS }, random: randomFrom(1) });
    const lens = lensFromScene(scene, width, height);
    if (scene.motion === 'still') note('the camera stands still, which tells nothing of its lens: none is used');
    else if (!lens)
      note(
        scene.zooms
          ? 'the lens zooms: no one distortion holds for all frames, and none is used'
          : 'the lens bends nothing that could be seen',
      );
    else
      note(
        `lens: k1 ${lens.k1.toFixed(5)}, k2 ${lens.k2.toFixed(5)} at a focal length of ${lens.focal.toFixed(1)} px; it moves the picture's corners by ${reachOf(lens, width, height).toFixed(1)} px`,
      );
    return lens;
  } catch (error) {
    if (!(error instanceof Problem)) throw error;
    note(`no lens could be determined: ${error.message}`);
    return null;
  }
}
