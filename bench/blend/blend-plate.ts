import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Quad, sideRatio } from '../../core/base/geometry/quad.ts';
import type { CodedPicture } from '../../core/base/image/picture.ts';
import { framesToMeasure } from '../../core/picture/matte/frames-to-measure.ts';
import { measureFront } from '../../core/picture/matte/measure-front.ts';
import { MeasureLook, type LookFindings } from '../../core/picture/measure/measure-look.ts';
import type { MeasuredShot } from '../../core/picture/pin/measured-shot.ts';
import { proposeLook } from '../../core/picture/measure/propose-look.ts';
import type { Look } from '../../core/base/schemas/types.ts';
import { conditionGoal, conditionPlate } from '../../demo/make-conditions.ts';
import type { Truth } from '../../demo/truth.ts';
import { picturesOf } from '../front/glove-plate.ts';

export const DISPLAY = { transfer: 'srgb', primaries: 'bt709' } as const;

/** A generated plate with what it should end as. */
export interface BlendPlate {
  readonly name: string;
  readonly truth: Truth;
  readonly plates: readonly CodedPicture[];
  readonly goals: readonly CodedPicture[];
  readonly contentFile: string;
  readonly shot: MeasuredShot;
}

export async function blendPlate(name: string, withGoal = true): Promise<BlendPlate> {
  const { plate, truth: file } = await conditionPlate(name);
  const truth = JSON.parse(readFileSync(file, 'utf8')) as Truth;
  const quads = new Map(truth.frames.map((f) => [f.frame, f.corners as unknown as Quad]));
  return {
    name,
    truth,
    plates: await picturesOf(plate),
    goals: withGoal ? await picturesOf((await conditionGoal(name)).composite) : [],
    contentFile: join(import.meta.dirname, '../../demo/content', truth.content),
    shot: shotOf(truth, quads),
  };
}

export function shotOf(
  truth: Pick<Truth, 'width' | 'height' | 'referenceFrame' | 'rate'>,
  quads: ReadonlyMap<number, Quad>,
): MeasuredShot {
  return {
    quads,
    width: truth.width,
    height: truth.height,
    ratio: sideRatio(quads.get(truth.referenceFrame)!),
    colour: DISPLAY,
    referenceFrame: truth.referenceFrame,
    perSecond: truth.rate[0] / truth.rate[1],
  };
}

/** What is measured of the plate along some corners, and the look that is proposed. */
export function measured(
  { plates }: Pick<BlendPlate, 'plates'>,
  shot: MeasuredShot,
): { found: LookFindings; look: Look } {
  const measure = new MeasureLook(shot);
  measure.begin(plates[measure.home]!);
  for (const frame of measure.frames) measure.add(frame, plates[frame]!);
  const found = measure.finish();
  const front = measureFront(
    framesToMeasure(
      [...shot.quads.keys()].sort((a, b) => a - b),
      (frame) => shot.quads.get(frame),
    ).map((frame) => ({ picture: plates[frame]!, quad: shot.quads.get(frame)! })),
    shot.ratio,
    shot.colour,
    shot.quads.get(measure.home),
  );
  return { found, look: proposeLook(found, front, shot) };
}
