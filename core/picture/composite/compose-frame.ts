import { mapTuple } from '../../base/geometry/map-tuple.ts';
import { cleanPlate } from './clean-plate.ts';
import { blendLayer } from '../blend/blend-layer.ts';
import { drawnReflection } from '../blend/drawn-reflection.ts';
import { layGrain } from '../blend/lay-grain.ts';
import { layReflection } from '../blend/lay-reflection.ts';
import { layCast, layGlow } from '../blend/lay-spread.ts';
import { needsOldScreen } from '../blend/old-screen.ts';
import { spreadLight } from '../blend/light-wrap.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import { DISPLAY_COLOUR, type PlateColour } from '../../base/image/plate-colour.ts';
import type { PixelBox } from '../../base/image/pixel-box.ts';
import { bounds } from '../../base/geometry/quad.ts';
import { KEY_DEFAULTS } from '../matte/colour-key.ts';
import type { FrontMatte, FrontScene } from '../matte/front-of-frame.ts';
import { shapeOutline } from '../matte/roto-shapes.ts';
import { boxWithin, lightOfRegion, type LightRegion } from '../../base/image/light-region.ts';
import type { CastLight, Grain } from '../../base/schemas/types.ts';
import { blendOver, blendOverLight } from './blend-over.ts';
import { frontScene, hasFront } from './front-scene.ts';
import { lookNow, type LookNow } from '../look/look.ts';
import { layBehindFront } from './occlusion.ts';
import type { PictureSize, PinnedSurface } from '../pin/pinned-surface.ts';
import { renderInsert, type Quality } from '../pin/render-insert.ts';
import { keptFront, keptReflection, keptSpill, revealPlate } from './kept-of-plate.ts';
import type { Laying } from './laying.ts';
import type { InsertLayer } from '../pin/pin-layer.ts';

export interface Composed {
  readonly picture: CodedPicture;
  /** How much of each pixel shows content, 0…1, where that was asked for. */
  readonly matte: Float32Array | null;
}

/** The finished frame: the plate with the insert over it, in the plate's own codes. The plate itself is not changed. */
export function composeFrame(
  filmed: CodedPicture,
  surface: PinnedSurface,
  quality: Quality,
  colour: PlateColour = DISPLAY_COLOUR,
): CodedPicture {
  const plate = cleanPlate(filmed, surface, quality, colour);
  return composeOnto(
    { plate, out: { ...plate, data: plate.data.slice() }, surface, quality, colour, fresh: true },
    null,
  );
}

/** As composeFrame, with how much content each pixel of the plate shows. */
export function composeWithMatte(
  filmed: CodedPicture,
  surface: PinnedSurface,
  quality: Quality,
  colour: PlateColour = DISPLAY_COLOUR,
): Composed {
  const plate = cleanPlate(filmed, surface, quality, colour);
  const matte = new Float32Array(plate.width * plate.height);
  return {
    picture: composeOnto(
      { plate, out: { ...plate, data: plate.data.slice() }, surface, quality, colour, fresh: true },
      matte,
    ),
    matte,
  };
}

/** Lays a surface's insert into `out`; what stands in front is taken from the plate. */
export function composeOnto(laying: Laying, matte: Float32Array | null): CodedPicture {
  const { plate, out, surface, quality, colour } = laying;
  const { look } = surface;
  const now = lookNow(look, surface.frame);
  const spreads = look.texture?.glow ?? look.cast;
  const shown =
    matte && !look.grain && !spreads
      ? matte
      : matte || look.grain || spreads
        ? new Float32Array(plate.width * plate.height)
        : null;
  const insert = hasFront(surface) ? layWithFront(laying, now, shown) : layAlone(laying, now, shown);
  if (insert && shown && look.grain) grainOnShown(out, shown, insert.box, look.grain, surface.frame, colour);
  if (insert && shown && spreads) {
    const light = spreadLight(insert, plate);
    const scene = frontScene(surface, quality);
    if (look.cast) layCast(out, shown, light, look.cast, scene, castBox(look.cast, scene, plate), colour);
    if (look.texture?.glow) layGlow(out, light, look.texture.glow, surface.frame, colour);
  }
  if (matte && shown && shown !== matte)
    for (let i = 0; i < shown.length; i++) if (shown[i]! > 0) matte[i] = shown[i]! + matte[i]! * (1 - shown[i]!);
  return out;
}

