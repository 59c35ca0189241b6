/**
 * Follows a span of both shipped clips with our follower and with what the reference vision library has for
 * it, in the same run, and writes docs/comparison.md. `npm run bench`.
 *
 * - chained LK: corners found in the region (goodFeaturesToTrack) followed from frame to frame by pyramidal
 *   Lucas–Kanade, a homography from the reference by RANSAC (J.-Y. Bouguet, Pyramidal Implementation of the
 *   Lucas Kanade Feature Tracker, 2001).
 * - ECC: the reference's region registered to each frame, started from the frame before (G. Evangelidis,
 *   E. Psarakis, Parametric Image Alignment Using Enhanced Correlation Coefficient Maximization, PAMI 30(10), 2008).
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { LumaFrame } from '../core/follow/follow-plan.ts';
import { followSpan } from '../core/follow/follow-run.ts';
import { applyToPoints, compose, invert, translation, type Homography, type Point } from '../core/geometry/homography.ts';
import { fillPolygon } from '../core/geometry/polygon.ts';
import { bounds } from '../core/geometry/quad.ts';
import { lumaFromRaw } from '../core/image/raw-frame.ts';
import { SHIPPED } from '../demo/shots/index.ts';
import type { Truth } from '../demo/truth.ts';
import { decodeFrames } from '../server/media/decode.ts';
import { probe } from '../server/media/probe.ts';
import { resolveSource } from '../server/media/source.ts';
import { cornerErrors } from './accuracy-job.ts';
import { loadOpenCv, matFromCodes, matFromPoints, release, type Mat, type OpenCv } from './reference/opencv.ts';

const root = join(import.meta.dirname, '..');
/** Frames after the reference. */
const SPAN = 30;

type Follower = (plate: readonly LumaFrame[], truth: Truth) => Promise<Map<number, Homography>>;

async function lumaOf(clip: string): Promise<LumaFrame[]> {
  const source = resolveSource(clip);
  const facts = await probe(source);
  const frames: LumaFrame[] = [];
  for await (const bytes of decodeFrames(source, facts)) frames.push(lumaFromRaw(bytes, facts.layout));
  return frames;
}

const ours: Follower = async (plate, truth) => {
  const maps = new Map<number, Homography>();
  const last = truth.referenceFrame + SPAN;
  const run = followSpan({
    motion: 'perspective', regions: [{ points: truth.region }], keepOut: [], referenceFrame: truth.referenceFrame, frames: [truth.referenceFrame, last], direction: 'forward',
  }, async (frame) => plate[frame]!);
  for await (const fit of run) if (fit.homography) maps.set(fit.frame, fit.homography);
  return maps;
};

function regionMat(cv: OpenCv, truth: Truth): Mat {
  const mask = new Uint8Array(truth.width * truth.height);
  fillPolygon(mask, truth.width, truth.height, truth.region, 255);
  return matFromCodes(cv, mask, truth.width, truth.height);
}

/** The library counts pixel centres at integers. */
const toOurs = (h: Homography): Homography => compose(translation(0.5, 0.5), h, translation(-0.5, -0.5));

const chainedLk = (cv: OpenCv): Follower => async (plate, truth) => {
  const maps = new Map<number, Homography>([[truth.referenceFrame, [1, 0, 0, 0, 1, 0, 0, 0, 1]]]);
  const picture = (frame: number) => matFromCodes(cv, plate[frame]!.codes, truth.width, truth.height);
  const mask = regionMat(cv, truth), found = new cv.Mat();
  let before = picture(truth.referenceFrame);
  cv.goodFeaturesToTrack(before, found, 500, 0.005, 6, mask);
  let pairs = Array.from({ length: found.rows }, (_, i): { at: Point; start: Point } => {
    const p: Point = [found.data32F[2 * i]!, found.data32F[2 * i + 1]!];
    return { at: p, start: p };
  });
  for (let frame = truth.referenceFrame + 1; frame <= truth.referenceFrame + SPAN && pairs.length >= 8; frame++) {
    const now = picture(frame), from = matFromPoints(cv, pairs.map((p) => p.at)), to = new cv.Mat(), status = new cv.Mat(), error = new cv.Mat();
    cv.calcOpticalFlowPyrLK(before, now, from, to, status, error, new cv.Size(21, 21), 4, new cv.TermCriteria(cv.TermCriteria_EPS + cv.TermCriteria_COUNT, 30, 0.01));
    pairs = pairs.map((p, i) => ({ start: p.start, at: [to.data32F[2 * i]!, to.data32F[2 * i + 1]!] as Point, kept: status.data[i] === 1 })).filter((p) => p.kept);
    if (pairs.length >= 8) {
      const [a, b] = [matFromPoints(cv, pairs.map((p) => p.start)), matFromPoints(cv, pairs.map((p) => p.at))];
      const h = cv.findHomography(a, b, cv.RANSAC, 2);
      if (h.rows === 3) maps.set(frame, toOurs([...h.data64F]));
      release(a, b, h);
    }
    release(before, from, to, status, error);
    before = now;
  }
  release(before, mask, found);
  return maps;
};

