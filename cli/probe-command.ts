import { lumaFromRaw } from '../core/base/image/raw-frame.ts';
import { findingWords } from '../core/motion/plate/findings.ts';
import { PlateChecker, type PlateCheckResult } from '../core/motion/plate/plate-check.ts';
import { checked } from '../core/base/schemas/check.ts';
import type { ProbeFile } from '../core/base/schemas/types.ts';
import { decodeFrames } from '../server/media/decode.ts';
import { openPlate, PLATE_OPTIONS, type Plate } from './plate.ts';
import { checkWritable, progress, readOptions, writeWhole } from './options.ts';

/** `yarlop probe`: what a plate is and, with --check, what is hard about it. */
export async function probeCommand(args: string[]): Promise<void> {
  const withCheck = args.includes('--check');
  const options = readOptions(
    args.filter((a) => a !== '--check'),
    ['plate', 'out'],
    PLATE_OPTIONS,
  );
  checkWritable(options.out);
  // Gaps are a fact to be reported; only looking at the frames needs a decision about them.
  const plate = await openPlate(options.plate, options, { allowGaps: !withCheck });
  try {
    const { facts } = plate;
    const check = withCheck ? await checkFrames(plate) : null;
    const first = facts.firstFrameNumber;
    const file: ProbeFile = {
      width: facts.width,
      height: facts.height,
      rate: facts.rate,
      frames: check?.rows.length ?? facts.frames,
      firstFrame: first,
      bitDepth: facts.layout.kind === 'rgb' ? facts.layout.bits : facts.layout.coding.bits,
      transfer: facts.colour.transfer,
      primaries: facts.colour.primaries,
      matrix: facts.layout.kind === 'rgb' ? 'rgb' : facts.layout.coding.matrix,
      range: facts.layout.kind === 'rgb' ? 'full' : facts.layout.coding.range,
      pixelAspect: facts.pixelAspect,
      rotation: facts.rotation,
      fieldOrder: facts.fieldOrder,
      timecode: facts.timecode,
      container: facts.container,
      codec: facts.codec,
      pixelFormat: facts.pixelFormat,
      assumed: facts.assumed,
      missing: facts.missing,
      notes: facts.notes,
      ...(check
        ? {
            check: check.rows.map(({ frame, sharpness, exposure, noise, blur, blurAngle, repeats, cut, flash }) => ({
              frame,
              sharpness,
              exposure,
              noise,
              blur,
              ...(blurAngle === null ? {} : { blurAngle }),
              ...(repeats === null ? {} : { repeats }),
              ...(cut ? { cut } : {}),
              ...(flash ? { flash } : {}),
            })),
            findings: check.findings.map((finding) => findingWords(finding, first)),
            ...(check.reference
              ? { proposedReference: check.reference.frame, referenceReasons: check.reference.reasons }
              : {}),
          }
        : {}),
    };
    writeWhole(options.out, `${JSON.stringify(checked('probe', file, 'what was found'), null, 1)}\n`);
  } finally {
    plate.close();
  }
}

async function checkFrames({ source, facts }: Plate): Promise<PlateCheckResult> {
  const checker = new PlateChecker();
  let frames = 0;
  for await (const bytes of decodeFrames(source, facts)) {
    checker.add(lumaFromRaw(bytes, facts.layout, facts.colour.transfer));
    progress('checking', ++frames, Math.max(frames, facts.frames));
  }
  return checker.finish();
}
