import { convolveSeparable, gaussianKernel } from '../image/gaussian.ts';
import type { CodedPicture } from '../image/picture.ts';
import { DISPLAY_COLOUR, type PlateColour } from '../image/plate-colour.ts';
import { touchedPixels, type PixelBox } from '../image/pixel-box.ts';
import type { Point } from '../geometry/homography.ts';
import { KEY_DEFAULTS } from '../matte/colour-key.ts';
import { frontOfFrame, type FrontMatte, type FrontScene } from '../matte/front-of-frame.ts';
import { blendOver } from './blend-over.ts';
import type { FrontSettings } from './look.ts';
import { layBehindFront } from './lay-behind-front.ts';
import { laidContents, outlineOf, type PictureSize, type PinnedSurface } from './pinned-surface.ts';
import { quadAt } from './shutter-path.ts';
import { spillWork } from './spill-work.ts';
import { layOver, renderPin, type InsertLayer } from './pin-layer.ts';

/** `final` takes as many sub-frames as the smear needs and the stated kernel, `quick` a few and a simpler one. Nothing else differs. */
export type Quality = 'final' | 'quick';

const QUICK_STEPS = 4;

/**
 * Content pinned to a surface on one frame, with motion blur and softness, levels already in the
 * pyramid. Null when it does not touch the picture. `outset` moves the surface's outline outward, px.
 * Order of operations: levels → placement → shutter → feathered edge → softness.
 */
export function renderInsert(surface: PinnedSurface, size: PictureSize, quality: Quality, outset = 0): InsertLayer | null {
  const { soften } = surface.look, reach = Math.ceil(4 * soften) + 1;
  const all = laidContents(surface, size, quality === 'quick' ? QUICK_STEPS : undefined, outset);
  const box = touchedPixels(all.flatMap((one) => one.laid.flatMap((laid) => [...one.reach(laid)])), reach + outset, { left: -reach, top: -reach, right: size.width + reach, bottom: size.height + reach });
  if (!box) return null;
  const cover = new Float32Array((box.right - box.left) * (box.bottom - box.top)), main = Math.max(0, surface.contents.findIndex((one) => !one.depth));
  const kernel = soften < 0.05 ? undefined : gaussianKernel(soften), alone = all.length === 1;
  const [first, ...others] = all.map((one, i) => renderPin(quality === 'quick' ? { ...one, quick: true } : one, box, i === main ? cover : undefined, alone ? kernel : undefined));
  for (const other of others) layOver(other, first!);
  if (!kernel || alone) return { layer: first!, box, cover };
  const { width, height } = first!;
  return { layer: { width, height, data: convolveSeparable(first!.data, width, height, 4, kernel, 'empty') }, box, cover: convolveSeparable(cover, width, height, 1, kernel, 'empty') };
}

export interface Composed {
  readonly picture: CodedPicture;
  /** How much of each pixel shows content, 0…1, where that was asked for. */
  readonly matte: Float32Array | null;
}

/** The finished frame: the plate with the insert over it, in the plate's own codes. The plate itself is not changed. */
export function composeFrame(plate: CodedPicture, surface: PinnedSurface, quality: Quality, colour: PlateColour = DISPLAY_COLOUR): CodedPicture {
  return composeOnto(plate, { ...plate, data: plate.data.slice() }, surface, quality, colour, null);
}

/** As composeFrame, with how much content each pixel of the plate shows. */
export function composeWithMatte(plate: CodedPicture, surface: PinnedSurface, quality: Quality, colour: PlateColour = DISPLAY_COLOUR): Composed {
  const matte = new Float32Array(plate.width * plate.height);
  return { picture: composeOnto(plate, { ...plate, data: plate.data.slice() }, surface, quality, colour, matte), matte };
}

