import { basename, extname, resolve } from 'node:path';
import { boardScale, FINE } from '../core/board/board-scale.ts';
import { checkLook } from '../core/composite/check-look.ts';
import { composeWithMatte } from '../core/composite/compose-frame.ts';
import { needsMeasuring, resolveLook, type MeasuredFront, type ResolvedLook } from '../core/composite/look.ts';
import type { PinnedContent, PinnedSurface } from '../core/composite/pinned-surface.ts';
import { motionAbout } from '../core/composite/shutter-path.ts';
import { ShownContent } from '../core/composite/shown-content.ts';
import { surfaceFocal } from '../core/composite/surface-camera.ts';
import { cornersByFrame } from '../core/exchange/track-file.ts';
import { sideRatio, type Quad } from '../core/geometry/quad.ts';
import { peakOf, pictureFromRaw } from '../core/image/raw-frame.ts';
import { differenceOf, type Difference } from '../core/matte/difference-matte.ts';
import { framesToMeasure } from '../core/matte/frames-to-measure.ts';
import { measureFront, type FrontFrame } from '../core/matte/measure-front.ts';
import { cleanFrames, cleanNeeds, cleanSurface } from '../core/measure/clean-needs.ts';
import type { CleanSurface } from '../core/blend/clean-surface.ts';
import { Problem } from '../core/problem/problem.ts';
import type { Look, TrackFile } from '../core/schemas/types.ts';
import { decodeFrames } from '../server/media/decode.ts';
import { openFilm, openMatteFilm, openPictures, type FrameSink, type MatteSink } from '../server/media/encode.ts';
import type { MediaFacts } from '../server/media/facts.ts';
import { BoardContent } from './board-content.ts';
import { openContent, type ContentFrames } from './content-frames.ts';
import { framesNumbered } from './frames-numbered.ts';
import { checkWritable, note, progress, readJson, readOptions, readRange } from './options.ts';
import { openPlate, PLATE_OPTIONS, type Plate } from './plate.ts';

/** `yarlop render`: content, or a board, on a tracked surface, behind what stands before it, over the plate. */
export async function renderCommand(args: string[]): Promise<void> {
  const options = readOptions(args, ['plate', 'track', 'out'], ['content', 'look', 'board', 'matte', 'frames', ...PLATE_OPTIONS]);
  const track = readJson('track', options.track), look: Look = options.look === undefined ? {} : readJson('look', options.look);
  if (options.board !== undefined) look.board = readJson('board', options.board);
  checkLook(look, options.board !== undefined && options.look === undefined ? options.board : options.look ?? 'the look');
  if (!look.board && options.content === undefined) throw new Problem('unknown-option', { why: '--content is missing (or a board, by --board or in the look)' });
  if (look.board && options.content !== undefined) note('the board is shown in place of --content');
  checkOutput(options.out);
  if (options.matte !== undefined) checkMatteOutput(options.matte, options.out);
  const plate = await openPlate(options.plate, options), closing: (() => Promise<void>)[] = [];
  try {
    const { facts } = plate;
    [...facts.assumed, ...facts.notes].forEach(note);
    if (track.width !== facts.width || track.height !== facts.height) {
      throw new Problem('size-mismatch', { trackSize: `${track.width}×${track.height}`, plateSize: `${facts.width}×${facts.height}` });
    }
    const surface = await trackedSurface(plate, track, look), range = readRange(options.frames, facts.frames || Infinity);
    const board = look.board ? await BoardContent.open(look.board, options.board ?? options.look!, facts.rate, surface.look) : null;
    if (board) closing.push(() => board.close());
    const content = !board && options.content !== undefined ? await openContent(options.content, facts.rate) : null;
    if (content) closing.push(() => content.close());
    const sink = openSink(options.out, facts), matte = options.matte === undefined ? null : openMatteFilm(options.matte, facts, facts.rate);
    try {
      await renderSpan(plate, surface, range, contentsBy(board, content, facts, surface), sink, matte);
      await sink.finish();
      await matte?.finish();
    } catch (error) {
      await sink.abandon();
      await matte?.abandon();
      throw error;
    }
  } finally {
    for (const close of closing) await close();
    plate.close();
  }
}

interface TrackedSurface {
  readonly corners: ReadonlyMap<number, Quad>;
  readonly reference: Quad | null;
  readonly referenceFrame: number;
  readonly ratio: number;
  readonly focal: number | undefined;
  readonly look: ResolvedLook;
  readonly difference: Difference | null;
  readonly clean: CleanSurface | null;
}

