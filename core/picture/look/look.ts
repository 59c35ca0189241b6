import { mapTuple } from '../../base/geometry/map-tuple.ts';
import type { CleanFix } from './clean-fix.ts';
import { bowed, flatMesh, type PatchMesh } from '../../base/geometry/patch-mesh.ts';
import type { Point } from '../../base/geometry/homography.ts';
import type { Fit, Place } from '../content/content-fit.ts';
import type { ContentTime } from '../content/content-time.ts';
import { around, numberAt, numbersAt, type Key, type Keyed } from '../../base/time/keyframes.ts';
import type { BlendMode } from './blend-modes.ts';
import type {
  CastLight,
  ColourKey,
  DifferenceMatte,
  EdgeColours,
  FrontShape,
  Grain,
  Levels,
  Look,
  Reflections,
  ScreenMarkers,
  ScreenTexture,
  ShotDocument,
  SpillSettings,
  SurfaceMesh,
} from '../../base/schemas/types.ts';

type Triple = readonly [number, number, number];
/** Top, right, bottom, left. */
export type Edges = readonly [number, number, number, number];

/** A look with every value present; those that may be keyed still are. */
export interface ResolvedLook {
  readonly fit: Fit;
  readonly place: Place;
  readonly time: ContentTime;
  readonly mesh: SurfaceMesh | null;
  readonly depth: Keyed<number>;
  readonly levels: KeyedLevels;
  /** Stops by which the content's light is more than on the frame that it was matched on. */
  readonly exposure: Keyed<number>;
  /** Times the content's light. */
  readonly gain: Keyed<number>;
  /** Standard deviation of a gaussian, and radius of a disc, px. */
  readonly soften: Keyed<number>;
  readonly disc: Keyed<number>;
  readonly feather: Keyed<Edges>;
  readonly crop: Keyed<Edges>;
  /** Of rounded corners, px of the reference frame. */
  readonly radius: Keyed<number>;
  readonly opacity: Keyed<number>;
  readonly blend: BlendMode;
  readonly blendIn: 'light' | 'display';
  readonly motionBlur: { readonly shutter: Keyed<number>; readonly phase: Keyed<number> };
  readonly oldScreen: 'keep' | 'edges';
  readonly grain: Grain | null;
  readonly reflections: Reflections | null;
  readonly texture: ScreenTexture | null;
  readonly cast: CastLight | null;
  readonly front: FrontSettings;
  /** What is painted out of the plate before anything else; null where nothing is. */
  readonly clean: SurfaceCleaning | null;
}

export interface KeyedLevels {
  readonly black: Keyed<number>;
  readonly white: Keyed<number>;
  readonly gamma: Keyed<number>;
  readonly saturation: Keyed<number>;
  /** Degrees. */
  readonly hue: Keyed<number>;
  /** Times red, green and blue in light. */
  readonly tint: Triple;
  /** Added to the display-referred black of red, green and blue. */
  readonly blackTint: Triple;
}

/** Levels on one frame. */
export interface LevelsNow extends KeyedLevels {
  readonly black: number;
  readonly white: number;
  readonly gamma: number;
  readonly saturation: number;
  readonly hue: number;
}

/** What of a look can be keyed, on one frame. */
export interface LookNow {
  readonly levels: LevelsNow;
  /** Times the content's light: gain and exposure together. */
  readonly light: number;
  readonly soften: number;
  readonly disc: number;
  readonly feather: Edges;
  readonly crop: Edges;
  readonly radius: number;
  readonly opacity: number;
  readonly motionBlur: { readonly shutter: number; readonly phase: number };
}

/** What tells where something stands before the screen. */
export interface FrontSettings {
  keys: readonly ColourKey[];
  markers: ScreenMarkers;
  shapes: readonly FrontShape[];
  difference: DifferenceMatte | null;
  spill: SpillSettings | null;
  edge: EdgeColours;
}

export const NO_FRONT: FrontSettings = { keys: [], markers: [], shapes: [], difference: null, spill: null, edge: {} };

export const NEUTRAL_LEVELS: LevelsNow = {
  black: 0,
  white: 1,
  gamma: 1,
  saturation: 1,
  hue: 0,
  tint: [1, 1, 1],
  blackTint: [0, 0, 0],
};

export const NEUTRAL_LOOK: ResolvedLook = {
  fit: 'stretch',
  place: {},
  time: {},
  mesh: null,
  depth: 0,
  levels: NEUTRAL_LEVELS,
  exposure: 0,
  gain: 1,
  soften: 0,
  disc: 0,
  feather: [0, 0, 0, 0],
  crop: [0, 0, 0, 0],
  radius: 0,
  opacity: 1,
  blend: 'over',
  blendIn: 'light',
  motionBlur: { shutter: 0, phase: 0 },
  oldScreen: 'keep',
  grain: null,
  reflections: null,
  texture: null,
  cast: null,
  clean: null,
  front: NO_FRONT,
};

/** What `measure` in a look stands for: proposals for one plate. */
/** Fixes of what is painted out, and whether the plate's own grain lies over them. */
export interface SurfaceCleaning {
  readonly fixes: readonly CleanFix[];
  readonly grain?: boolean | undefined;
}

export interface MeasuredFront {
  readonly keys: readonly ColourKey[];
  readonly markers: ScreenMarkers;
  readonly spill: SpillSettings | null;
  /** Marks that were found, where a look asks for them. */
  readonly fixes?: readonly CleanFix[] | undefined;
}

