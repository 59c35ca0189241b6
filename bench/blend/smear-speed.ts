import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { buildContentPyramid } from '../../core/picture/pin/content-pyramid.ts';
import { composeFrame } from '../../core/picture/composite/compose-frame.ts';
import { levelsNow, resolveLook } from '../../core/picture/look/look.ts';
import { shutterTimes } from '../../core/picture/pin/shutter-path.ts';
import { homographyBetweenQuads } from '../../core/base/geometry/estimate-homography.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import { median } from '../../core/base/image/statistics.ts';
import { readStill } from '../../server/media/content.ts';
import { loadOpenCv } from '../reference/opencv.ts';
import type { FigureRow } from './figure-row.ts';

const WIDTH = 1920;
const HEIGHT = 1080;
const STEPS = 16;
const ROUNDS = 9;
/** A screen over most of the picture, and as fast as a half-open shutter needs sixteen sub-frames for. */
const NOW: Quad = [
  [330, 170],
  [1560, 120],
  [1620, 930],
  [290, 870],
];
const SPEED = 12.6;
const movedBy = (by: number): Quad => NOW.map(([x, y]) => [x + by, y + 0.1 * by] as const) as unknown as Quad;

/** A final 1080p frame with sixteen sub-frames beside sixteen warps of the reference library, which blends, softens and lays nothing: each on one thread, in turns. */
export async function smearSpeed(): Promise<FigureRow[]> {
  const cv = await loadOpenCv();
  const still = await readStill(join(import.meta.dirname, '../../demo/content/orders.png'));
  const look = resolveLook({ levels: { black: 0.06, white: 0.86 }, soften: 1, motionBlur: { shutter: 180, phase: 0 } });
  const motion = { before: movedBy(-SPEED), now: NOW, after: movedBy(SPEED) };
  const times = shutterTimes(motion, look.motionBlur as never);
  const pyramid = buildContentPyramid(still, levelsNow(look.levels, 0));
  if (times.length !== STEPS) throw new Error(`${times.length} sub-frames`);
  const plate = { width: WIDTH, height: HEIGHT, data: new Uint8Array(3 * WIDTH * HEIGHT).fill(90), peak: 255 as const };
  const content: [number, number][] = [
    [0, 0],
    [still.width, 0],
    [still.width, still.height],
    [0, still.height],
  ];
  const source = new cv.Mat(still.height, still.width, cv.CV_8UC4);
  const seen = new cv.Mat();
  const size = new cv.Size(WIDTH, HEIGHT);
  const zero = new cv.Scalar(0);
  source.data.set(still.data);
  const maps = times.map((t) =>
    cv.matFromArray(3, 3, cv.CV_64FC1, [...homographyBetweenQuads(content as unknown as Quad, movedBy(t * SPEED))!]),
  );
  const ours: number[] = [];
  const theirs: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    let started = performance.now();
    composeFrame(
      plate,
      { contents: [{ pyramid }], motion, ratio: still.width / still.height, look, frame: 0, reference: NOW },
      'final',
    );
    ours.push(performance.now() - started);
    started = performance.now();
    for (const map of maps) cv.warpPerspective(source, seen, map, size, cv.INTER_LINEAR, cv.BORDER_CONSTANT, zero);
    theirs.push(performance.now() - started);
  }
  for (const mat of [source, seen, ...maps]) mat.delete();
  const asked = spawnSync(
    '/usr/bin/python3',
    [
      join(import.meta.dirname, '../reference/native-warps.py'),
      String(WIDTH),
      String(HEIGHT),
      String(still.width),
      String(still.height),
      JSON.stringify(NOW),
      String(STEPS),
      String(SPEED),
    ],
    { encoding: 'utf8' },
  );
  const native = asked.status === 0 ? Number(asked.stdout) : NaN;
  const own = median(ours);
  const library = median(theirs);
  console.log(
    'smear at 1080p, ms: ours',
    own.toFixed(0),
    'library, JavaScript build',
    library.toFixed(0),
    'native, one thread',
    native.toFixed(0),
  );
  return [
    {
      title: `1080p final frame with ${STEPS} sub-frames (${own.toFixed(0)} ms) against ${STEPS} warps of the library alone (JavaScript build ${library.toFixed(0)} ms; native, one thread, ${Number.isNaN(native) ? '—' : native.toFixed(0)} ms)`,
      unit: '×',
      digits: 2,
      seeds: [own / library],
      asked: 0.7,
      below: true,
    },
  ];
}
