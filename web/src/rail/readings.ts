import { lookNow, resolveLook } from '../../../core/picture/look/look.ts';
import type { RenderSummary, Shot, ShotDocument, TrackRow, TrackSummary } from '../../../core/base/schemas/types.ts';
import { decimalRate } from '../../../core/base/time/frame-rate.ts';
import { mean } from '../../../core/base/image/statistics.ts';
import type { StepName } from './steps.ts';

/** What a step's place on the rail says: two short lines, and how far it is. */
export interface Reading {
  lines: [string, string];
  /** 'empty': nothing yet; 'part': begun; 'done'; 'look': needs a look. */
  state: 'empty' | 'part' | 'done' | 'look';
}

export interface ReadingInput {
  shot: Shot;
  document: ShotDocument;
  track: TrackSummary;
  /** How far off the corners may be, mean over the frames, px; null where the borders were not looked at. */
  seatOff: number | null;
  contentName: string | null;
  render: RenderSummary | null;
  /** Frames that are out of date; not known in the list of shots. */
  stale?: number;
}

/** Frames under this certainty want a look. */
export const DOUBTFUL_BELOW = 0.3;

export function readings(input: ReadingInput): Record<StepName, Reading> {
  return {
    plate: plate(input),
    follow: follow(input),
    seat: seat(input),
    content: content(input),
    front: front(input),
    blend: blend(input),
    send: send(input),
  };
}

function plate({ shot, document }: ReadingInput): Reading {
  const { plate: medium } = shot;
  if (!medium) return { lines: ['no clip', 'yet'], state: 'empty' };
  if (medium.problemCode === 'sequence-gap') return { lines: ['pictures', 'missing'], state: 'look' };
  if (medium.state === 'failed') return { lines: ['could not', 'be read'], state: 'look' };
  if (medium.state === 'cleared') return { lines: ['frames', 'put away'], state: 'look' };
  if (!medium.facts) return { lines: ['coming', 'in'], state: 'part' };
  const { rate, width, height } = medium.facts;
  const { range } = document;
  const frames = range ? range[1] - range[0] + 1 : medium.facts.frames;
  return { lines: [`${frames} f · ${decimalRate(rate)}`, `${width}×${height}`], state: 'done' };
}

function follow({ shot, track, document }: ReadingInput): Reading {
  const range = document.range;
  const all = shot.plate?.facts?.frames ?? 0;
  const frames = range ? Math.min(all, range[1] - range[0] + 1) : all;
  const rides = document.rides !== undefined;
  if (rides && track.held === 0) return { lines: ['rides on', 'nothing'], state: 'look' };
  const room = document.spans?.some((span) => span.source === 'scene') === true;
  if (!rides && !room && document.regions.length === 0) return { lines: ['no region', 'yet'], state: 'empty' };
  if (track.held === 0)
    return room ? { lines: ['moved by', 'the room'], state: 'part' } : { lines: ['region', 'drawn'], state: 'part' };
  const doubtful = track.lost > 0 || track.doubtful > 0;
  const outdated = track.outdated > 0;
  return {
    lines: [
      `${track.held} of ${frames}`,
      outdated ? 'out of date' : rides ? 'riding' : `${(track.error ?? 0).toFixed(2)} px`,
    ],
    state: outdated || doubtful ? 'look' : track.held >= frames ? 'done' : 'part',
  };
}

/** Counts a track's rows, as the server does for a list of shots. */
export function trackSummary(rows: readonly TrackRow[], runKey: string): TrackSummary {
  const held = rows.filter((row) => row.homography);
  return {
    held: held.length,
    lost: rows.length - held.length,
    doubtful: held.filter((row) => row.confidence < DOUBTFUL_BELOW).length,
    outdated: rows.filter((row) => row.runKey !== runKey).length,
    error: held.length > 0 ? mean(held.map((row) => row.error ?? 0)) : null,
  };
}

/** Over this a seat wants a look, unless the person chose a tolerance. */
const SEAT_TOLERANCE = 0.25;

