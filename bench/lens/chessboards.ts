/** Measures lenses told by chessboards: published photographs, and boards made here through three lenses; writes them into docs/accuracy.md. `npm run accuracy:boards`. */
import { join } from 'node:path';
import sharp from 'sharp';
import { findChessboard } from '../../core/motion/lens/find-chessboard.ts';
import { lensFromChessboards } from '../../core/motion/lens/lens-from-chessboards.ts';
import type { Lens } from '../../core/motion/lens/lens.ts';
import { boardStills } from '../../server/test/board-stills.ts';
import { filmedView, offPublished, PHOTOGRAPHS, PUBLISHED_CAMERA } from '../reference/chessboard-views.ts';
import { writeSection } from '../document-section.ts';
import { cornersOff } from './lens-figures.ts';

const reached = (yes: boolean) => (yes ? 'reached' : '**not reached**');
const FOCAL = 0.01;
const CURVE = 0.5;

const boards = (await Promise.all(PHOTOGRAPHS.map(async (name) => findChessboard(await filmedView(name))))).flatMap(
  (board) => (board ? [board] : []),
);
const fit = lensFromChessboards(boards, { width: 640, height: 480 })!;
const { focal } = PUBLISHED_CAMERA;
const curveOff = (reach: number) => offPublished(fit.lens, reach).most;
const sides = curveOff(320);
const photographs = `| photographs, ${boards.length} of ${PHOTOGRAPHS.length} | ${fit.rms.toFixed(3)} (0.39 published) | ${fit.lens.focal.toFixed(1)} ± ${fit.focalSpread.toFixed(1)} (${focal.toFixed(1)}) | ${sides.toFixed(2)} at the left and right border, ${curveOff(294).toFixed(2)} as far as boards were seen | ± ${fit.bound.toFixed(1)} | ≤ ${100 * FOCAL} %, ${CURVE} px | ${reached(Math.abs(fit.lens.focal / focal - 1) <= FOCAL && sides <= CURVE)} |`;

const made: string[] = [];
for (const [name, lens] of [
  ['3 % barrel', { k1: -0.03 / ((480 / 520) ** 2 + (270 / 520) ** 2), k2: 0, k3: 0, centre: [480, 270], focal: 520 }],
  ['8 % barrel, off the middle', { k1: -0.1, k2: 0.02, k3: 0, centre: [488, 262], focal: 560 }],
  ['2 % pincushion', { k1: 0.05, k2: 0.01, k3: 0, centre: [480, 270], focal: 900 }],
] as const satisfies readonly (readonly [string, Lens])[]) {
  const size = { width: 960, height: 540 };
  const found = await Promise.all(
    (await boardStills(lens, size)).map(async (png) => {
      const { data } = await sharp(png).greyscale().raw().toBuffer({ resolveWithObject: true });
      return findChessboard({ ...size, data: Float32Array.from(data, (v) => v / 255) });
    }),
  );
  const own = lensFromChessboards(
    found.flatMap((board) => (board ? [board] : [])),
    size,
  )!;
  const off = cornersOff(own.lens, lens, 960, 540);
  made.push(
    `| ${name}, ${found.filter(Boolean).length} of ${found.length} | ${own.rms.toFixed(3)} | ${own.lens.focal.toFixed(1)} ± ${own.focalSpread.toFixed(1)} (${lens.focal}) | ${off.toFixed(2)} at corners and sides | ± ${own.bound.toFixed(1)} | ≤ ${100 * FOCAL} %, ${CURVE} px | ${reached(Math.abs(own.lens.focal / lens.focal - 1) <= FOCAL && off <= CURVE)} |`,
  );
}
for (const row of [photographs, ...made]) console.log(row);
writeSection(
  join(import.meta.dirname, '../../docs/accuracy.md'),
  'lens-boards',
  `## Lenses told by chessboards

Made by \`npm run accuracy:boards\`. Photographs: Debian's opencv-doc, left01 to left14 with their published camera (left_intrinsics.yml), whose own crossings are up to 1.2 px off on one view; boards of 8 × 5 crossings made here through lenses
that are known. Crossings from where board and lens put them, px; focal length, px (true or published); how differently both straighten, px (its scale taken out); what is stated of the picture's corners. The photographs' boards reach 73 % of the way to the
corners: farther out nothing is known but the lens's form, and the stated bound says so.

| pictures with boards | crossings off | focal length | straightened | stated at the corners | reach | |
|---|---|---|---|---|---|---|
${[photographs, ...made].join('\n')}
`,
);
