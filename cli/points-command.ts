import { LumaFile } from './luma-file.ts';
import { checkWritable, note, readJson, readOptions } from './options.ts';
import { openPlate, PLATE_OPTIONS } from './plate.ts';

/** `yarlop points`: follows corner points and writes the track that they make. */
export async function pointsCommand(args: string[]): Promise<void> {
  const options = readOptions(args, ['plate', 'job', 'out'], PLATE_OPTIONS);
  // What follows is loaded while the plate is opened and its first frames are decoded.
  const loading = import('./follow-points.ts');
  const job = readJson('points', options.job);
  checkWritable(options.out);
  const plate = await openPlate(options.plate, options);
  [...plate.facts.assumed, ...plate.facts.notes].forEach(note);
  let luma: LumaFile | null = null;
  try {
    // It is followed while the rest is still being decoded.
    luma = LumaFile.begin(plate.source, plate.facts, true);
    await (await loading).followPoints(job, options, plate.facts, luma);
  } finally {
    luma?.close();
    plate.close();
  }
}