function seat({ document, seatOff }: ReadingInput): Reading {
  if (!document.corners) return { lines: ['no corners', 'yet'], state: 'empty' };
  const fixes = new Set(document.corrections?.map((c) => c.frame)).size;
  const said = [
    document.lock ? 'locked' : null,
    fixes > 0 || seatOff !== null ? `${fixes} ${fixes === 1 ? 'fix' : 'fixes'}` : null,
  ].filter((part) => part !== null);
  return {
    lines: [
      seatOff === null ? '4 corners' : `±${seatOff.toFixed(seatOff < 0.095 ? 2 : 1)} px`,
      said.length > 0 ? said.join(' · ') : `on frame ${document.referenceFrame}`,
    ],
    state: seatOff !== null && seatOff > (document.tolerance ?? SEAT_TOLERANCE) ? 'look' : 'done',
  };
}

function content({ document, contentName }: ReadingInput): Reading {
  const { board } = document.look;
  if (board)
    return {
      lines: ['board', `${board.layers.length} ${board.layers.length === 1 ? 'layer' : 'layers'}`],
      state: 'done',
    };
  if (document.contentId === null) return { lines: ['empty', ''], state: 'empty' };
  return { lines: [shorten(contentName ?? '…', 13), document.look.fit ?? 'stretch'], state: 'done' };
}

function front({ document: { look } }: ReadingInput): Reading {
  const shapes = (look.shapes ?? []).filter((shape) => !shape.off).length;
  const keyed = look.keys === 'measure' || (look.keys?.some((key) => !key.off) ?? false);
  const parts = [
    shapes > 0 ? `${shapes} ${shapes === 1 ? 'shape' : 'shapes'}` : null,
    keyed ? 'key' : null,
    look.difference && !look.difference.off ? 'difference' : null,
    look.spill && (look.spill === 'measure' || !look.spill.off) ? 'spill' : null,
  ].filter((part) => part !== null);
  if (parts.length === 0) return { lines: ['nothing', 'in front'], state: 'empty' };
  return { lines: [parts.slice(0, 2).join(' · '), parts.slice(2).join(' · ')], state: 'done' };
}

function blend({ document: { look, referenceFrame: frame } }: ReadingInput): Reading {
  const now = lookNow(resolveLook({ ...look, keys: [], spill: { off: true } }), frame);
  const soft = Math.hypot(now.soften, now.disc / 2);
  const parts = [
    look.levels && 'levels',
    soft > 0 ? `soft ${Number(soft.toFixed(1))}` : null,
    now.motionBlur.shutter > 0 ? `blur ${Math.round(now.motionBlur.shutter)}°` : null,
    look.grain && !look.grain.off ? 'grain' : null,
    look.reflections && !look.reflections.off ? 'reflections' : null,
    now.feather.some((f) => f > 0) ? 'feather' : null,
    now.opacity < 1 ? `${Math.round(100 * now.opacity)} %` : null,
  ].filter((part) => part !== null && part !== undefined);
  if (parts.length === 0) return { lines: ['not set', ''], state: 'empty' };
  return { lines: [parts.slice(0, 2).join(' · '), parts.slice(2, 4).join(' · ')], state: 'done' };
}

function send({ render, stale = 0 }: ReadingInput): Reading {
  if (!render || (stale === 0 && render.frames === 0 && render.state === 'queued'))
    return { lines: ['nothing', 'sent'], state: 'empty' };
  if (stale > 0 && render.state !== 'running')
    return { lines: [`${render.frames} / ${render.total}`, `${stale} out of date`], state: 'look' };
  return {
    lines: [
      `${render.frames} / ${render.total}`,
      render.state === 'done' || render.state === 'stopped' ? 'rendered' : render.state,
    ],
    state: render.state === 'done' ? 'done' : 'part',
  };
}

export function shorten(text: string, length: number): string {
  return text.length <= length ? text : `${text.slice(0, length - 1)}…`;
}
