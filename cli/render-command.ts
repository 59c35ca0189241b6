import { basename, extname } from 'node:path';
import { composeFrame } from '../core/composite/compose-frame.ts';
import { buildContentPyramid, type ContentPyramid } from '../core/composite/content-pyramid.ts';
import { resolveLook, type ResolvedLook } from '../core/composite/look.ts';
import { cornersByFrame } from '../core/exchange/track-file.ts';
import { sideRatio } from '../core/geometry/quad.ts';
import { peakOf, pictureFromRaw } from '../core/image/raw-frame.ts';
import { Problem } from '../core/problem/problem.ts';
import type { TrackFile } from '../core/schemas/types.ts';
import { decodeFrames } from '../server/media/decode.ts';
import { openFilm, openPictures, type FrameSink } from '../server/media/encode.ts';
import type { MediaFacts } from '../server/media/facts.ts';
import { openContent, type ContentFrames } from './content-frames.ts';
import { openPlate, PLATE_OPTIONS, type Plate } from './plate.ts';
import { checkWritable, note, progress, readJson, readOptions, readRange } from './options.ts';

/** `yarlop render`: content on a tracked surface, over the plate. */
export async function renderCommand(args: string[]): Promise<void> {
  const options = readOptions(args, ['plate', 'track', 'content', 'out'], ['look', 'frames', ...PLATE_OPTIONS]);
  const track = readJson('track', options.track);
  const look = resolveLook(options.look === undefined ? {} : readJson('look', options.look));
  checkOutput(options.out);
  const plate = await openPlate(options.plate, options);
  try {
    const { facts } = plate;
    [...facts.assumed, ...facts.notes].forEach(note);
    if (track.width !== facts.width || track.height !== facts.height) {
      throw new Problem('size-mismatch', { trackSize: `${track.width}×${track.height}`, plateSize: `${facts.width}×${facts.height}` });
    }
    const range = readRange(options.frames, facts.frames || Infinity);
    const content = await openContent(options.content, facts.rate);
    const sink = openSink(options.out, facts);
    try {
      await renderSpan(plate, track, look, range, content, sink);
      await sink.finish();
    } catch (error) {
      await sink.abandon();
      throw error;
    } finally {
      await content.close();
    }
  } finally {
    plate.close();
  }
}

async function renderSpan({ source, facts }: Plate, track: TrackFile, look: ResolvedLook, range: readonly [number, number], content: ContentFrames, sink: FrameSink): Promise<void> {
  const corners = cornersByFrame(track);
  const ratio = surfaceRatio(track);
  const empty: number[] = [];
  let pyramid = { key: -1, levels: null as ContentPyramid | null };
  let frame = -1;
  for await (const bytes of decodeFrames(source, facts)) {
    frame++;
    if (frame < range[0]) continue;
    if (frame > range[1]) break;
    const plate = pictureFromRaw(bytes, facts.layout);
    const now = corners.get(frame);
    if (now && look.opacity > 0) {
      const shown = await content.at(frame);
      if (pyramid.key !== shown.key) pyramid = { key: shown.key, levels: buildContentPyramid(shown.picture, look.levels, content.colour) };
      const motion = { before: corners.get(frame - 1) ?? null, now, after: corners.get(frame + 1) ?? null };
      await sink.write(frame, composeFrame(plate, pyramid.levels!, motion, ratio, look, 'final', facts.colour));
    } else {
      if (!now) empty.push(frame);
      await sink.write(frame, plate);
    }
    progress('rendering', frame - range[0] + 1, Math.min(range[1], Math.max(facts.frames - 1, frame)) - range[0] + 1);
  }
  if (empty.length > 0) note(`the plate is left as it is on frames without corners: ${spans(empty)}`);
}

function checkOutput(out: string): void {
  const ending = extname(out).toLowerCase();
  const numbered = /%0?\d*d/.test(basename(out));
  if (numbered ? !['.png', '.exr'].includes(ending) : !['.mkv', '.mp4', '.mov'].includes(ending)) {
    throw new Problem('bad-field', { where: 'the command', field: '--out', why: `is "${out}"; it must end in .mkv, .mp4 or .mov, or be numbered pictures such as out.%04d.png or out.%04d.exr` });
  }
  checkWritable(out);
}

function openSink(out: string, facts: MediaFacts): FrameSink {
  if (/%0?\d*d/.test(basename(out))) return openPictures(out, facts.firstFrameNumber, facts.colour);
  return openFilm(out, { width: facts.width, height: facts.height, peak: peakOf(facts.layout) }, facts);
}

/** The surface's proportions as the reference frame suggests them. */
function surfaceRatio(track: TrackFile): number {
  const reference = track.frames.find((f) => f.frame === track.referenceFrame && f.corners) ?? track.frames.find((f) => f.corners);
  return reference?.corners ? sideRatio(reference.corners) : 1;
}

/** "3–5, 9" */
function spans(frames: number[]): string {
  const out: string[] = [];
  for (let i = 0; i < frames.length; i++) {
    const from = frames[i]!;
    while (i + 1 < frames.length && frames[i + 1] === frames[i]! + 1) i++;
    out.push(from === frames[i] ? `${from}` : `${from}–${frames[i]}`);
  }
  return out.join(', ');
}
