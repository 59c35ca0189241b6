import { resolveLook, withCornerRadius } from '../../picture/look/look.ts';
import { asksFrames, fixesOn } from '../../picture/look/clean-fix.ts';
import { framesToMeasure } from '../../picture/matte/frames-to-measure.ts';
import { cleanFrames, cleanNeeds, type CleanKind } from '../../picture/measure/clean-needs.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import type { Look, PlannedMedium, PlannedSurface, RenderLayer, RenderPlan } from '../../base/schemas/types.ts';
import { keyedNear } from './keyed-near.ts';

/**
 * Raise it when the same plan comes to other pictures: frames made before are out of date then, while versions go on showing what they were.
 * 2: ends that are smeared, and borders told by luma, are held more exactly.
 */
export const MAKING = 2;

/** What parts of a frame are called, for telling why it is out of date. */
const PART_WORDS: Readonly<Record<string, string>> = {
  making: 'how frames are made',
  plate: 'the plate',
  corners: 'the corners',
  measured: 'what is measured on other frames',
  content: 'the content',
  board: 'the board',
  others: 'another surface',
  card: 'the test card',
  fit: 'the fit',
  place: 'the placement',
  time: 'the content’s time',
  mesh: 'the bend',
  depth: 'the depth',
  levels: 'levels',
  soften: 'softness',
  disc: 'defocus',
  feather: 'the feather',
  crop: 'the crop',
  radius: 'the corner radius',
  opacity: 'opacity',
  blend: 'the mixing',
  blendIn: 'the mixing',
  motionBlur: 'motion blur',
  exposure: 'exposure',
  gain: 'gain',
  oldScreen: 'the old screen’s light',
  grain: 'grain',
  reflections: 'reflections',
  clean: 'what is painted out',
  texture: 'the screen’s texture',
  cast: 'cast light',
  keys: 'the key',
  markers: 'markers',
  shapes: 'shapes in front',
  difference: 'the difference matte',
  spill: 'spill',
  edge: 'edge colours',
};

/** Parts that only change the light of the picture, not what it covers. */
const LIGHT_ONLY: readonly string[] = [
  'levels',
  'exposure',
  'gain',
  'grain',
  'reflections',
  'cast',
  'spill',
  'edge',
  'blend',
  'blendIn',
  'oldScreen',
];
/** Of a look, what tells what stands in front of the surface, and how it was filmed. */
const FILMED: readonly string[] = [
  'plate',
  'corners',
  'measured',
  'mesh',
  'motionBlur',
  'exposure',
  'keys',
  'markers',
  'shapes',
  'difference',
  'feather',
  'radius',
  'clean',
];

/** Whether a layer depends on a part. */
function matters(layer: RenderLayer, part: string): boolean {
  if (part === 'making' || part === 'frame') return true;
  switch (layer) {
    case 'matte':
      return !LIGHT_ONLY.includes(part);
    case 'flat':
      return part === 'plate' || part === 'corners';
    case 'clean':
      return FILMED.includes(part);
    case 'card':
      return part !== 'content' && part !== 'board' && part !== 'time' && part !== 'place' && part !== 'fit';
    default:
      return part !== 'card';
  }
}

/** All that a frame's picture depends on, by parts that a person knows. Values are plain data; equal ones mean equal pictures. */
export type FrameParts = ReadonlyMap<string, unknown>;

/** Tells the parts of any frame of a plan. Making one looks through all corners once. */
export function framePartsOf(plan: RenderPlan): (frame: number, layer: RenderLayer) => FrameParts {
  const surfaces = plan.surfaces.map((surface) => surfaceParts(surface, plan));
  const own = plan.surfaces.findIndex((surface) => surface.own);
  const plate = mediumParts(plan.plate);
  return (frame, layer) => {
    const parts = new Map<string, unknown>([['making', plan.making ?? 1], ['plate', plate], ...surfaces[own]!(frame)]);
    const others = surfaces.flatMap((of, i) => (i === own ? [] : [[i < own, plan.surfaces[i]!.border, ...of(frame)]]));
    if (others.length > 0) parts.set('others', others);
    return new Map([...parts].filter(([part]) => matters(layer, part)));
  };
}

