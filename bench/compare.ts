/**
 * Follows a span of both shipped clips with our follower and with what the reference vision library has for
 * it, in the same run, and writes docs/comparison.md. `npm run bench`.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { LumaFrame } from '../core/base/image/luma-frame.ts';
import { followSpan } from '../core/motion/follow/follow-run.ts';
import { applyToPoints, type Homography } from '../core/base/geometry/homography.ts';
import { SHIPPED } from '../demo/shots/index.ts';
import type { Truth } from '../demo/truth.ts';
import { loadKernels } from '../server/kernels/load-kernels.ts';
import { cornerErrors } from './accuracy-job.ts';
import { lumaOf } from './plate-luma.ts';
import { chainedLk, ecc, type ReferenceFollower } from './reference/followers.ts';
import { loadOpenCv } from './reference/opencv.ts';

const root = join(import.meta.dirname, '..');
/** Frames after the reference. */
const SPAN = 30;

type Follower = (plate: readonly LumaFrame[], truth: Truth) => Promise<Map<number, Homography>>;

const ours: Follower = async (plate, truth) => {
  const maps = new Map<number, Homography>();
  const last = truth.referenceFrame + SPAN;
  const run = followSpan(
    {
      motion: 'perspective',
      regions: [{ points: truth.region }],
      keepOut: [],
      referenceFrame: truth.referenceFrame,
      frames: [truth.referenceFrame, last],
      direction: 'forward',
    },
    async (frame) => plate[frame]!,
  );
  for await (const fit of run) if (fit.homography) maps.set(fit.frame, fit.homography);
  return maps;
};

const theirs =
  (follower: ReferenceFollower): Follower =>
  async (plate, truth) =>
    follower({
      plate,
      region: truth.region,
      referenceFrame: truth.referenceFrame,
      frames: [truth.referenceFrame, truth.referenceFrame + SPAN],
    });

const cv = await loadOpenCv();
loadKernels();
const rows: string[] = [];
for (const name of SHIPPED) {
  const plate = await lumaOf(join(root, `demo/clips/${name}.mp4`));
  const truth = JSON.parse(readFileSync(join(root, `demo/clips/${name}.truth.json`), 'utf8')) as Truth;
  const span: Truth = {
    ...truth,
    frames: truth.frames.filter((f) => f.frame >= truth.referenceFrame && f.frame <= truth.referenceFrame + SPAN),
  };
  const corners = truth.frames[truth.referenceFrame]!.corners;
  for (const [title, follow] of [
    ['ours', ours],
    ['chained LK', theirs(chainedLk(cv))],
    ['ECC', theirs(ecc(cv))],
  ] as const) {
    const started = performance.now();
    const maps = await follow(plate, truth);
    const perFrame = (performance.now() - started) / SPAN;
    const e = cornerErrors(span, new Map([...maps].map(([frame, h]) => [frame, applyToPoints(h, corners)])));
    rows.push(
      `| ${name} | ${title} | ${e.mean.toFixed(3)} | ${e.worst.toFixed(3)} | ${(100 * e.under1).toFixed(0)} % | ${e.lost} | ${perFrame.toFixed(0)} |`,
    );
    console.log(rows.at(-1));
  }
}
writeFileSync(
  join(root, 'docs/comparison.md'),
  `# Beside the reference library

Made by \`npm run bench\`: the shipped H.264 clips, ${SPAN} frames forward from the reference frame with an exact seat, our
follower beside OpenCV 4.12's JavaScript build (WebAssembly, one thread) in the same run. Corner error as in
[accuracy.md](accuracy.md). Times are of the machine of that day, compiled kernels, one thread.

| shot | follower | mean px | worst px | frames < 1 px | lost | ms a frame |
|---|---|---|---|---|---|---|
${rows.join('\n')}
`,
);
