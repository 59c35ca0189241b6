import { needsMeasuring, resolveLook, type MeasuredFront, type ResolvedLook } from '../core/picture/look/look.ts';
import { surfaceFocal } from '../core/picture/pin/surface-camera.ts';
import { lensFromFile } from '../core/handoff/exchange/lens-file.ts';
import { checkLens } from '../core/motion/lens/check-lens.ts';
import type { Lens } from '../core/motion/lens/lens.ts';
import { lensAsked } from './lens.ts';
import { asksFrames } from '../core/picture/look/clean-fix.ts';
import { usualSurface } from '../core/picture/clean/usual-surface.ts';
import type { UsualSurface } from '../core/picture/pin/surface-frames.ts';
import { foundFixes } from '../core/picture/clean/find-fixes.ts';
import { LumaFile } from './luma-file.ts';
import { cornersByFrame } from '../core/handoff/exchange/track-file.ts';
import { sideRatio, type Quad } from '../core/base/geometry/quad.ts';
import { differenceOf, type Difference } from '../core/picture/matte/difference-matte.ts';
import { framesToMeasure } from '../core/picture/matte/frames-to-measure.ts';
import { measureFront, type FrontFrame } from '../core/picture/matte/measure-front.ts';
import { cleanFrames, cleanNeeds, cleanSurface } from '../core/picture/measure/clean-needs.ts';
import type { CleanSurface } from '../core/picture/pin/clean-surface.ts';
import type { Look, TrackFile } from '../core/base/schemas/types.ts';
import { framesNumbered } from './frames-numbered.ts';
import { note } from './options.ts';
import type { Plate } from './plate.ts';

export interface TrackedSurface {
  readonly corners: ReadonlyMap<number, Quad>;
  readonly reference: Quad | null;
  readonly referenceFrame: number;
  readonly ratio: number;
  readonly focal: number | undefined;
  readonly look: ResolvedLook;
  readonly difference: Difference | null;
  readonly clean: CleanSurface | null;
  readonly usual: UsualSurface | undefined;
  readonly lens: Lens | undefined;
}

/** What is the same on all frames, with what the look asks to be measured on the plate. */
export async function trackedSurface(plate: Plate, track: TrackFile, look: Look): Promise<TrackedSurface> {
  const corners = cornersByFrame(track);
  const lens = await lensOfLook(plate, track, look);
  const reference = corners.get(track.referenceFrame) ?? [...corners.values()][0] ?? null;
  const { facts } = plate;
  const ratio = look.proportions ? look.proportions[0] / look.proportions[1] : reference ? sideRatio(reference) : 1;
  const measures = needsMeasuring(look);
  const asks =
    measures ||
    (look.clean && look.clean.fixes !== 'find' && asksFrames(look.clean.fixes)) ||
    (look.difference && !look.difference.off);
  const frames = asks ? (await framesOf(plate, corners)).map((frame) => ({ ...frame, lens })) : [];
  let measured: MeasuredFront | undefined;
  if (measures) {
    const asksFront = look.keys === 'measure' || look.spill === 'measure';
    const finds = look.clean?.fixes === 'find';
    measured = {
      ...(asksFront ? measureFront(frames, ratio, facts.colour) : { keys: [], markers: [], spill: null }),
      ...(finds ? { fixes: foundFixes(frames, ratio, facts.colour) } : {}),
    };
    if (finds)
      note(
        measured.fixes!.length === 0
          ? 'no marks were found on the surface: nothing is painted out'
          : `marks found on the surface: ${measured.fixes!.length}`,
      );
    if (asksFront && measured.keys.length === 0)
      note('the screen shows no colour to key by: no key and no spill are used');
    else if (asksFront) note(`measured: ${JSON.stringify(measured)}`);
  }
  const resolved = resolveLook(look, measured);
  const deep = look.depth !== undefined || look.board?.layers.some((layer) => layer.depth);
  const kind = cleanNeeds(resolved);
  const known = [...corners.keys()].sort((a, b) => a - b);
  const home = corners.has(track.referenceFrame) ? track.referenceFrame : known[0]!;
  const clean =
    kind && known.length > 0
      ? cleanSurface(
          kind,
          (await framesNumbered(plate, corners, cleanFrames(kind, known, home))).map((frame) => ({ ...frame, lens })),
          resolved,
          ratio,
          facts.colour,
        )
      : null;
  return {
    corners,
    reference,
    referenceFrame: track.referenceFrame,
    ratio,
    look: resolved,
    focal: deep ? surfaceFocal([...corners.values()], facts, ratio) : undefined,
    difference:
      !kind && resolved.front.difference && frames.length > 0 ? differenceOf(frames, ratio, facts.colour) : null,
    clean,
    usual: asksFrames(resolved.clean?.fixes ?? []) ? (usualSurface(frames, ratio) ?? undefined) : undefined,
    lens,
  };
}

/** The plate's lens: the look's where it names one, else the track's. */
async function lensOfLook(plate: Plate, track: TrackFile, look: Look): Promise<Lens | undefined> {
  const known = lensFromFile(track.lens, track.pixelCentre);
  if (look.lens === undefined || (look.lens === 'estimate' && known)) return known;
  if (look.lens !== 'estimate') {
    checkLens(look.lens, plate.facts.width, plate.facts.height, 'the look');
    return lensFromFile(look.lens, 'half');
  }
  const luma = await LumaFile.decode(plate.source, plate.facts);
  try {
    return await lensAsked('estimate', 'half', luma, 'the look', plate.facts);
  } finally {
    luma.close();
  }
}

/** Some frames of the plate spread over those with corners. */
function framesOf(plate: Plate, corners: ReadonlyMap<number, Quad>): Promise<FrontFrame[]> {
  return framesNumbered(
    plate,
    corners,
    framesToMeasure(
      [...corners.keys()].sort((a, b) => a - b),
      (frame) => corners.get(frame),
    ),
  );
}