/** Lays a surface's insert into `out`, which shows the plate or surfaces behind this one; what stands in front is taken from `plate`. */
export function composeOnto(plate: CodedPicture, out: CodedPicture, surface: PinnedSurface, quality: Quality, colour: PlateColour, matte: Float32Array | null): CodedPicture {
  const { opacity, front: settings } = surface.look, keyed = settings.keys.length > 0;
  if (!keyed && settings.shapes.length === 0 && !surface.differs && !settings.spill) {
    const insert = opacity > 0 ? renderInsert(surface, plate, quality) : null;
    if (insert) {
      blendOver(insert.layer, insert.box, opacity, out, out, colour);
      if (matte) addLayerMatte(insert, opacity, matte, plate.width, plate.height);
    }
    return out;
  }
  // A key ends the content at the screen's own border: it is laid on as far as the key reaches.
  const insert = renderInsert(surface, plate, quality, keyed ? Math.max(...settings.keys.map((key) => key.reach ?? KEY_DEFAULTS.reach)) + 1 : 0);
  const scene = frontScene(surface, quality), front = keptFront(plate, colour, settings, scene);
  if (!front) return out;
  const shown = layBehindFront(plate, front, insert, opacity, settings.spill && spillWork(settings.spill, settings.keys, scene, plate), settings.edge.off !== true, out, colour);
  if (matte) addBoxMatte(front.box, shown, matte, plate.width);
  return out;
}

/**
 * What stands in front does not depend on the content: while a frame's content is worked on it is found once. It goes with its plate's picture, so that nothing
 * is held where every frame is composed once.
 */
const kept = new WeakMap<CodedPicture, readonly { key: string; front: FrontMatte | null }[]>();
/** Pictures with a kept front, and surfaces of each. */
const KEPT = 2;
let recent: WeakRef<CodedPicture>[] = [];

function keptFront(plate: CodedPicture, colour: PlateColour, settings: FrontSettings, scene: FrontScene): FrontMatte | null {
  if (scene.differs) return frontOfFrame(plate, colour, settings, scene);
  const key = JSON.stringify([colour, settings.keys, settings.markers, settings.shapes, scene]), fronts = kept.get(plate) ?? [], there = fronts.find((one) => one.key === key);
  if (there) return there.front;
  const front = frontOfFrame(plate, colour, settings, scene);
  kept.set(plate, [{ key, front }, ...fronts].slice(0, KEPT));
  const others = recent.filter((ref) => ref.deref() !== plate);
  for (const ref of others.slice(KEPT - 1)) {
    const old = ref.deref();
    if (old) kept.delete(old);
  }
  recent = [new WeakRef(plate), ...others.slice(0, KEPT - 1)];
  return front;
}

/** Where and when the front of a surface is looked for. */
export function frontScene(surface: PinnedSurface, quality: Quality): FrontScene {
  const { look: { motionBlur }, motion, frame } = surface, outline = outlineOf(surface, motion.now);
  return {
    outline, smeared: smearedOutlines(surface), motion, frame, reference: surface.reference ?? null, referenceFrame: surface.referenceFrame ?? 0, shutter: motionBlur.shutter, phase: motionBlur.phase, mostMoments: quality === 'quick' ? 4 : 24, differs: surface.differs,
  };
}

/** The outline at the shutter's ends and middle. Where no smear is asked for the plate may be smeared all the same: half of the time between frames is taken. */
function smearedOutlines(surface: PinnedSurface): (readonly Point[])[] {
  const { look: { motionBlur }, motion } = surface, open = (motionBlur.shutter || 180) / 360, middle = motionBlur.phase / 360;
  const still = !motion.before && !motion.after;
  return still ? [outlineOf(surface, motion.now)] : [-0.5, 0, 0.5].map((part) => outlineOf(surface, quadAt(motion, middle + part * open)));
}

function addLayerMatte({ layer, box }: InsertLayer, opacity: number, matte: Float32Array, width: number, height: number): void {
  for (let row = Math.max(0, box.top); row < Math.min(height, box.bottom); row++) {
    for (let col = Math.max(0, box.left); col < Math.min(width, box.right); col++) {
      const alpha = opacity * layer.data[((row - box.top) * layer.width + col - box.left) * 4 + 3]!, at = row * width + col;
      matte[at] = alpha + matte[at]! * (1 - alpha);
    }
  }
}

function addBoxMatte(box: PixelBox, shown: Float32Array, matte: Float32Array, width: number): void {
  const across = box.right - box.left;
  for (let i = 0; i < shown.length; i++) {
    if (shown[i]! <= 0) continue;
    const at = (box.top + Math.floor(i / across)) * width + box.left + (i % across);
    matte[at] = shown[i]! + matte[at]! * (1 - shown[i]!);
  }
}