/** Whether values of a look have to be measured on the plate before it can be resolved. */
export function needsMeasuring({ keys, spill, clean }: Look): boolean {
  return keys === 'measure' || spill === 'measure' || clean?.fixes === 'find';
}

/** Fills in what a look leaves out. `measured` must be given where values are to be measured. */
export function resolveLook(look: Look, measured?: MeasuredFront): ResolvedLook {
  if (needsMeasuring(look) && !measured) throw new RangeError('the look asks for measured values, and none were given');
  return {
    fit: look.fit ?? NEUTRAL_LOOK.fit,
    place: look.place ?? {},
    time: look.time ?? {},
    mesh: look.mesh ?? null,
    depth: look.depth ?? 0,
    levels: resolveLevels(look.levels),
    exposure: look.exposure ?? 0,
    gain: look.gain ?? 1,
    soften: look.soften ?? 0,
    disc: look.disc ?? 0,
    feather: look.feather ?? NEUTRAL_LOOK.feather,
    crop: look.crop ?? NEUTRAL_LOOK.crop,
    radius: look.radius ?? 0,
    opacity: look.opacity ?? 1,
    blend: look.blend ?? 'over',
    blendIn: look.blendIn ?? 'light',
    motionBlur: { ...NEUTRAL_LOOK.motionBlur, ...look.motionBlur },
    oldScreen: look.oldScreen ?? 'keep',
    grain: look.grain?.off ? null : (look.grain ?? null),
    reflections: look.reflections?.off ? null : (look.reflections ?? null),
    texture: look.texture ?? null,
    cast: look.cast?.off ? null : (look.cast ?? null),
    clean: look.clean
      ? { ...look.clean, fixes: look.clean.fixes === 'find' ? (measured!.fixes ?? []) : look.clean.fixes }
      : null,
    front: {
      keys: (look.keys === 'measure' ? measured!.keys : (look.keys ?? [])).filter((key) => !key.off),
      markers: look.markers ?? measured?.markers ?? [],
      shapes: (look.shapes ?? []).filter((shape) => !shape.off),
      difference: look.difference?.off ? null : (look.difference ?? null),
      spill: look.spill === 'measure' ? measured!.spill : look.spill?.off ? null : (look.spill ?? null),
      edge: look.edge ?? {},
    },
  };
}

/** A shot's look with the corner radius of its seat, where the look has none of its own. */
export function withCornerRadius({ look, cornerRadius }: Pick<ShotDocument, 'look' | 'cornerRadius'>): Look {
  return look.radius === undefined && cornerRadius !== undefined ? { ...look, radius: cornerRadius } : look;
}

function resolveLevels(levels: Levels | undefined): KeyedLevels {
  return { ...NEUTRAL_LEVELS, ...levels };
}

export function levelsNow(levels: KeyedLevels, frame: number): LevelsNow {
  const { black, white, gamma, saturation, hue } = levels;
  const at = (value: Keyed<number>) => numberAt(value, frame);
  return {
    ...levels,
    black: at(black),
    white: at(white),
    gamma: Math.max(0.01, at(gamma)),
    saturation: Math.max(0, at(saturation)),
    hue: at(hue),
  };
}

/** A look's numbers on a frame. */
export function lookNow(look: ResolvedLook, frame: number): LookNow {
  const at = (value: Keyed<number>) => numberAt(value, frame);
  const positive = (value: Keyed<number>) => Math.max(0, at(value));
  return {
    levels: levelsNow(look.levels, frame),
    light: positive(look.gain) * 2 ** at(look.exposure),
    soften: positive(look.soften),
    disc: positive(look.disc),
    feather: mapTuple(numbersAt(look.feather, frame), (f) => Math.max(0, f)),
    crop: numbersAt(look.crop, frame),
    radius: positive(look.radius),
    opacity: Math.min(1, positive(look.opacity)),
    motionBlur: { shutter: positive(look.motionBlur.shutter), phase: at(look.motionBlur.phase) },
  };
}

/** The display-referred value that a content value 0…1 becomes. */
export function applyLevels(levels: Pick<LevelsNow, 'black' | 'white' | 'gamma'>, value: number): number {
  return levels.black + (levels.white - levels.black) * value ** (1 / levels.gamma);
}

/** The mesh's points on a frame, without its bow. Between keys every point goes straight. */
export function keyedPoints(mesh: SurfaceMesh, frame: number): PatchMesh {
  const flat = flatMesh(mesh.columns, mesh.rows);
  const keys = (mesh.keys ?? []).map(({ points: value, ...key }): Key<readonly Point[]> => ({ ...key, value }));
  if (keys.length === 0) return flat;
  const [from, to, t] = around(keys, frame);
  return {
    ...flat,
    points: from.value.map(([x, y], i): Point => [x + (to.value[i]![0] - x) * t, y + (to.value[i]![1] - y) * t]),
  };
}

/** The bent surface on a frame; null where it is flat. */
export function meshAtFrame(mesh: SurfaceMesh | null, frame: number): PatchMesh | null {
  if (!mesh) return null;
  const points = keyedPoints(mesh, frame);
  const bow = numberAt(mesh.bow ?? 0, frame);
  const bent = bow === 0 ? points : bowed(points, bow);
  const flat = flatMesh(mesh.columns, mesh.rows);
  return bent.points.every(
    ([x, y], i) => Math.abs(x - flat.points[i]![0]) < 1e-9 && Math.abs(y - flat.points[i]![1]) < 1e-9,
  )
    ? null
    : bent;
}