const ecc = (cv: OpenCv): Follower => async (plate, truth) => {
  const maps = new Map<number, Homography>([[truth.referenceFrame, [1, 0, 0, 0, 1, 0, 0, 0, 1]]]);
  const box = bounds(truth.region);
  const left = Math.max(0, Math.floor(box.left)), top = Math.max(0, Math.floor(box.top));
  const width = Math.min(truth.width, Math.ceil(box.right)) - left, height = Math.min(truth.height, Math.ceil(box.bottom)) - top;
  const reference = plate[truth.referenceFrame]!.codes;
  const template = matFromCodes(cv, Array.from({ length: width * height }, (_, i) => reference[(top + Math.floor(i / width)) * truth.width + left + (i % width)]!), width, height);
  const warp = new cv.Mat(3, 3, cv.CV_32FC1), mask = new cv.Mat();
  warp.data32F.set([1, 0, left, 0, 1, top, 0, 0, 1]);
  for (let frame = truth.referenceFrame + 1; frame <= truth.referenceFrame + SPAN; frame++) {
    const now = matFromCodes(cv, plate[frame]!.codes, truth.width, truth.height);
    try {
      cv.findTransformECC(template, now, warp, cv.MOTION_HOMOGRAPHY, new cv.TermCriteria(cv.TermCriteria_EPS + cv.TermCriteria_COUNT, 40, 1e-5), mask, 5);
      maps.set(frame, toOurs(compose([...warp.data32F], invert(translation(left, top))!)));
    } catch {
      break; // It does not converge any more: the rest is lost.
    } finally {
      release(now);
    }
  }
  release(template, warp, mask);
  return maps;
};

const cv = await loadOpenCv();
const rows: string[] = [];
for (const name of SHIPPED) {
  const plate = await lumaOf(join(root, `demo/clips/${name}.mp4`));
  const truth = JSON.parse(readFileSync(join(root, `demo/clips/${name}.truth.json`), 'utf8')) as Truth;
  const span: Truth = { ...truth, frames: truth.frames.filter((f) => f.frame >= truth.referenceFrame && f.frame <= truth.referenceFrame + SPAN) };
  const corners = truth.frames[truth.referenceFrame]!.corners;
  for (const [title, follow] of [['ours', ours], ['chained LK', chainedLk(cv)], ['ECC', ecc(cv)]] as const) {
    const started = performance.now();
    const maps = await follow(plate, truth);
    const perFrame = (performance.now() - started) / SPAN;
    const e = cornerErrors(span, new Map([...maps].map(([frame, h]) => [frame, applyToPoints(h, corners)])));
    rows.push(`| ${name} | ${title} | ${e.mean.toFixed(3)} | ${e.worst.toFixed(3)} | ${(100 * e.under1).toFixed(0)} % | ${e.lost} | ${perFrame.toFixed(0)} |`);
    console.log(rows.at(-1));
  }
}
writeFileSync(join(root, 'docs/comparison.md'), `# Beside the reference library

Made by \`npm run bench\`: the shipped H.264 clips, ${SPAN} frames forward from the reference frame with an exact seat, our
follower beside OpenCV 4.12's JavaScript build (WebAssembly, one thread) in the same run. Corner error as in
[accuracy.md](accuracy.md). Times are of the machine of that day, plain TypeScript kernels, one thread.

| shot | follower | mean px | worst px | frames < 1 px | lost | ms a frame |
|---|---|---|---|---|---|---|
${rows.join('\n')}
`);
