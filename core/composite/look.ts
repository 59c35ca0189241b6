import { bowed, flatMesh, type PatchMesh } from '../geometry/patch-mesh.ts';
import type { Point } from '../geometry/homography.ts';
import type { Fit, Place } from '../content/place.ts';
import type { ContentTime } from '../content/content-time.ts';
import { around, numberAt, type Key, type Keyed } from '../content/keyed.ts';
import type { ColourKey, DifferenceMatte, EdgeColours, FrontShape, Look, ScreenMarkers, SpillSettings, SurfaceMesh } from '../schemas/types.ts';

/** A look with every value present. */
export interface ResolvedLook {
  fit: Fit;
  place: Place;
  time: ContentTime;
  mesh: SurfaceMesh | null;
  depth: Keyed<number>;
  levels: { black: number; white: number; gamma: number };
  soften: number;
  feather: [number, number, number, number];
  opacity: number;
  motionBlur: { shutter: number; phase: number };
  front: FrontSettings;
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

export const NEUTRAL_LOOK: ResolvedLook = {
  fit: 'stretch', place: {}, time: {}, mesh: null, depth: 0, levels: { black: 0, white: 1, gamma: 1 }, soften: 0, feather: [0, 0, 0, 0], opacity: 1, motionBlur: { shutter: 0, phase: 0 }, front: NO_FRONT,
};

/** What `measure` in a look stands for: proposals for one plate. */
export interface MeasuredFront {
  readonly keys: readonly ColourKey[];
  readonly markers: ScreenMarkers;
  readonly spill: SpillSettings | null;
}

/** Whether values of a look have to be measured on the plate before it can be resolved. */
export function needsMeasuring({ keys, spill }: Look): boolean {
  return keys === 'measure' || spill === 'measure';
}

/** Fills in what a look leaves out. `measured` must be given where values are to be measured. */
export function resolveLook(look: Look, measured?: MeasuredFront): ResolvedLook {
  if (needsMeasuring(look) && !measured) throw new RangeError('the look asks for measured values, and none were given');
  return {
    fit: look.fit ?? NEUTRAL_LOOK.fit,
    place: (look.place ?? {}),
    time: (look.time ?? {}),
    mesh: look.mesh ?? null,
    depth: look.depth ?? 0,
    levels: { ...NEUTRAL_LOOK.levels, ...look.levels },
    soften: look.soften ?? 0,
    feather: look.feather ?? [0, 0, 0, 0],
    opacity: look.opacity ?? 1,
    motionBlur: { ...NEUTRAL_LOOK.motionBlur, ...look.motionBlur },
    front: {
      keys: (look.keys === 'measure' ? measured!.keys : look.keys ?? []).filter((key) => !key.off),
      markers: look.markers ?? measured?.markers ?? [],
      shapes: (look.shapes ?? []).filter((shape) => !shape.off),
      difference: look.difference?.off ? null : look.difference ?? null,
      spill: look.spill === 'measure' ? measured!.spill : look.spill?.off ? null : look.spill ?? null,
      edge: look.edge ?? {},
    },
  };
}

/** The display-referred value that a content value 0…1 becomes. */
export function applyLevels(levels: ResolvedLook['levels'], value: number): number {
  return levels.black + (levels.white - levels.black) * value ** (1 / levels.gamma);
}

/** The mesh's points on a frame, without its bow. Between keys every point goes straight. */
export function keyedPoints(mesh: SurfaceMesh, frame: number): PatchMesh {
  const flat = flatMesh(mesh.columns, mesh.rows), keys = (mesh.keys ?? []).map(({ points: value, ...key }): Key<readonly Point[]> => ({ ...key, value }));
  if (keys.length === 0) return flat;
  const [from, to, t] = around(keys, frame);
  return { ...flat, points: from.value.map(([x, y], i): Point => [x + (to.value[i]![0] - x) * t, y + (to.value[i]![1] - y) * t]) };
}

/** The bent surface on a frame; null where it is flat. */
export function meshAtFrame(mesh: SurfaceMesh | null, frame: number): PatchMesh | null {
  if (!mesh) return null;
  const points = keyedPoints(mesh, frame), bow = numberAt(mesh.bow ?? 0, frame), bent = bow === 0 ? points : bowed(points, bow), flat = flatMesh(mesh.columns, mesh.rows);
  return bent.points.every(([x, y], i) => Math.abs(x - flat.points[i]![0]) < 1e-9 && Math.abs(y - flat.points[i]![1]) < 1e-9) ? null : bent;
}