/** Where nothing stands in front. Returns the insert that was laid. */
function layAlone(laying: Laying, { opacity }: LookNow, matte: Float32Array | null): InsertLayer | null {
  const { plate, out, surface, quality, colour } = laying;
  const insert = opacity > 0 ? renderInsert(surface, plate, quality) : null;
  if (!insert) return null;
  const { look } = surface;
  const box = boxWithin(insert.box, 0, plate);
  if (box && (look.blend !== 'over' || look.reflections || needsOldScreen(surface))) {
    const region = lightOfRegion(out, box, colour);
    meetPlate(laying, insert, region, null);
    blendOverLight(insert, opacity, region, out, colour);
  } else blendOver(insert.layer, insert.box, opacity, out, out, colour);
  if (matte) addLayerMatte(insert, opacity, matte, plate.width, plate.height);
  return insert;
}

/** Behind what stands in front. Returns the insert that was laid. */
function layWithFront(laying: Laying, { opacity }: LookNow, matte: Float32Array | null): InsertLayer | null {
  const { plate, out, surface, quality, colour } = laying;
  const { front: settings } = surface.look;
  const keyed = settings.keys.length > 0;
  // A key ends the content at the screen's own border: it is laid on as far as the key reaches.
  const insert = renderInsert(
    surface,
    plate,
    quality,
    keyed ? Math.max(...settings.keys.map((key) => key.reach ?? KEY_DEFAULTS.reach)) + 1 : 0,
  );
  const scene = frontScene(surface, quality);
  const found = keptFront(laying, scene);
  if (!found) return null;
  let front = found;
  if (insert && (surface.look.blend !== 'over' || surface.look.reflections || needsOldScreen(surface))) {
    const region = {
      ...found.region,
      planes: mapTuple(found.region.planes, (plane) => plane.slice()),
    };
    meetPlate({ ...laying, fresh: true }, insert, region, found);
    if (!keyed) front = { ...found, region };
  }
  const shown = layBehindFront(
    plate,
    front,
    insert,
    opacity,
    keptSpill(laying, scene),
    settings.edge.off !== true,
    out,
    colour,
  );
  if (matte) addBoxMatte(front.box, shown, matte, plate.width);
  return insert;
}

/** What makes an insert one with the plate under it: the old screen's light taken off along its border, blending, and what the screen mirrors. `region` is the plate's light, or with what was laid before. */
function meetPlate(laying: Laying, insert: InsertLayer, region: LightRegion, front: FrontMatte | null): void {
  const { plate, surface, quality } = laying;
  const { look, frame } = surface;
  const { reflections } = look;
  const keyed = look.front.keys.length > 0;
  const mirrored = !keyed && needsOldScreen(surface) ? revealPlate(laying, region, front) : null;
  blendLayer(insert, region, look.blend, look.blendIn);
  if (!reflections) return;
  const planes =
    reflections.from === 'drawn'
      ? drawnReflection(reflections, surface, frontScene(surface, quality), region.box, plate)
      : reflections.from === 'key'
        ? front && keyed && keptReflection(laying, front)
        : mirrored;
  if (planes) layReflection(insert, { box: region.box, planes }, reflections, frame);
}

function grainOnShown(
  out: CodedPicture,
  shown: Float32Array,
  around: PixelBox,
  grain: Grain,
  frame: number,
  colour: PlateColour,
): void {
  const box = boxWithin(around, 0, out);
  if (!box) return;
  const width = box.right - box.left;
  const part = new Float32Array(width * (box.bottom - box.top));
  for (let row = box.top; row < box.bottom; row++)
    part.set(shown.subarray(row * out.width + box.left, row * out.width + box.right), (row - box.top) * width);
  layGrain(out, part, box, grain, frame, colour);
}

/** All that the areas of cast light reach on a frame. */
function castBox(cast: CastLight, scene: FrontScene, size: PictureSize): PixelBox {
  const points = cast.areas.flatMap(({ shape }) => {
    const outline = shapeOutline(shape, scene);
    return outline ? outline.points.map((p, i) => ({ p, out: outline.outer[i]! })) : [];
  });
  const none = { left: 0, top: 0, right: 0, bottom: 0 };
  return points.length === 0
    ? none
    : (boxWithin(bounds(points.map(({ p }) => p)), Math.max(...points.map(({ out }) => out)) + 2, size) ?? none);
}

function addLayerMatte(
  { layer, box }: InsertLayer,
  opacity: number,
  matte: Float32Array,
  width: number,
  height: number,
): void {
  for (let row = Math.max(0, box.top); row < Math.min(height, box.bottom); row++) {
    for (let col = Math.max(0, box.left); col < Math.min(width, box.right); col++) {
      const alpha = opacity * layer.data[((row - box.top) * layer.width + col - box.left) * 4 + 3]!;
      const at = row * width + col;
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
