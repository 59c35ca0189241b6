import type { Job, Media, Shot, ShotDocument, TrackRow } from '../../../core/schemas/types.ts';
import { decimalRate } from '../../../core/exchange/rate.ts';
import { median } from '../../../core/image/statistics.ts';
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
  runKey: string;
  track: readonly TrackRow[];
  content: Media | null;
  renderedFrames: number;
  renderJob: Job | null;
}

/** Frames under this certainty want a look. */
export const DOUBTFUL_BELOW = 0.3;

export function readings(input: ReadingInput): Record<StepName, Reading> {
  return { plate: plate(input), follow: follow(input), seat: seat(input), content: content(input), blend: blend(input), send: send(input) };
}

function plate({ shot }: ReadingInput): Reading {
  const { plate: medium } = shot;
  if (!medium) return { lines: ['no clip', 'yet'], state: 'empty' };
  if (medium.state === 'failed') return { lines: ['could not', 'be read'], state: 'look' };
  if (!medium.facts) return { lines: ['coming', 'in'], state: 'part' };
  const { frames, rate, width, height } = medium.facts;
  return { lines: [`${frames} f · ${decimalRate(rate)}`, `${width}×${height}`], state: 'done' };
}

function follow({ shot, track, document, runKey }: ReadingInput): Reading {
  const frames = shot.plate?.facts?.frames ?? 0;
  if (document.regions.length === 0) return { lines: ['no region', 'yet'], state: 'empty' };
  const held = track.filter((row) => row.homography);
  if (held.length === 0) return { lines: ['region', 'drawn'], state: 'part' };
  const error = median(held.map((row) => row.error ?? 0));
  const doubtful = track.some((row) => !row.homography || row.confidence < DOUBTFUL_BELOW);
  const outdated = track.some((row) => row.runKey !== runKey);
  return {
    lines: [`${held.length} of ${frames}`, outdated ? 'out of date' : `${error.toFixed(2)} px`],
    state: outdated || doubtful ? 'look' : held.length >= frames ? 'done' : 'part',
  };
}

function seat({ document }: ReadingInput): Reading {
  return document.corners ? { lines: ['4 corners', `on frame ${document.referenceFrame}`], state: 'done' } : { lines: ['no corners', 'yet'], state: 'empty' };
}

function content({ document, content: medium }: ReadingInput): Reading {
  if (document.contentId === null) return { lines: ['empty', ''], state: 'empty' };
  return { lines: [shorten(medium?.name ?? '…', 13), document.look.fit ?? 'stretch'], state: 'done' };
}

function blend({ document: { look } }: ReadingInput): Reading {
  const parts = [
    look.levels && 'levels', look.soften ? `soft ${look.soften}` : null, look.motionBlur?.shutter ? `blur ${look.motionBlur.shutter}°` : null,
    look.feather?.some((f) => f > 0) ? 'feather' : null, look.opacity !== undefined && look.opacity < 1 ? `${Math.round(100 * look.opacity)} %` : null,
  ].filter((part) => part !== null && part !== undefined);
  if (parts.length === 0) return { lines: ['not set', ''], state: 'empty' };
  return { lines: [parts.slice(0, 2).join(' · '), parts.slice(2, 4).join(' · ')], state: 'done' };
}

function send({ renderedFrames, renderJob }: ReadingInput): Reading {
  if (!renderJob) return { lines: ['nothing', 'sent'], state: 'empty' };
  const total = renderJob.total;
  return { lines: [`${renderedFrames} / ${total}`, renderJob.state === 'done' ? 'rendered' : renderJob.state], state: renderJob.state === 'done' ? 'done' : 'part' };
}

export function shorten(text: string, length: number): string {
  return text.length <= length ? text : `${text.slice(0, length - 1)}…`;
}
