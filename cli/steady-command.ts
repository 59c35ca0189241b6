import { mapTuple } from '../core/base/geometry/map-tuple.ts';
import { basename, extname } from 'node:path';
import { homographyFromFile, homographyToFile } from '../core/base/geometry/pixel-centre.ts';
import { cornersByFrame } from '../core/handoff/exchange/track-file.ts';
import { homographyBetweenQuads } from '../core/base/geometry/estimate-homography.ts';
import { applyToPoints, compose, invert, type Point } from '../core/base/geometry/homography.ts';
import { peakOf, pictureFromRaw } from '../core/base/image/raw-frame.ts';
import { Problem } from '../core/base/problem/problem.ts';
import type { NineNumbers } from '../core/base/schemas/types.ts';
import { planFromTrack } from '../core/handoff/exchange/seat-track.ts';
import { cropFilled, steadyFrame } from '../core/motion/steady/stabilised-frame.ts';
import { middleOf } from '../core/motion/steady/steadied-luma.ts';
import { steadyFile } from '../core/motion/steady/steady-file.ts';
import { ALL_STEADY, STEADY_PARTS, steadyMaps, type SteadyChoice } from '../core/motion/steady/steady-maps.ts';
import { decodeFrames } from '../server/media/decode.ts';
import { numberedName, openFilm, openPictures, writeTransparentPng, type FrameSink } from '../server/media/encode.ts';
import { checkWritable, note, progress, readJson, readNumber, readOptions, writeWhole } from './options.ts';
import { openPlate, PLATE_OPTIONS } from './plate.ts';

/** What the picture shows where the plate does not reach. */
const OUTSIDE = ['crop', 'fill', 'transparent'] as const;

/**
 * `yarlop steady`: a plate with a surface's motion taken out of it, and how each frame was moved (--maps); or, with --back, a track made on a steadied
 * plate as one of the plate itself.
 */
export async function steadyCommand(args: string[]): Promise<void> {
  if (args.includes('--back')) return mapTrackBack(args);
  const options = readOptions(
    args,
    ['plate', 'track', 'out'],
    ['remove', 'smooth', 'outside', 'maps', ...PLATE_OPTIONS],
  );
  const choice: SteadyChoice = {
    ...partsFrom(options.remove),
    smooth: readNumber('smooth', options.smooth, 0, 1000) ?? 0,
  };
  const outside = outsideFrom(options.outside, options.out);
  const track = readJson('track', options.track);
  checkWritable(options.out);
  if (options.maps !== undefined) checkWritable(options.maps);
  const plate = await openPlate(options.plate, options);
  const { facts } = plate;
  [...facts.assumed, ...facts.notes].forEach(note);
  try {
    if (track.width !== facts.width || track.height !== facts.height)
      throw new Problem('size-mismatch', {
        trackSize: `${track.width}×${track.height}`,
        plateSize: `${facts.width}×${facts.height}`,
      });
    const plan = planFromTrack(track, options.track);
    const found = steadyMaps(
      new Map(plan.frames.map((f) => [f.frame, f.map])),
      middleOf(plan.corners),
      choice,
      facts.frames,
    );
    const { width, height } = facts;
    const crop = outside === 'crop' ? cropFilled(found, width, height) : null;
    const maps = crop?.maps ?? found;
    if (crop && crop.scale > 1) note(`enlarged to ${(100 * crop.scale).toFixed(1)} % so that every frame is filled.`);
    const sink = openSink(options.out, facts);
    try {
      let frame = 0;
      for await (const bytes of decodeFrames(plate.source, facts)) {
        const { picture, alpha } = steadyFrame(
          pictureFromRaw(bytes, facts.layout),
          maps.get(frame)!,
          width,
          height,
          outside === 'transparent' ? 'transparent' : 'fill',
          facts.colour,
        );
        if (outside === 'transparent')
          await writeTransparentPng(
            numberedName(options.out, frame + facts.firstFrameNumber),
            picture,
            alpha,
            facts.colour,
          );
        else await sink.write(frame, picture);
        progress('steadying', ++frame, facts.frames);
      }
      await sink.finish();
    } catch (error) {
      await sink.abandon();
      throw error;
    }
    if (options.maps !== undefined)
      writeWhole(
        options.maps,
        `${JSON.stringify(steadyFile(maps, track.pixelCentre, choice, width, height), null, 1)}\n`,
      );
  } finally {
    plate.close();
  }
}

