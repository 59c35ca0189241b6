import { extname } from 'node:path';
import { Problem } from '../core/base/problem/problem.ts';
import { isNumbered } from '../server/media/layer-sink.ts';
import { checkWritable } from './options.ts';

const FILMS: readonly string[] = ['.mkv', '.mp4', '.mov', '.webm'];
const PICTURES: readonly string[] = ['.png', '.tif', '.exr'];

/** Refuses, as a Problem, an output that is neither a film nor numbered pictures, or cannot be written. */
export function checkOutput(option: string, out: string): void {
  if (!(isNumbered(out) ? PICTURES : FILMS).includes(extname(out).toLowerCase())) {
    throw new Problem('bad-field', {
      where: 'the command',
      field: option,
      why: `is "${out}"; it must end in .mkv, .mp4, .mov or .webm, or be numbered pictures such as out.%04d.png, .tif or .exr`,
    });
  }
  checkWritable(out);
}
