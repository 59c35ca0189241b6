import { mapTuple } from '../../base/geometry/map-tuple.ts';
import { keyedReflection } from '../blend/keyed-reflection.ts';
import { oldScreen, takeOldScreenOff } from '../blend/old-screen.ts';
import { frontOfFrame, type FrontMatte, type FrontScene } from '../matte/front-of-frame.ts';
import type { LightRegion } from '../../base/image/light-region.ts';
import { KeptWithPicture, numberOf } from './kept-with-picture.ts';
import type { SpillWork } from './lay-spill.ts';
import type { Laying } from './laying.ts';
import { spillWork } from './spill-work.ts';

/** Pictures with what is kept of them, and surfaces of each. */
const PICTURES = 2;
const SURFACES = 2;
const kept = <V>() => new KeptWithPicture<V>(PICTURES, SURFACES);
const fronts = kept<FrontMatte | null>();
const revealed = kept<Revealed>();
const spills = kept<SpillWork | null>();
const reflections = kept<readonly Float32Array[]>();

/** What stands in front does not depend on the content. */
export function keptFront({ plate, surface, colour }: Laying, scene: FrontScene): FrontMatte | null {
  const settings = surface.look.front;
  const make = () => frontOfFrame(plate, colour, settings, scene);
  // What is found to differ is another on every call.
  if (surface.differs) return make();
  const { differs, ...placed } = scene;
  const told = differs && surface.clean ? [numberOf(surface.clean), settings.difference, surface.look.exposure] : null;
  return fronts.get(
    plate,
    JSON.stringify([colour, settings.keys, settings.markers, settings.shapes, placed, told]),
    make,
  );
}

/** The plate's light without the filmed screen's, and what that mirrors. */
interface Revealed {
  readonly planes: LightRegion['planes'];
  readonly mirrored: LightRegion['planes'] | null;
}

/** As takeOldScreenOff, kept: it does not depend on the content either. `region` is changed. */
export function revealPlate(
  { plate, surface, quality, colour, fresh }: Laying,
  region: LightRegion,
  front: FrontMatte | null,
): Revealed['mirrored'] {
  const { look, motion, frame, clean, lens } = surface;
  const { mesh, motionBlur, soften, disc, radius, exposure } = look;
  const dark = look.reflections?.from === 'dark';
  const make = (): Revealed => {
    const old = oldScreen(surface, plate, quality);
    return {
      mirrored: old && takeOldScreenOff(region, old, dark, front?.front),
      planes: mapTuple(region.planes, (plane) => plane.slice()),
    };
  };
  // Over what lies behind, or where the front is another on every call, nothing is kept.
  if (!fresh || surface.differs) return make().mirrored;
  const key = [
    region.box,
    colour,
    quality,
    motion,
    frame,
    surface.ratio,
    mesh,
    lens,
    motionBlur,
    soften,
    disc,
    radius,
    exposure,
    dark,
    look.reflections?.black,
    clean ? numberOf(clean) : null,
    front ? numberOf(front) : null,
  ];
  const { planes, mirrored } = revealed.get(plate, JSON.stringify(key), make);
  planes.forEach((plane, c) => region.planes[c]!.set(plane));
  return mirrored;
}

/** Where spill is worked on. */
export function keptSpill({ plate, surface }: Laying, scene: FrontScene): SpillWork | null {
  const { spill, keys } = surface.look.front;
  const { differs: _, ...placed } = scene;
  return spill && spills.get(plate, JSON.stringify([spill, keys, placed]), () => spillWork(spill, keys, scene, plate));
}

/** What a keyed screen mirrors. */
export function keptReflection({ plate, surface }: Laying, front: FrontMatte): readonly Float32Array[] {
  const { look } = surface;
  const black = look.reflections?.black ?? look.front.keys[0]!.colour;
  return reflections.get(plate, JSON.stringify([numberOf(front), black]), () => keyedReflection(front, black));
}
