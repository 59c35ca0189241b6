/**
 * What following costs, beside the reference library on the same clip in the same run, and what its cost depends on;
 * writes docs/performance.md. `npm run performance`. The clip is the shipped laptop's, enlarged to 1080p and coded anew.
 */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { join } from 'node:path';
import type { LumaFrame } from '../../core/base/image/luma-frame.ts';
import { FollowRun } from '../../core/motion/follow/follow-run.ts';
import { bounds } from '../../core/base/geometry/quad.ts';
import type { FollowJob } from '../../core/base/schemas/types.ts';
import type { Truth } from '../../demo/truth.ts';
import { loadKernels } from '../../server/kernels/load-kernels.ts';
import { lumaOf } from '../plate-luma.ts';
import { ecc } from '../reference/followers.ts';
import { loadOpenCv, matFromCodes, release } from '../reference/opencv.ts';
import { writeSection } from '../document-section.ts';
import { costCharts, type Line } from './line-chart.ts';
import { yarlopProcess } from './whole-process.ts';

const root = join(import.meta.dirname, '../..');
const folder = join(root, '.cache/performance');
mkdirSync(folder, { recursive: true });
const FRAMES = 90;
const ECC_FRAMES = 6;
const LONG = 450;

function ffmpeg(...args: string[]): void {
  const { status, stderr } = spawnSync('ffmpeg', ['-v', 'error', '-y', ...args], { encoding: 'utf8' });
  if (status !== 0) throw new Error(stderr);
}

/** The laptop's clip at another height, as H.264 of good quality, and what is to be followed in it. */
function clipOf(height: number, loops = 1): { clip: string; job: string; truth: Truth; scale: number } {
  const truth = JSON.parse(readFileSync(join(root, 'demo/clips/orders-laptop.truth.json'), 'utf8')) as Truth;
  const scale = height / truth.height;
  const clip = join(folder, `laptop-${height}${loops > 1 ? '-long' : ''}.mp4`);
  const job = join(folder, `laptop-${height}.json`);
  // There and back again, so that a long clip has no jumps.
  const filter =
    `scale=-2:${height}:flags=bicubic` +
    (loops > 1
      ? `,trim=end_frame=${FRAMES},split[a][b];[b]reverse[r];[a][r]concat=n=2,loop=${loops - 1}:${2 * FRAMES}`
      : '');
  if (!existsSync(clip))
    ffmpeg(
      '-i',
      join(root, 'demo/clips/orders-laptop.mp4'),
      '-filter_complex',
      filter,
      '-frames:v',
      String(loops > 1 ? LONG : FRAMES),
      '-c:v',
      'libx264',
      '-crf',
      '14',
      '-preset',
      'medium',
      '-pix_fmt',
      'yuv420p',
      clip,
    );
  const scaled = (points: readonly (readonly number[])[]) =>
    points.map(([x, y]) => [x! * scale, y! * scale] as [number, number]);
  writeFileSync(
    job,
    JSON.stringify({
      pixelCentre: 'half',
      referenceFrame: truth.referenceFrame,
      motion: 'perspective',
      regions: [{ points: scaled(truth.region) }],
      corners: scaled(truth.frames[truth.referenceFrame]!.corners),
    }),
  );
  return { clip, job, truth, scale };
}

/** Milliseconds a frame of the follower alone, of frames read before. */
async function followCost(
  frames: readonly LumaFrame[],
  job: FollowJob,
  change: Partial<FollowJob> = {},
): Promise<number> {
  const { regions, corners, referenceFrame, motion, points } = { ...job, ...change };
  const run = await FollowRun.begin(
    {
      motion,
      regions,
      keepOut: [],
      screen: corners,
      referenceFrame,
      points,
      frames: [referenceFrame, referenceFrame + 16],
      direction: 'forward',
    },
    async (f) => frames[f]!,
  );
  for (let i = 0; i < 5; i++) await run.step();
  const started = performance.now();
  let steps = 0;
  while (await run.step()) steps++;
  return (performance.now() - started) / (steps - 1);
}

const ms = (v: number) => (v >= 100 ? v.toFixed(0) : v.toFixed(1));
const times = (v: number) => `${v.toFixed(2)} ×`;
const hd = clipOf(1080);
console.log('whole process');
const runs = [];
for (let i = 0; i < 3; i++)
  runs.push(await yarlopProcess(['track', '--plate', hd.clip, '--job', hd.job, '--out', join(folder, 'track.json')]));
const whole = runs.sort((a, b) => a.seconds - b.seconds)[1]!;
const own = (1000 * whole.seconds) / FRAMES;
const long = clipOf(1080, 3);
const longRun = await yarlopProcess([
  'track',
  '--plate',
  long.clip,
  '--job',
  long.job,
  '--out',
  join(folder, 'long.json'),
]);

console.log('the reference library');
const box = bounds(hd.truth.region.map(([x, y]): [number, number] => [x * hd.scale, y * hd.scale]));
const rect = [Math.floor(box.left), Math.floor(box.top), Math.ceil(box.right), Math.ceil(box.bottom)];
const asked = spawnSync(
  '/usr/bin/python3',
  [
    join(root, 'bench/reference/native.py'),
    hd.clip,
    ...rect.map(String),
    String(hd.truth.referenceFrame),
    String(ECC_FRAMES),
  ],
  { encoding: 'utf8' },
);
const native =
  asked.status === 0
    ? (JSON.parse(asked.stdout) as { version: string; reading: number; pyramid: number; ecc: number })
    : null;