const mediumParts = ({ store, kind, frames, facts }: PlannedMedium): unknown => [
  store,
  kind,
  frames,
  facts.rate,
  facts.colour,
];

function surfaceParts(
  { document, corners: planned, border }: PlannedSurface,
  { media }: RenderPlan,
): (frame: number) => [string, unknown][] {
  const corners = new Map(planned.map((row) => [row.frame, row.corners]));
  const look = withCornerRadius(document);
  const { why: _why, proportions, board, ...values } = look;
  const shape = [
    document.corners,
    document.referenceFrame,
    proportions ?? document.proportions,
    document.focal,
    border,
    ...(document.lens ? [document.lens] : []),
  ];
  const all = isDeep(look) ? planned : null;
  const measured = measuredOn(look, corners, document.referenceFrame);
  const shown = board
    ? board.layers.flatMap((layer) => (typeof layer.media === 'number' ? [layer.media] : []))
    : [document.contentId];
  const content = media.filter((medium) => shown.includes(medium.id)).map(mediumParts);
  const card = [document.card ?? 'checks', document.cardClear ?? false];
  return (frame) => [
    ['corners', [shape, all, aboutFrame(corners, frame)]],
    ['content', content],
    ['card', card],
    ...(board ? [['board', [frame, board]] as [string, unknown]] : []),
    ...(measured ? [['measured', measured] as [string, unknown]] : []),
    ...Object.entries(values).map(([name, value]): [string, unknown] => [
      name,
      name === 'time' ? value : keyedNear(name === 'clean' ? fixesNow(values.clean, frame) : value, frame),
    ]),
    ['frame', frame],
  ];
}

/** What is painted out of a frame. */
const fixesNow = (clean: Look['clean'], frame: number) =>
  clean && clean.fixes !== 'find' ? { ...clean, fixes: fixesOn(clean.fixes, frame) } : clean;

/** Whether where the camera was matters, which all corners tell together. */
export const isDeep = (look: Look): boolean =>
  (look.depth !== undefined && look.depth !== 0) ||
  look.texture?.falloff !== undefined ||
  look.reflections?.rides === 'mirror' ||
  look.board?.layers.some((layer) => layer.depth) === true;

/** As many frames to either side as a surface's motion is determined from: see core/picture/pin/shutter-path.ts. */
const ASIDE = 5;

function aboutFrame(corners: ReadonlyMap<number, Quad>, frame: number): unknown {
  return Array.from({ length: 2 * ASIDE + 1 }, (_, i) => corners.get(frame - ASIDE + i) ?? null);
}

/** What is measured on other frames, where a look asks for that: their corners, and what of the look is used there. */
function measuredOn(look: Look, corners: ReadonlyMap<number, Quad>, referenceFrame: number): unknown {
  const resolved = resolveLook(look);
  const kind = cleanNeeds(resolved);
  const known = [...corners.keys()].sort((a, b) => a - b);
  const others = asksFrames(resolved.clean?.fixes ?? []);
  if (known.length === 0 || !(kind || resolved.front.difference || others)) return null;
  const frames =
    kind && !others
      ? cleanOn(kind, corners, referenceFrame)
      : [
          ...(kind ? cleanOn(kind, corners, referenceFrame) : []),
          ...framesToMeasure(known, (frame) => corners.get(frame)),
        ];
  return [frames.map((frame) => [frame, corners.get(frame)]), look.exposure, look.soften, look.disc];
}

/** The frames on which a clean surface is looked for. */
export function cleanOn(kind: CleanKind, corners: ReadonlyMap<number, Quad>, referenceFrame: number): number[] {
  const known = [...corners.keys()].sort((a, b) => a - b);
  return cleanFrames(kind, known, corners.has(referenceFrame) ? referenceFrame : known[0]!);
}

/** What changed between two states of a frame, in words. `before` and `now` name each part's state. */
export function changedParts(before: Readonly<Record<string, string>>, now: Readonly<Record<string, string>>): string {
  const names = [...new Set([...Object.keys(before), ...Object.keys(now)])].filter(
    (name) => before[name] !== now[name],
  );
  return [...new Set(names.map((name) => PART_WORDS[name] ?? name))].join(', ');
}