/** A track of the steadied picture as one of the plate: exact but for the last digit of a double. */
function mapTrackBack(args: string[]): void {
  const options = readOptions(args, ['back', 'track', 'out']);
  const steady = readJson('steady', options.back);
  const track = readJson('track', options.track);
  checkWritable(options.out);
  if (track.width !== steady.steadiedWidth || track.height !== steady.steadiedHeight)
    throw new Problem('size-mismatch', {
      trackSize: `${track.width}×${track.height}`,
      plateSize: `${steady.steadiedWidth}×${steady.steadiedHeight}`,
    });
  const maps = new Map(steady.frames.map((f) => [f.frame, homographyFromFile(f.map, steady.pixelCentre)]));
  const quads = cornersByFrame(track);
  const reference = maps.get(track.referenceFrame);
  const shift = (p: Point, by: number): Point => [p[0] + by, p[1] + by];
  const off = track.pixelCentre === 'integer' ? -0.5 : 0;
  if (!reference) throw new Problem('no-reference-corners', { where: options.back, frame: track.referenceFrame });
  const frames = track.frames.map((frame) => {
    const back = maps.get(frame.frame) && invert(maps.get(frame.frame)!);
    const quad = quads.get(frame.frame);
    if (!back || !quad)
      return frame.corners
        ? { frame: frame.frame, confidence: 0, lost: 'it is not known how this frame was steadied' }
        : frame;
    const h = frame.homography
      ? compose(back, homographyFromFile(frame.homography, track.pixelCentre), reference)
      : homographyBetweenQuads(
          applyToPoints(invert(reference)!, quads.get(track.referenceFrame) ?? quad),
          applyToPoints(back, quad),
        );
    return {
      ...frame,
      ...(h ? { homography: [...homographyToFile(h, track.pixelCentre)] as NineNumbers } : {}),
      corners: mapTuple(applyToPoints(back, quad), (p) => shift(p, off)),
    };
  });
  const { seat: _onSteadied, ...rest } = track;
  writeWhole(
    options.out,
    `${JSON.stringify({ ...rest, width: steady.width, height: steady.height, frames }, null, 1)}\n`,
  );
}

function partsFrom(text: string | undefined): Omit<SteadyChoice, 'smooth'> {
  if (text === undefined) return ALL_STEADY;
  const asked = text.split(',').map((t) => t.trim());
  const odd = asked.find((a) => !STEADY_PARTS.some((part) => part === a));
  if (odd !== undefined)
    throw new Problem('bad-field', {
      where: 'the command',
      field: '--remove',
      why: `names "${odd}", not one of ${STEADY_PARTS.join(', ')}`,
    });
  return Object.fromEntries(STEADY_PARTS.map((part) => [part, asked.includes(part)])) as unknown as Omit<
    SteadyChoice,
    'smooth'
  >;
}

function outsideFrom(text: string | undefined, out: string): (typeof OUTSIDE)[number] {
  const found = OUTSIDE.find((o) => o === (text ?? 'fill'));
  if (!found)
    throw new Problem('bad-field', {
      where: 'the command',
      field: '--outside',
      why: `is "${text!}", not one of ${OUTSIDE.join(', ')}`,
    });
  if (found === 'transparent' && !(/%0?\d*d/.test(basename(out)) && extname(out).toLowerCase() === '.png'))
    throw new Problem('bad-field', {
      where: 'the command',
      field: '--outside',
      why: 'can be transparent only in numbered pictures such as out.%04d.png',
    });
  return found;
}

function openSink(
  out: string,
  facts: Parameters<typeof openFilm>[2] & {
    width: number;
    height: number;
    layout: Parameters<typeof peakOf>[0];
    firstFrameNumber: number;
  },
): FrameSink {
  if (/%0?\d*d/.test(basename(out))) return openPictures(out, facts.firstFrameNumber, facts.colour);
  if (!['.mkv', '.mp4', '.mov'].includes(extname(out).toLowerCase()))
    throw new Problem('bad-field', {
      where: 'the command',
      field: '--out',
      why: `is "${out}"; it must end in .mkv, .mp4 or .mov, or be numbered pictures such as out.%04d.png`,
    });
  return openFilm(out, { width: facts.width, height: facts.height, peak: peakOf(facts.layout) }, facts);
}
