import { basename } from 'node:path';
import { lensFromFile, lensToFile } from '../core/handoff/exchange/lens-file.ts';
import { framesOfBoards, lensFromPictures, type NamedPicture } from '../core/motion/lens/lens-from-pictures.ts';
import { reachOf } from '../core/motion/scene/lens-from-scene.ts';
import { lensFromMap, mapOfLens, mapOfPicture, type MapDirection } from '../core/motion/lens/lens-map.ts';
import { stMapChannels } from '../core/handoff/exchange/st-map.ts';
import type { Lens } from '../core/motion/lens/lens.ts';
import { Problem } from '../core/base/problem/problem.ts';
import type { LensFile } from '../core/base/schemas/types.ts';
import { lumaFromRaw, pictureFromRaw } from '../core/base/image/raw-frame.ts';
import { decodeFrames } from '../server/media/decode.ts';
import { writeExrFile } from '../server/media/exr-file.ts';
import { estimatedLens } from './lens.ts';
import { LumaFile } from './luma-file.ts';
import { openPlate, PLATE_OPTIONS } from './plate.ts';
import { checkWritable, note, progress, readJson, readOptions, readSize, writeWhole } from './options.ts';

type Size = Readonly<Record<'width' | 'height', number>>;
interface Told {
  readonly lens: Lens;
  readonly size: Size;
  readonly told: string;
}

const NEEDS = 'one of --boards, --map, --plate, --lens';

/** `yarlop lens`: a lens for JOB.json and LOOK.json, told by chessboards, by an ST map, or by what stands still in a plate; and its ST map. */
export async function lensCommand(args: string[]): Promise<void> {
  const options = readOptions(
    args,
    ['out'],
    ['boards', 'map', 'takes', 'lens', 'plate', 'size', 'maps', ...PLATE_OPTIONS],
  );
  const { takes = 'out', out } = options;
  const sources = (['boards', 'map', 'plate', 'lens'] as const).filter((name) => options[name] !== undefined);
  if (sources.length !== 1)
    throw new Problem('unknown-option', {
      why:
        sources.length === 0
          ? `${NEEDS} is missing`
          : `--${sources.join(' and --')} are given; the lens comes from one`,
    });
  if (takes !== 'out' && takes !== 'in')
    throw new Problem('bad-field', {
      where: 'the command',
      field: '--takes',
      why: `is "${takes}"; the map takes the lens out or in`,
    });
  if (options.maps !== undefined && !(options.maps.includes('%s') && options.maps.endsWith('.exr')))
    throw new Problem('bad-field', {
      where: 'the command',
      field: '--maps',
      why: `is "${options.maps}"; it must be such as lens-%s.exr: %s becomes "out" and "in"`,
    });
  for (const file of [out, options.maps]) if (file !== undefined) checkWritable(file);
  const {
    lens,
    size: { width, height },
    told,
  } = options.boards !== undefined
    ? await byBoards(options.boards.split(','), options)
    : options.map !== undefined
      ? await byMap(options.map, takes, options)
      : options.plate !== undefined
        ? await byPlate(options.plate, options)
        : fromFile(options.lens!);
  note(`${told}; it moves the picture's corners by ${reachOf(lens, width, height).toFixed(1)} px`);
  const file: LensFile = { pixelCentre: 'half', width, height, lens: lensToFile(lens, 'half'), told };
  writeWhole(out, `${JSON.stringify(file, null, 1)}\n`);
  for (const direction of options.maps === undefined ? [] : (['out', 'in'] as const))
    writeMap(options.maps!.replace('%s', direction), lens, { width, height }, direction);
}