/** What is the same on all frames, with what the look asks to be measured on the plate. */
async function trackedSurface(plate: Plate, track: TrackFile, look: Look): Promise<TrackedSurface> {
  const corners = cornersByFrame(track), reference = corners.get(track.referenceFrame) ?? [...corners.values()][0] ?? null, { facts } = plate;
  const ratio = look.proportions ? look.proportions[0] / look.proportions[1] : reference ? sideRatio(reference) : 1;
  const measures = needsMeasuring(look), asks = measures || (look.difference && !look.difference.off), frames = asks ? await framesOf(plate, corners) : [];
  let measured: MeasuredFront | undefined;
  if (measures) {
    measured = measureFront(frames, ratio, facts.colour);
    if (measured.keys.length === 0) note('the screen shows no colour to key by: no key and no spill are used');
    else note(`measured: ${JSON.stringify(measured)}`);
  }
  const resolved = resolveLook(look, measured), deep = look.depth !== undefined || look.board?.layers.some((layer) => layer.depth);
  const kind = cleanNeeds(resolved), known = [...corners.keys()].sort((a, b) => a - b), home = corners.has(track.referenceFrame) ? track.referenceFrame : known[0]!;
  const clean = kind && known.length > 0 ? cleanSurface(kind, await framesNumbered(plate, corners, cleanFrames(kind, known, home)), resolved, ratio, facts.colour) : null;
  return {
    corners, reference, referenceFrame: track.referenceFrame, ratio, look: resolved, focal: deep ? surfaceFocal([...corners.values()], facts, ratio) : undefined,
    difference: !kind && resolved.front.difference && frames.length > 0 ? differenceOf(frames, ratio, facts.colour) : null, clean,
  };
}

/** Some frames of the plate spread over those with corners. */
function framesOf(plate: Plate, corners: ReadonlyMap<number, Quad>): Promise<FrontFrame[]> {
  return framesNumbered(plate, corners, framesToMeasure([...corners.keys()].sort((a, b) => a - b), (frame) => corners.get(frame)));
}

type ContentsAt = (frame: number, quad: Quad) => Promise<readonly PinnedContent[] | null>;

function contentsBy(board: BoardContent | null, content: ContentFrames | null, facts: MediaFacts, { look }: TrackedSurface): ContentsAt {
  if (board) return (frame, quad) => board.at(frame, boardScale(board.size, quad, FINE));
  const shown = new ShownContent(content!, facts.rate);
  return async (frame) => {
    const pyramid = await shown.at(frame, look);
    return pyramid && [{ pyramid }];
  };
}

async function renderSpan({ source, facts }: Plate, surface: TrackedSurface, range: readonly [number, number], contentsAt: ContentsAt, sink: FrameSink, matte: MatteSink | null): Promise<void> {
  const { corners, look, difference, clean } = surface, empty: number[] = [], nothing = new Float32Array(facts.width * facts.height);
  let frame = -1;
  for await (const bytes of decodeFrames(source, facts)) {
    frame++;
    if (frame < range[0]) continue;
    if (frame > range[1]) break;
    const plate = pictureFromRaw(bytes, facts.layout), now = corners.get(frame), contents = now && (await contentsAt(frame, now));
    if (now && contents) {
      const motion = motionAbout((f) => corners.get(f), frame)!;
      const pinned: PinnedSurface = { contents, motion, ratio: surface.ratio, look, frame, reference: surface.reference ?? undefined, referenceFrame: surface.referenceFrame, focal: surface.focal, perSecond: facts.rate[0] / facts.rate[1], clean: clean ?? undefined, differs: difference ? difference.on(now, look.front.difference!) : undefined };
      const done = composeWithMatte(plate, pinned, 'final', facts.colour);
      await sink.write(frame, done.picture);
      await matte?.write(done.matte!);
    } else {
      if (!now) empty.push(frame);
      await sink.write(frame, plate);
      await matte?.write(nothing);
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

function checkMatteOutput(out: string, picture: string): void {
  if (resolve(out) === resolve(picture)) throw new Problem('bad-field', { where: 'the command', field: '--matte', why: 'is the same file as --out; give each a name of its own' });
  if (extname(out).toLowerCase() !== '.mkv') throw new Problem('bad-field', { where: 'the command', field: '--matte', why: `is "${out}"; it must end in .mkv` });
  checkWritable(out);
}

function openSink(out: string, facts: MediaFacts): FrameSink {
  if (/%0?\d*d/.test(basename(out))) return openPictures(out, facts.firstFrameNumber, facts.colour);
  return openFilm(out, { width: facts.width, height: facts.height, peak: peakOf(facts.layout) }, facts);
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
