import { extname, resolve } from 'node:path';
import { boardScale, FINE } from '../core/picture/board/board-scale.ts';
import { checkLook } from '../core/picture/composite/check-look.ts';
import { composeWithMatte } from '../core/picture/composite/compose-frame.ts';
import type { PinnedContent, PinnedSurface } from '../core/picture/pin/pinned-surface.ts';
import { motionAbout } from '../core/picture/pin/shutter-path.ts';
import { ShownContent } from '../core/picture/pin/shown-content.ts';
import type { Quad } from '../core/base/geometry/quad.ts';
import type { CodedPicture } from '../core/base/image/picture.ts';
import { pictureFromRaw } from '../core/base/image/raw-frame.ts';
import { Problem } from '../core/base/problem/problem.ts';
import type { Look } from '../core/base/schemas/types.ts';
import { decodeFrames } from '../server/media/decode.ts';
import { openLayerSink } from '../server/media/layer-sink.ts';
import type { MediaFacts } from '../server/media/facts.ts';
import { BoardContent } from './board-content.ts';
import { openContent, type ContentFrames } from './content-frames.ts';
import { note, progress, readJson, readOptions, readRange } from './options.ts';
import { checkOutput } from './check-output.ts';
import { openPlate, PLATE_OPTIONS, type Plate } from './plate.ts';
import { type LayerSinks, layerOf, matteFilm, sinkChoices } from './render-layers.ts';
import { type TrackedSurface, trackedSurface } from './tracked-surface.ts';

/** `yarlop render`: content, or a board, on a tracked surface, behind what stands before it, over the plate. */
export async function renderCommand(args: string[]): Promise<void> {
  const options = readOptions(
    args,
    ['plate', 'track', 'out'],
    [
      'content',
      'look',
      'board',
      'matte',
      'insert',
      'difference',
      'frames',
      'codec',
      'quality',
      'crf',
      'bits',
      ...PLATE_OPTIONS,
    ],
  );
  const track = readJson('track', options.track);
  const look: Look = options.look === undefined ? {} : readJson('look', options.look);
  if (options.board !== undefined) look.board = readJson('board', options.board);
  checkLook(
    look,
    options.board !== undefined && options.look === undefined ? options.board : (options.look ?? 'the look'),
  );
  if (!look.board && options.content === undefined)
    throw new Problem('unknown-option', { why: '--content is missing (or a board, by --board or in the look)' });
  if (look.board && options.content !== undefined) note('the board is shown in place of --content');
  checkOutput('--out', options.out);
  const outputs = (['matte', 'insert', 'difference'] as const).flatMap((layer) =>
    options[layer] === undefined ? [] : [{ layer, out: options[layer] }],
  );
  const names = [options.out, ...outputs.map(({ out }) => out)].map((name) => resolve(name));
  for (const { layer, out } of outputs) {
    checkOutput(`--${layer}`, out);
    if (names.filter((name) => name === resolve(out)).length > 1)
      throw new Problem('bad-field', {
        where: 'the command',
        field: `--${layer}`,
        why: 'is the same file as another output; give each a name of its own',
      });
  }
  const choices = sinkChoices(options);
  const plate = await openPlate(options.plate, options);
  const closing: (() => Promise<void>)[] = [];
  try {
    const { facts } = plate;
    [...facts.assumed, ...facts.notes].forEach(note);
    if (track.width !== facts.width || track.height !== facts.height) {
      throw new Problem('size-mismatch', {
        trackSize: `${track.width}×${track.height}`,
        plateSize: `${facts.width}×${facts.height}`,
      });
    }
    const surface = await trackedSurface(plate, track, look);
    const range = readRange(options.frames, facts.frames || Infinity);
    const board = look.board
      ? await BoardContent.open(look.board, options.board ?? options.look!, facts.rate, surface.look)
      : null;
    if (board) closing.push(() => board.close());
    const content = !board && options.content !== undefined ? await openContent(options.content, facts.rate) : null;
    if (content) closing.push(() => content.close());
    const sinks: LayerSinks = new Map([
      ['full', openLayerSink(options.out, facts, choices)] as const,
      ...outputs.map(
        ({ layer, out }) =>
          [
            layer,
            layer === 'matte' && extname(out).toLowerCase() === '.mkv'
              ? matteFilm(out, facts)
              : openLayerSink(out, facts, choices),
          ] as const,
      ),
    ]);
    try {
      await renderSpan(plate, surface, range, contentsBy(board, content, facts, surface), sinks);
      for (const sink of sinks.values()) await sink.finish();
    } catch (error) {
      for (const sink of sinks.values()) await sink.abandon();
      throw error;
    }
  } finally {
    for (const close of closing) await close();
    plate.close();
  }
}

type ContentsAt = (frame: number, quad: Quad) => Promise<readonly PinnedContent[] | null>;

function contentsBy(
  board: BoardContent | null,
  content: ContentFrames | null,
  facts: MediaFacts,
  { look }: TrackedSurface,
): ContentsAt {
  if (board) return (frame, quad) => board.at(frame, boardScale(board.size, quad, FINE));
  const shown = new ShownContent(content!, facts.rate);
  return async (frame) => {
    const pyramid = await shown.at(frame, look);
    return pyramid && [{ pyramid }];
  };
}

async function renderSpan(
  { source, facts }: Plate,
  surface: TrackedSurface,
  range: readonly [number, number],
  contentsAt: ContentsAt,
  sinks: LayerSinks,
): Promise<void> {
  const { corners, look, difference, clean, usual } = surface;
  const empty: number[] = [];
  const nothing = new Float32Array(facts.width * facts.height);
  const write = async (index: number, plate: CodedPicture, picture: CodedPicture, matte: Float32Array) => {
    for (const [layer, sink] of sinks) await sink.write(index, layerOf(layer, plate, picture, matte, facts.colour));
  };
  let frame = -1;
  for await (const bytes of decodeFrames(source, facts)) {
    frame++;
    if (frame < range[0]) continue;
    if (frame > range[1]) break;
    const plate = pictureFromRaw(bytes, facts.layout);
    const now = corners.get(frame);
    const contents = now && (await contentsAt(frame, now));
    if (now && contents) {
      const motion = motionAbout((f) => corners.get(f), frame)!;
      const pinned: PinnedSurface = {
        contents,
        motion,
        ratio: surface.ratio,
        look,
        frame,
        lens: surface.lens,
        reference: surface.reference ?? undefined,
        referenceFrame: surface.referenceFrame,
        focal: surface.focal,
        perSecond: facts.rate[0] / facts.rate[1],
        usual,
        clean: clean ?? undefined,
        differs: difference ? difference.on(now, look.front.difference!) : undefined,
      };
      const done = composeWithMatte(plate, pinned, 'final', facts.colour);
      await write(frame, plate, done.picture, done.matte!);
    } else {
      if (!now) empty.push(frame);
      await write(frame, plate, plate, nothing);
    }
    progress('rendering', frame - range[0] + 1, Math.min(range[1], Math.max(facts.frames - 1, frame)) - range[0] + 1);
  }
  if (empty.length > 0) note(`the plate is left as it is on frames without corners: ${spans(empty)}`);
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
