import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoints, keepsInFront } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import type { CornerPoint, PointRow, PulledRow, RowBounds, ShotDocument, TrackRow } from '../../base/schemas/types.ts';
import { cornerBound, unpackCertainty } from '../follow/certainty.ts';
import { INTERPOLATED, keyedBound, KeyedMotion, PULLED, SAID_OF, type HandKey } from '../keys/hand-keys.ts';
import type { PointFit } from '../points/point-plan.ts';
import { motionOfPoints, pointsFrom } from '../points/points-track.ts';

/** What is said of a frame by the source of its span. */
type Said = Pick<TrackRow, 'confidence' | 'error' | 'blur' | 'note' | 'lost'> & {
  readonly certainty?: TrackRow['certainty'];
  readonly bounds?: RowBounds | undefined;
};

export interface Source {
  readonly quadAt: (frame: number) => Quad | null;
  /** First and last frame that it can be asked about outside its span; null for any. */
  readonly reach?: readonly [number, number] | null;
  readonly said: (frame: number) => Said;
}

export const NOTHING: Said = { confidence: 0, error: null, blur: 0, note: null, lost: 'its source says nothing of it' };

/** The bounds that a followed row's covariance states, for where it is left out. */
export function boundsOf(source: Source, frame: number, corners: Quad): RowBounds | undefined {
  const packed = source.said(frame).certainty;
  const certainty = packed && unpackCertainty(packed);
  const quad = source.quadAt(frame);
  const map = quad && homographyBetweenQuads(corners, quad);
  return certainty && map ? (corners.map((c) => cornerBound(certainty, map, c)) as RowBounds) : undefined;
}

export function rowsSource(rows: readonly TrackRow[], corners: Quad): Source {
  const byFrame = new Map(rows.map((r) => [r.frame, r]));
  return {
    quadAt: (frame) => {
      const map = byFrame.get(frame)?.homography;
      return map && keepsInFront(map, corners) ? applyToPoints(map, corners) : null;
    },
    said: (frame) => {
      const row = byFrame.get(frame);
      return row
        ? {
            confidence: row.confidence,
            error: row.error,
            blur: row.blur,
            note: row.note,
            lost: row.lost,
            certainty: row.certainty,
            bounds: row.bounds,
          }
        : { ...NOTHING, lost: 'it has not been followed' };
    },
  };
}

export function pointsSource(document: ShotDocument, rows: readonly PointRow[], corners: Quad): Source {
  const settings = pointsFrom(document.cornerPoints ?? [], 0);
  const frames = framesOfPoints(document.cornerPoints ?? [], rows, document.referenceFrame);
  const found = new Map<number, ReturnType<typeof motionOfPoints>>();
  const at = (frame: number) => {
    if (!found.has(frame))
      found.set(
        frame,
        motionOfPoints(settings, {
          frame,
          points: settings.map((p) => frames.get(frame)?.get(p.name)?.fit ?? null),
          why: settings.map((p) => frames.get(frame)?.get(p.name)?.why ?? null),
        }),
      );
    return found.get(frame)!;
  };
  return {
    quadAt: (frame) => {
      const map = at(frame).homography;
      return map && keepsInFront(map, corners) ? applyToPoints(map, corners) : null;
    },
    said: (frame) => {
      const { confidence, error, bounds, note, lost } = at(frame);
      const widest = bounds && Math.max(...bounds);
      return {
        confidence,
        error,
        blur: 0,
        note: note ?? null,
        lost: lost ?? null,
        bounds: widest === null ? undefined : [widest, widest, widest, widest],
      };
    },
  };
}

/** What is known of each point on each frame: what was followed, but for holes, and what was put by hand. */
export function framesOfPoints(
  points: readonly CornerPoint[],
  rows: readonly PointRow[],
  referenceFrame: number,
): Map<number, Map<string, { fit: PointFit | null; why: string | null }>> {
  const frames = new Map<number, Map<string, { fit: PointFit | null; why: string | null }>>();
  const byName = new Map(points.map((p) => [p.name, p]));
  const set = (frame: number, name: string, fit: PointFit | null, why: string | null) => {
    let row = frames.get(frame);
    if (!row) {
      row = new Map<string, { fit: PointFit | null; why: string | null }>();
      frames.set(frame, row);
    }
    row.set(name, { fit, why });
  };
  for (const { name, frame, at, how, score, bound, light, note } of rows) {
    if (byName.get(name)?.holes?.some(([a, b]) => frame >= a && frame <= b)) continue;
    set(
      frame,
      name,
      at && how !== 'lost' ? { at, how, score, bound, light, ...(note === null ? {} : { note }) } : null,
      how === 'lost' ? note : null,
    );
  }
  for (const point of points) {
    set(referenceFrame, point.name, { at: point.at, how: 'reference', score: 1, bound: 0, light: false }, null);
    for (const key of point.keys ?? [])
      set(key.frame, point.name, { at: key.at, how: 'hand', score: 1, bound: 0.5, light: false }, null);
  }
  return frames;
}

/** Keyed corners, with what was pulled between them; on the reference frame the document's own corners count as a key. */
export function keyedSource(
  document: ShotDocument,
  { pulled }: MotionSources,
  width: number,
  height: number,
): { source: Source; why: string | null } {
  const keys: HandKey[] = (document.handKeys ?? []).map((k) => ({ frame: k.frame, corners: k.corners }));
  if (keys.length === 0)
    return {
      source: { quadAt: () => null, said: () => ({ ...NOTHING, lost: 'no corners are keyed by hand' }) },
      why: null,
    };
  const own = new Set(keys.map((k) => k.frame));
  const held = new Map(pulled.filter((p) => !own.has(p.frame)).map((p) => [p.frame, p]));
  if (document.corners && !own.has(document.referenceFrame))
    keys.push({ frame: document.referenceFrame, corners: document.corners });
  const motion = new KeyedMotion(
    keys,
    width,
    height,
    { focal: document.focal },
    [...held.values()].map((p) => ({ frame: p.frame, corners: p.corners })),
  );
  return {
    why: motion.why,
    source: {
      // Beyond what was keyed by hand nobody has said anything: a fade must not lead to corners that merely stand still.
      reach: [Math.min(...own), Math.max(...own)],
      quadAt: (frame) => held.get(frame)?.corners ?? motion.at(frame).corners,
      said: (frame) => {
        const there = held.get(frame);
        const { how } = motion.at(frame);
        if (there)
          return { confidence: there.confidence, error: null, blur: 0, note: PULLED, lost: null, bounds: there.bounds };
        const away = Math.min(
          ...keys.map((k) => Math.abs(k.frame - frame)),
          ...[...held.keys()].map((f) => Math.abs(f - frame)),
        );
        const off = how === 'key' ? keyedBound() : keyedBound(away, motion.guessed(frame));
        return {
          confidence: how === 'key' ? 1 : INTERPOLATED,
          error: null,
          blur: 0,
          note: SAID_OF[how],
          lost: null,
          bounds: [off, off, off, off],
        };
      },
    },
  };
}

/** All that a shot's motion may be made from. */
export interface MotionSources {
  /** What was followed by regions, by frame. */
  readonly plane: readonly TrackRow[];
  readonly points: readonly PointRow[];
  readonly pulled: readonly PulledRow[];
  /** The plane of the solved scene, by frame. */
  readonly scene?: readonly TrackRow[];
  /** Other shots' rows, led to this one's reference frame. */
  readonly shots: ReadonlyMap<number, readonly TrackRow[]>;
}
