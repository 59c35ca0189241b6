import { execa } from 'execa';
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { cornerErrors, jobFromTruth } from '../bench/accuracy-job.ts';
import { cornersByFrame } from '../core/handoff/exchange/track-file.ts';
import { checked } from '../core/base/schemas/check.ts';
import type { FollowJob, TrackFile } from '../core/base/schemas/types.ts';
import { contains } from '../core/base/geometry/polygon.ts';
import type { Truth } from '../demo/truth.ts';
import { probe } from '../server/media/probe.ts';
import { resolveSource } from '../server/media/source.ts';
import { ffmpeg, numberedPictures } from '../server/test/media-files.ts';
import { inProcess } from './test/in-process.ts';
import { ROOT, temporaryFolder } from '../server/test/folders.ts';
import { shortClip } from '../server/test/prepared-shot.ts';
import { frames } from '../server/test/decoded-frames.ts';

const folder = temporaryFolder();
const at = (name: string) => join(folder.path, name);
const plate = at('orders-laptop.mp4');
const content = join(ROOT, 'demo/content/orders.png');
let truth: Truth;
let job: FollowJob;

/** Runs the program itself, as a script would. */
async function asProcess(...args: string[]): Promise<{ code: number; stderr: string; stdout: string }> {
  const result = await execa(join(ROOT, 'bin/yarlop'), args, { reject: false, cwd: folder.path });
  return { code: result.exitCode ?? -1, stderr: result.stderr, stdout: result.stdout };
}
const yarlop = (...args: string[]) => inProcess(folder.path, args);
const RENDER = ['render', '--plate', plate, '--track', at('track.json'), '--content', content];
function write(name: string, value: unknown): string {
  writeFileSync(at(name), typeof value === 'string' ? value : JSON.stringify(value));
  return at(name);
}

beforeAll(async () => {
  const clip = await shortClip(80);
  writeFileSync(plate, clip.bytes);
  truth = clip.truth;
  job = { ...jobFromTruth(truth), frames: [36, 44] };
  write('job.json', job);
  expect(await asProcess('track', '--plate', plate, '--job', at('job.json'), '--out', at('track.json'))).toMatchObject({
    code: 0,
  });
});
afterAll(() => folder.remove());
const track = () => JSON.parse(readFileSync(at('track.json'), 'utf8')) as TrackFile;

describe('track', () => {
  test('writes a track that fits its schema and the truth', () => {
    const file = checked('track', track(), 'track.json');
    expect(file).toMatchObject({ pixelCentre: 'half', width: 640, height: 360, rate: [25, 1], referenceFrame: 40 });
    expect(file.frames.map((f) => f.frame)).toEqual([36, 37, 38, 39, 40, 41, 42, 43, 44]);
    const errors = cornerErrors({ ...truth, frames: truth.frames.slice(36, 45) }, cornersByFrame(file));
    expect(errors).toMatchObject({ lost: 0, under1: 1 });
    expect(errors.mean).toBeLessThan(0.3);
  });
  test('integer pixel centres: all coordinates are half a pixel less', async () => {
    const less = (p: readonly (readonly [number, number])[]) => p.map(([x, y]) => [x - 0.5, y - 0.5]);
    write('integer.json', {
      ...job,
      frames: [39, 43],
      pixelCentre: 'integer',
      corners: less(job.corners),
      regions: job.regions.map((r) => ({ points: less(r.points) })),
    });
    expect(
      (await yarlop('track', '--plate', plate, '--job', at('integer.json'), '--out', at('integer.track.json'))).code,
    ).toBe(0);
    const [a, b] = [
      track().frames.find((f) => f.frame === 41)!,
      (JSON.parse(readFileSync(at('integer.track.json'), 'utf8')) as TrackFile).frames.find((f) => f.frame === 41)!,
    ];
    a.corners!.forEach(([x, y], i) => {
      expect(b.corners![i]![0]).toBeCloseTo(x - 0.5, 2);
      expect(b.corners![i]![1]).toBeCloseTo(y - 0.5, 2);
    });
  });
  test('a folder of numbered pictures is followed at the rate that is given', async () => {
    mkdirSync(at('plate'));
    await ffmpeg('-i', plate, '-frames:v', '3', '-start_number', '1001', at('plate/p.%04d.png'));
    const corners = truth.frames[0]!.corners;
    write('seq.json', {
      pixelCentre: 'half',
      referenceFrame: 0,
      motion: 'perspective',
      points: 1500,
      regions: [{ points: corners }],
      corners,
      keepOut: [
        {
          points: [
            [5, 5],
            [9, 5],
            [9, 9],
          ],
          fixed: true,
        },
      ],
    });
    const run = await yarlop(
      'track',
      '--plate',
      at('plate/p.%04d.png'),
      '--job',
      at('seq.json'),
      '--out',
      at('seq.track.json'),
      '--rate',
      '24000/1001',
    );
    expect(run).toMatchObject({ code: 0 });
    expect(JSON.parse(readFileSync(at('seq.track.json'), 'utf8'))).toMatchObject({
      rate: [24000, 1001],
      firstFrameNumber: 1001,
      frames: [{ frame: 0 }, { frame: 1 }, { frame: 2 }],
    });
    const unsaid = await yarlop(
      'track',
      '--plate',
      at('plate'),
      '--job',
      at('seq.json'),
      '--out',
      at('seq.track.json'),
    );
    expect(unsaid.stderr).toMatch(/25\/1 assumed/);
  });
  test('over a cut it lets go and says where and why; with a last pass and outlines that are not in use', async () => {
    await ffmpeg(
      '-i',
      plate,
      '-frames:v',
      '6',
      '-vf',
      "split[a][b];[b]hflip,vflip,negate[c];[a][c]overlay=enable='gte(t,0.14)'",
      '-c:v',
      'ffv1',
      at('cut.mkv'),
    );
    const corners = truth.frames[0]!.corners;
    const elsewhere = {
      points: [
        [4, 4],
        [60, 4],
        [60, 60],
        [4, 60],
      ],
      off: true,
    };
    write('cut.json', {
      pixelCentre: 'half',
      referenceFrame: 0,
      motion: 'perspective',
      points: 1500,
      regions: [{ points: truth.frames[0]!.corners }, elsewhere],
      keepOut: [{ points: corners, off: true }],
      corners,
      lastPass: true,
    });
    const run = await yarlop('track', '--plate', at('cut.mkv'), '--job', at('cut.json'), '--out', at('cut.track.json'));
    expect(run.code).toBe(0);
    expect(run.stderr).toMatch(/frames 4-5 lost: [a-z ]+: \w/);
    const written = checked('track', JSON.parse(readFileSync(at('cut.track.json'), 'utf8')), 'cut.track.json');
    expect(written.frames.map((f) => [f.frame, f.corners !== undefined])).toEqual([
      [0, true],
      [1, true],
      [2, true],
      [3, true],
      [4, false],
      [5, false],
    ]);
    expect(cornerErrors({ ...truth, frames: truth.frames.slice(0, 4) }, cornersByFrame(written)).mean).toBeLessThan(
      0.3,
    );
    write('off.json', { ...job, regions: job.regions.map((region) => ({ ...region, off: true })) });
    expect(
      await yarlop('track', '--plate', plate, '--job', at('off.json'), '--out', at('off.track.json')),
    ).toMatchObject({ code: 1, stderr: expect.stringMatching(/no region to follow/) as unknown });
  });
});

