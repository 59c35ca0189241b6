import { cornersByFrame } from '../core/handoff/exchange/track-file.ts';
import { sideRatio, type Quad } from '../core/base/geometry/quad.ts';
import { DISPLAY_COLOUR } from '../core/base/image/plate-colour.ts';
import { framesToMeasure } from '../core/picture/matte/frames-to-measure.ts';
import { measureFront } from '../core/picture/matte/measure-front.ts';
import { brightestOf, tellDarkContent } from '../core/picture/measure/dark-content.ts';
import { MeasureLook } from '../core/picture/measure/measure-look.ts';
import type { MeasuredShot } from '../core/picture/pin/measured-shot.ts';
import { proposeLook } from '../core/picture/measure/propose-look.ts';
import { Problem } from '../core/base/problem/problem.ts';
import { eachFrame, framesNumbered, type NumberedFrame } from './frames-numbered.ts';
import { checkWritable, note, progress, readJson, readOptions, writeWhole } from './options.ts';
import { openPlate, PLATE_OPTIONS } from './plate.ts';
import { openContent } from './content-frames.ts';

/** `yarlop look`: a look for the content measured on the plate, with the reason for each number. */
export async function lookCommand(args: string[]): Promise<void> {
  const options = readOptions(args, ['plate', 'track', 'out'], ['content', 'job', ...PLATE_OPTIONS]);
  const track = readJson('track', options.track);
  if (options.job !== undefined) readJson('job', options.job);
  checkWritable(options.out);
  const plate = await openPlate(options.plate, options);
  try {
    const { facts } = plate;
    const corners = cornersByFrame(track);
    const seen = new Map(
      [...corners].filter(
        ([frame, quad]) =>
          (!facts.frames || frame < facts.frames) &&
          quad.some(([x, y]) => x > 0 && y > 0 && x < facts.width && y < facts.height),
      ),
    );
    [...facts.assumed, ...facts.notes].forEach(note);
    if (track.width !== facts.width || track.height !== facts.height)
      throw new Problem('size-mismatch', {
        trackSize: `${track.width}×${track.height}`,
        plateSize: `${facts.width}×${facts.height}`,
      });
    if (seen.size === 0) throw new Problem('nothing-to-measure', {});
    const brightest = options.content === undefined ? null : await brightestOfFile(options.content, facts.rate);
    const reference: Quad = corners.get(track.referenceFrame) ?? [...seen.values()][0]!;
    const ratio = sideRatio(reference);
    const shot: MeasuredShot = {
      quads: seen,
      width: facts.width,
      height: facts.height,
      ratio,
      colour: facts.colour,
      referenceFrame: track.referenceFrame,
      perSecond: facts.rate[0] / facts.rate[1],
    };
    const measure = new MeasureLook(shot);
    const asked = framesToMeasure(
      [...seen.keys()].sort((a, b) => a - b),
      (frame) => seen.get(frame),
    );
    const kept = new Map<number, NumberedFrame>();
    const wanted = [...new Set([...measure.frames, ...asked])];
    const [home] = await framesNumbered(plate, seen, [measure.home]);
    if (!home) throw new Problem('nothing-to-measure', {});
    measure.begin(home.picture);
    let done = 0;
    await eachFrame(plate, wanted, (frame, picture) => {
      if (asked.includes(frame)) kept.set(frame, { frame, picture, quad: seen.get(frame)! });
      measure.add(frame, picture);
      progress('measuring', ++done, wanted.length);
    });
    const look = proposeLook(measure.finish(), measureFront([...kept.values()], ratio, facts.colour, reference), shot);
    if (brightest !== null) tellDarkContent(look, brightest);
    writeWhole(options.out, `${JSON.stringify(look, null, 1)}\n`);
    for (const [name, { says, certainty }] of Object.entries(look.why))
      note(`${name} (sure to ${Math.round(100 * certainty)} %): ${says}`);
  } finally {
    plate.close();
  }
}

/** Where the brightest of content lies on its first frame. */
async function brightestOfFile(path: string, rate: readonly [number, number]): Promise<number> {
  const content = await openContent(path, rate);
  try {
    return brightestOf(await content.picture(0), content.colour ?? DISPLAY_COLOUR);
  } finally {
    await content.close();
  }
}
