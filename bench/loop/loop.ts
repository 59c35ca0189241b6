/**
 * Measures loops on generated plates, three seeds each, and writes them into docs/accuracy.md. `npm run accuracy:loop [-- plate …]`; with names it only prints.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { homographyBetweenQuads } from '../../core/base/geometry/estimate-homography.ts';
import { applyToPoint } from '../../core/base/geometry/homography.ts';
import { distance, type Quad } from '../../core/base/geometry/quad.ts';
import type { LumaFrame } from '../../core/base/image/luma-frame.ts';
import type { CodedPicture } from '../../core/base/image/picture.ts';
import { LoopJoin, type JoinSettings } from '../../core/picture/loop/joining.ts';
import { loopFrame } from '../../core/picture/loop/loop-times.ts';
import { LOOP_CONDITIONS } from '../../demo/conditions/index.ts';
import { conditionPlate, SEEDS } from '../../demo/make-conditions.ts';
import type { Truth } from '../../demo/truth.ts';
import { loadKernels } from '../../server/kernels/load-kernels.ts';
import { DISPLAY } from '../blend/blend-plate.ts';
import { writeSection } from '../document-section.ts';
import { picturesOf } from '../front/glove-plate.ts';

loadKernels();
const FADE = 8;
const PX = 0.3;
const LEVELS = 1;
const only = process.argv.slice(2);
const reached = (yes: boolean) => (yes ? 'reached' : '**not reached**');
const mean = (v: readonly number[]) => v.reduce((a, b) => a + b, 0) / Math.max(1, v.length);
const lumaOf = ({ width, height, data }: CodedPicture): LumaFrame => ({
  width,
  height,
  peak: 255,
  codes: Uint8Array.from({ length: width * height }, (_, i) =>
    Math.round(0.2126 * data[3 * i]! + 0.7152 * data[3 * i + 1]! + 0.0722 * data[3 * i + 2]!),
  ),
});
const apart = (a: CodedPicture, b: CodedPicture): number => {
  let sum = 0;
  for (let i = 0; i < a.data.length; i++) sum += Math.abs(a.data[i]! - b.data[i]!);
  return sum / a.data.length;
};

const rows: string[] = [];
for (const { name, title } of LOOP_CONDITIONS)
  for (const seed of SEEDS.filter((s) => only.length === 0 || only.includes(`${name}@${s}`))) {
    const { plate, truth: file } = await conditionPlate(`${name}@${seed}`);
    const truth = JSON.parse(readFileSync(file, 'utf8')) as Truth;
    const pictures = await picturesOf(plate);
    const quad = (frame: number) => truth.frames[frame]!.corners as unknown as Quad;
    const last = pictures.length - 1;
    const settings: JoinSettings = {
      plan: { motion: 'perspective' },
      told: null,
      light: true,
      splitAt: null,
      where: name,
    };
    const size = { width: truth.width, height: truth.height, colour: DISPLAY };
    const there = (frame: number) => pictures[frame]!;
    const join = new LoopJoin(settings, size, [0, last], FADE);
    const { length } = join.times;
    await join.prepare((frame) => lumaOf(there(frame)));
    const jump = (await join.measureJump(there))!;
    // Where the solved map puts the screen's exact corners of the later frame, against where they are on the earlier one.
    const off = Array.from({ length: FADE }, (_, i) => {
      const { frame, partner } = loopFrame(join.times, length - FADE + i);
      const map = join.fits.get(frame)?.map;
      return map
        ? Math.sqrt(mean(quad(frame).map((p, k) => distance(applyToPoint(map, p), quad(partner!)[k]!) ** 2)))
        : Infinity;
    });
    const made = [await join.make(length - 2, there), await join.make(length - 1, there), await join.make(0, there)];
    const usual = mean(Array.from({ length: 6 }, (_, i) => apart(there(2 + i), there(3 + i))));
    const seam = apart(made[1]!, made[2]!);
    const cut = apart(there(last), there(0));
    const truthMap = homographyBetweenQuads(quad(last), quad(0))!;
    const drift = Math.max(...quad(last).map((p) => distance(p, applyToPoint(truthMap, p))));
    const row = `| ${title}, ${seed} | ${jump.px === null ? 'not known' : jump.px.toFixed(3)} | ${jump.levels.toFixed(2)} | ${mean(off).toFixed(3)}, worst ${Math.max(...off).toFixed(3)} | ${seam.toFixed(2)} (${usual.toFixed(2)}; cut ${cut.toFixed(2)}) | ${drift.toFixed(1)} | ≤ ${PX} px, ≤ ${LEVELS} of 255 | ${reached(jump.px !== null && jump.px <= PX && jump.levels <= LEVELS && mean(off) <= PX)} |`;
    rows.push(row);
    console.log(row);
  }
const text = `## Loops

Made by \`npm run accuracy:loop\`. The last ${FADE} frames go over into the first ones, aligned on all of the picture. Jump: what is left between both pictures where they meet, found by aligning them once more (px over the picture; means,
levels of 255). Corners: where the solved maps put the screen's exact corners of a late frame, against where they are on the early one, px. Seam: mean difference of the loop's last frame from its first, levels, beside that of any two
frames in a row and of a plain cut. Away: how far the corners are from their beginning at the end, px.

| plate, seed | jump px | jump levels | corners px | seam | away px | reach | |
|---|---|---|---|---|---|---|---|
${rows.join('\n')}
`;
if (only.length === 0) writeSection(join(import.meta.dirname, '../../docs/accuracy.md'), 'loop', text);
