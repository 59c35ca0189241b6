import { renameSync, rmSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { execa } from 'execa';
import type { CodedPicture } from '../../core/image/picture.ts';
import { Problem } from '../../core/problem/problem.ts';
import { isMissing, lastWords } from './run-tool.ts';

/** True when every value is one that 16-bit floating point has exactly (IEEE 754 binary16). */
export function fitsHalf(values: Float32Array): boolean {
  const bits = new Uint32Array(values.buffer, values.byteOffset, values.length);
  for (let i = 0; i < bits.length; i++) {
    const magnitude = bits[i]! & 0x7fffffff;
    if (magnitude === 0) continue;
    const exponent = (magnitude >>> 23) - 127;
    if (exponent > 15 && magnitude !== 0x7f800000) return false;
    // Below 2^-14 halves have fewer digits, one less with each step.
    const spare = exponent >= -14 ? 13 : 13 + (-14 - exponent);
    if (exponent <= 15 && (spare > 23 ? magnitude !== 0 && exponent < -24 : (magnitude & ((1 << spare) - 1)) !== 0)) return false;
  }
  return true;
}

/** Writes one picture as OpenEXR, ZIP-compressed, half float where that loses nothing; under its name only when whole. */
export async function writeExr(file: string, picture: CodedPicture): Promise<void> {
  const pixels = picture.width * picture.height;
  const planes = new Float32Array(3 * pixels);
  // ffmpeg's planes are green, blue, red.
  for (let i = 0, at = 0; i < pixels; i++, at += 3) {
    planes[2 * pixels + i] = picture.data[at]! / picture.peak;
    planes[i] = picture.data[at + 1]! / picture.peak;
    planes[pixels + i] = picture.data[at + 2]! / picture.peak;
  }
  const temporary = join(dirname(file), `.${basename(file)}.${process.pid}.part`);
  const result = await execa('ffmpeg', ['-v', 'error', '-y', '-f', 'rawvideo', '-pix_fmt', 'gbrpf32le', '-s', `${picture.width}x${picture.height}`, '-i', 'pipe:0',
    '-frames:v', '1', '-c:v', 'exr', '-compression', 'zip16', '-format', fitsHalf(planes) ? 'half' : 'float', '-f', 'image2', '-update', '1', temporary.replaceAll('%', '%%')],
  { reject: false, input: new Uint8Array(planes.buffer), maxBuffer: 1 << 20, timeout: 120_000 });
  if (result.exitCode === 0) return renameSync(temporary, file);
  rmSync(temporary, { force: true });
  if (isMissing(result)) throw new Problem('tool-missing', { tool: 'ffmpeg', package: 'ffmpeg' });
  if (/No space left/i.test(result.stderr)) throw new Problem('disk-full');
  if (/No such file|Permission denied/i.test(result.stderr)) throw new Problem('file-unwritable', { file, why: lastWords(result.stderr) });
  throw new Problem('tool-failed', { tool: 'ffmpeg', why: lastWords(result.stderr) });
}