describe('render', () => {
  test('content sits inside the corners, the plate is untouched outside; size, rate and length are the plate’s', async () => {
    expect((await yarlop(...RENDER, '--frames', '38-40', '--out', at('out.mkv'))).code).toBe(0);
    expect(await probe(resolveSource(at('out.mkv')))).toMatchObject({
      width: 640,
      height: 360,
      rate: [25, 1],
      frames: 3,
      codec: 'ffv1',
    });
    const [out, filmed] = [(await frames(at('out.mkv')))[2]!, (await frames(plate))[40]!];
    const corners = truth.frames[40]!.corners;
    let outside = 0;
    let changed = 0;
    let inside = 0;
    for (let row = 0; row < 360; row += 3) {
      for (let col = 0; col < 640; col += 3) {
        const i = (row * 640 + col) * 3;
        const differs = [0, 1, 2].some((c) => Math.abs(out.data[i + c]! - filmed.data[i + c]!) > 1);
        if (contains(corners, col + 0.5, row + 0.5)) {
          inside++;
          if (differs) changed++;
        } else if (differs) outside++;
      }
    }
    expect(changed / inside).toBeGreaterThan(0.98);
    // Only the covered half of border pixels may differ.
    expect(outside).toBeLessThan(200);
  });
  test('opacity 0 gives the plate back within 1/255', async () => {
    write('clear.json', { opacity: 0 });
    expect(
      (await yarlop(...RENDER, '--look', at('clear.json'), '--frames', '40-40', '--out', at('clear.mkv'))).code,
    ).toBe(0);
    const [out, filmed] = [(await frames(at('clear.mkv')))[0]!, (await frames(plate))[40]!];
    let most = 0;
    for (let i = 0; i < out.data.length; i++) most = Math.max(most, Math.abs(out.data[i]! - filmed.data[i]!));
    expect(most).toBeLessThanOrEqual(1);
  });
  test('numbered pictures carry the plate’s own numbers; frames without corners stay as filmed and are named', async () => {
    const run = await yarlop(
      'render',
      '--plate',
      at('plate'),
      '--track',
      at('seq.track.json'),
      '--content',
      content,
      '--out',
      at('r.%04d.png'),
    );
    expect(run.code).toBe(0);
    expect(
      readdirSync(folder.path)
        .filter((f) => /^r\.\d+\.png$/.test(f))
        .sort(),
    ).toEqual(['r.1001.png', 'r.1002.png', 'r.1003.png']);
    const beyond = await yarlop(...RENDER, '--frames', '43-46', '--out', at('beyond.mp4'));
    expect(beyond.stderr).toMatch(/without corners: 45–46/);
  });
  test('a clip as content starts with the plate and stays on its last frame', async () => {
    await numberedPictures(at('content'), [1, 2], 'c.', { width: 64, height: 40 });
    expect(
      (
        await yarlop(
          'render',
          '--plate',
          at('plate'),
          '--track',
          at('seq.track.json'),
          '--content',
          at('content/c.%04d.png'),
          '--out',
          at('clip.mkv'),
        )
      ).code,
    ).toBe(0);
    expect(await frames(at('clip.mkv'))).toHaveLength(3);
  });
});