async function byBoards(
  paths: readonly string[],
  options: Parameters<typeof openPlate>[1] & { size?: string },
): Promise<Told> {
  const first = await openPlate(paths[0]!, options, { content: true });
  const size = readSize('size', options.size) ?? first.facts;
  first.close();
  const { lens, views, rms, focalSpread, bound, reach } = await lensFromPictures(boardPictures(paths, options), size);
  const seen = views.filter((view) => view.crossings > 0);
  for (const { name, frame } of views.filter((view) => view.crossings === 0))
    note(`${name}, frame ${frame}: no chessboard is seen`);
  return {
    lens,
    size,
    told: `chessboards in ${seen.length} of ${views.length} pictures, crossings ${rms.toFixed(2)} px off; focal length ${lens.focal.toFixed(1)} ± ${focalSpread.toFixed(1)} px; at the picture's corners ± ${bound.toFixed(1)} px, boards reached ${Math.round(100 * reach)} % of the way there`,
  };
}

async function* boardPictures(
  paths: readonly string[],
  options: Parameters<typeof openPlate>[1],
): AsyncGenerator<NamedPicture> {
  let done = 0;
  for (const path of paths) {
    const plate = await openPlate(path, options, { content: true });
    const { facts } = plate;
    const wanted = new Set(framesOfBoards(facts.frames));
    const name = basename(path);
    try {
      let frame = 0;
      for await (const bytes of decodeFrames(plate.source, facts, { sameBytes: true })) {
        if (wanted.has(frame)) {
          yield { name, frame, luma: lumaFromRaw(bytes, facts.layout, facts.colour.transfer) };
          progress('looking for chessboards', ++done, Math.max(done, paths.length));
        }
        frame++;
      }
    } finally {
      plate.close();
    }
  }
}

async function byMap(
  path: string,
  takes: MapDirection,
  options: Parameters<typeof openPlate>[1] & { size?: string },
): Promise<Told> {
  const plate = await openPlate(path, options, { content: true });
  const { facts } = plate;
  try {
    for await (const bytes of decodeFrames(plate.source, facts)) {
      const size = readSize('size', options.size) ?? facts;
      const { lens, rms, worst, y, betterAs } = lensFromMap(
        mapOfPicture(pictureFromRaw(bytes, facts.layout)),
        size,
        takes,
      );
      if (betterAs) note(`as a map that takes the lens ${betterAs} it would be explained much better`);
      return {
        lens,
        size,
        told: `an ST map that takes the lens ${takes}, t ${y}: ${rms.toFixed(3)} px between it and the lens, ${worst.toFixed(3)} px at most`,
      };
    }
    throw new Problem('lens-map-none', { why: 'it has no frame' });
  } finally {
    plate.close();
  }
}

async function byPlate(path: string, options: Parameters<typeof openPlate>[1]): Promise<Told> {
  const plate = await openPlate(path, options);
  const { facts } = plate;
  const luma = await LumaFile.decode(plate.source, facts);
  try {
    const lens = await estimatedLens(luma, facts);
    if (!lens) throw new Problem('scene-unsolved', { why: 'no lens could be determined' });
    return { lens, size: facts, told: `what stands still in ${basename(path)}` };
  } finally {
    luma.close();
    plate.close();
  }
}

function fromFile(path: string): Told {
  const { lens, width, height, pixelCentre, told } = readJson('lensFile', path);
  const own = lensFromFile(lens, pixelCentre);
  if (!own) throw new Problem('bad-field', { where: path, field: 'lens', why: 'bends nothing' });
  return { lens: own, size: { width, height }, told: told ?? `taken from ${basename(path)}` };
}

function writeMap(file: string, lens: Lens, size: Size, direction: MapDirection): void {
  const map = mapOfLens(lens, size, direction);
  const within = map.s.map((s, i) => (s >= 0 && s <= 1 && map.t[i]! >= 0 && map.t[i]! <= 1 ? 1 : 0));
  writeExrFile(file, map.width, map.height, stMapChannels({ ...map, within }), 32, {
    comments: `${direction === 'out' ? 'takes the lens out: for each pixel of the straight picture its place in the filmed one' : 'puts the lens in: for each pixel of the filmed picture its place in the straight one'}; R across, G down, 0 to 1 from edge to edge, taken at pixel middles`,
  });
}