if (!native) console.log(`python3-opencv is not there: ${asked.stderr}`);
const cv = await loadOpenCv();
let started = performance.now();
const frames = await lumaOf(hd.clip);
const reading = (performance.now() - started) / frames.length;
started = performance.now();
for (const { codes, width, height } of frames.slice(0, 20)) {
  const levels = [matFromCodes(cv, codes, width, height)];
  for (let level = 0; level < 4; level++) {
    const next = new cv.Mat();
    cv.pyrDown(levels.at(-1)!, next, new cv.Size(0, 0), 4);
    levels.push(next);
  }
  release(...levels);
}
const jsPyramid = reading + (performance.now() - started) / 20;
started = performance.now();
ecc(cv)({
  plate: frames,
  region: hd.truth.region.map(([x, y]): [number, number] => [x * hd.scale, y * hd.scale]),
  referenceFrame: hd.truth.referenceFrame,
  frames: [hd.truth.referenceFrame, hd.truth.referenceFrame + ECC_FRAMES],
});
const jsEcc = reading + (performance.now() - started) / ECC_FRAMES;

console.log('what it depends on');
loadKernels();
const job = JSON.parse(readFileSync(hd.job, 'utf8')) as FollowJob;
await followCost(frames, job);
const centre: [number, number] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2];
const sized = (share: number) =>
  job.regions.map((r) => ({
    points: r.points.map(([x, y]): [number, number] => [
      centre[0] + (x - centre[0]) * share,
      centre[1] + (y - centre[1]) * share,
    ]),
  }));
const points: Line = { title: 'points', points: [] };
const sizes: Line = { title: 'size', points: [] };
const heights: Line = { title: 'height', points: [] };
const put = (line: Line, x: number, y: number) => {
  line.points = [...line.points, [x, y]];
};
for (const n of [3000, 10_000, 30_000, 60_000, 100_000]) put(points, n, await followCost(frames, job, { points: n }));
for (const share of [0.25, 0.5, 0.75, 1])
  put(sizes, share * Math.round(box.right - box.left), await followCost(frames, job, { regions: sized(share) }));
for (const height of [360, 540, 720, 1080]) {
  const { clip, job: file } = clipOf(height);
  put(
    heights,
    height,
    await followCost(
      height === 1080 ? frames : await lumaOf(clip),
      JSON.parse(readFileSync(file, 'utf8')) as FollowJob,
    ),
  );
}
mkdirSync(join(root, 'docs/charts'), { recursive: true });
writeFileSync(
  join(root, 'docs/charts/cost.svg'),
  costCharts([
    { title: 'ms a frame, points looked at', xTitle: 'points', lines: [points] },
    { title: 'ms a frame, width of the region', xTitle: 'px', lines: [sizes] },
    { title: 'ms a frame, height of the picture', xTitle: 'px', lines: [heights] },
  ]),
);
const row = (title: string, cost: number | undefined, limit: string) =>
  `| ${title} | ${cost === undefined ? 'not installed' : ms(cost)} | ${cost === undefined ? '' : times(own / cost)} | ${limit} |`;
writeSection(
  join(root, 'docs/performance.md'),
  'cost',
  `# What following costs

Made by \`npm run performance\` on ${cpus().length} cores (${cpus()[0]!.model.trim()}); only ratios within the run mean anything elsewhere. The shipped laptop's
clip enlarged to 1920×1080 (H.264, ${FRAMES} frames), perspective, both ways from the reference: \`yarlop track\` as a whole process, from the
start of Node to the written TRACK, takes **${ms(own)} ms a frame** (median of three), its two threads sharing the work of the kernels.
In the same run, on the same clip:

| | ms a frame | Yarlop takes | limit |
|---|---|---|---|
${row('OpenCV 4.12 in JavaScript: decode, ECC (homography, 40 iterations)', jsEcc, '0.5 ×')}
${row(`OpenCV ${native?.version ?? ''} native, two threads: decode, ECC`, native ? native.reading + native.ecc : undefined, '1.0 ×')}
${row('decode, pyramid of OpenCV in JavaScript (pyrDown, 4 levels)', jsPyramid, '2.5 ×')}
${row('decode, pyramid of OpenCV native (buildOpticalFlowPyramid, 4 levels)', native?.pyramid, '')}

Memory of the process at its peak: ${whole.memory.toFixed(0)} MB for ${FRAMES} frames, ${longRun.memory.toFixed(0)} MB for ${LONG} (limit: 1 GB for any length).
The longer clip took ${ms((1000 * longRun.seconds) / LONG)} ms a frame: the start of Node and the template are spread over more frames.

![Cost of a frame over points, region and picture](charts/cost.svg)

The smaller regions of the middle chart lie inside the plain green screen, with a few markers to hold on to: where a frame does not convince, it
is searched for, and that is what costs (about a second a frame).

By itself it looks at 30 000 points of the full picture and a third of them on coarser levels; JOB's \`points\` and the setting on the
Follow step change that.
`,
);
console.log(readFileSync(join(root, 'docs/performance.md'), 'utf8'));
process.exit(0);
