import { extname, resolve } from 'node:path';
import { boardScale, FINE } from '../core/picture/board/board-scale.ts';
import { checkLook } from '../core/picture/composite/check-look.ts';
import { composeWithMatte } from '../core/picture/composite/compose-frame.ts';
import { needsMeasuring, resolveLook, type MeasuredFront, type ResolvedLook } from '../core/picture/look/look.ts';
import type { PinnedContent, PinnedSurface } from '../core/picture/pin/pinned-surface.ts';
import { motionAbout } from '../core/picture/pin/shutter-path.ts';
import { ShownContent } from '../core/picture/pin/shown-content.ts';
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
import type { CodedPicture } from '../core/base/image/picture.ts';
import type { PlateColour } from '../core/base/image/plate-colour.ts';
import { pictureFromRaw } from '../core/base/image/raw-frame.ts';
import { changeLayer, insertLayer } from '../core/picture/composite/layer-pictures.ts';
import { differenceOf, type Difference } from '../core/picture/matte/difference-matte.ts';
import { framesToMeasure } from '../core/picture/matte/frames-to-measure.ts';
import { measureFront, type FrontFrame } from '../core/picture/matte/measure-front.ts';
import { cleanFrames, cleanNeeds, cleanSurface } from '../core/picture/measure/clean-needs.ts';
import type { CleanSurface } from '../core/picture/pin/clean-surface.ts';
import { Problem } from '../core/base/problem/problem.ts';
import type { Look, TrackFile } from '../core/base/schemas/types.ts';
import { decodeFrames } from '../server/media/decode.ts';
import { openMatteFilm } from '../server/media/encode.ts';
import { FILM_FORMATS } from '../server/media/film-codecs.ts';
import type { LayerPicture } from '../server/media/layer-picture.ts';
import { openLayerSink, type LayerSink, type SinkChoices } from '../server/media/layer-sink.ts';
import type { MediaFacts } from '../server/media/facts.ts';
import { BoardContent } from './board-content.ts';
import { openContent, type ContentFrames } from './content-frames.ts';
import { framesNumbered } from './frames-numbered.ts';
import { note, progress, readJson, readNumber, readOptions, readRange } from './options.ts';
import { checkOutput } from './check-output.ts';
import { openPlate, PLATE_OPTIONS, type Plate } from './plate.ts';

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

interface TrackedSurface {
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
async function trackedSurface(plate: Plate, track: TrackFile, look: Look): Promise<TrackedSurface> {
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

type Layer = 'full' | 'matte' | 'insert' | 'difference';
type LayerSinks = ReadonlyMap<Layer, LayerSink>;

function layerOf(
  layer: Layer,
  plate: CodedPicture,
  picture: CodedPicture,
  matte: Float32Array,
  colour: PlateColour,
): LayerPicture {
  switch (layer) {
    case 'full':
      return { kind: 'codes', picture };
    case 'matte':
      return { kind: 'share', width: plate.width, height: plate.height, share: matte };
    case 'insert':
      return { kind: 'light', picture: insertLayer(plate, picture, matte, colour) };
    case 'difference':
      return { kind: 'codes', picture: changeLayer(plate, picture) };
  }
}

/** A matte as a film of grey, which has no other colours to lose. */
function matteFilm(out: string, facts: MediaFacts): LayerSink {
  const film = openMatteFilm(out, facts, facts.rate);
  return {
    write: (_, layer) =>
      film.write(layer.kind === 'share' ? layer.share : new Float32Array(facts.width * facts.height)),
    finish: () => film.finish(),
    abandon: () => film.abandon(),
  };
}

function sinkChoices({
  codec,
  quality,
  crf,
  bits,
}: {
  codec?: string;
  quality?: string;
  crf?: string;
  bits?: string;
}): SinkChoices {
  const refuse = (field: string, value: string, known: readonly string[]) =>
    new Problem('bad-field', {
      where: 'the command',
      field,
      why: `is "${value}"; it must be one of ${known.join(', ')}`,
    });
  const format = FILM_FORMATS.find((one) => one === codec);
  const level = QUALITIES.find((one) => one === quality);
  if (codec !== undefined && !format) throw refuse('--codec', codec, FILM_FORMATS);
  if (quality !== undefined && !level) throw refuse('--quality', quality, QUALITIES);
  if (bits !== undefined && bits !== '8' && bits !== '16') throw refuse('--bits', bits, ['8', '16']);
  const factor = readNumber('crf', crf, 0, 63);
  return {
    ...(format ? { format } : {}),
    ...(level ? { quality: level } : {}),
    ...(factor === undefined ? {} : { crf: factor }),
    ...(bits === undefined ? {} : { bits: bits === '8' ? 8 : 16 }),
  };
}

const QUALITIES = ['small', 'good', 'best'] as const;

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
