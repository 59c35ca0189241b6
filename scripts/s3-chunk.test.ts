import { execFile } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { writeTrack } from '../core/handoff/exchange/track-file.ts';
import { homographyBetweenQuads } from '../core/base/geometry/estimate-homography.ts';
import type { Quad } from '../core/base/geometry/quad.ts';
import { S3Store } from '../demo/stand-ins/s3-store.ts';
import type { Truth } from '../demo/truth.ts';

/** The recipe of docs/farm.md with Debian's s3cmd, on a stand-in of the store. */
const ROOT = join(import.meta.dirname, '..');
const FRAMES = 4;
const run = promisify(execFile);
let store: S3Store, folder: string;

beforeAll(async () => {
  store = await S3Store.start('FERNHOLLOW');
  folder = mkdtempSync(join(tmpdir(), 'yarlop-s3-'));
  writeFileSync(
    join(folder, 's3cfg'),
    `[default]\naccess_key = FERNHOLLOW\nsecret_key = ferns\nhost_base = ${store.host}\nhost_bucket = ${store.host}\nuse_https = False\nsignature_v2 = False\n`,
  );
  const truth = JSON.parse(readFileSync(join(ROOT, 'demo/clips/orders-laptop.truth.json'), 'utf8')) as Truth;
  const quad = (frame: number) => truth.frames[frame]!.corners as unknown as Quad;
  const track = writeTrack(
    {
      pixelCentre: 'half',
      width: truth.width,
      height: truth.height,
      rate: [25, 1],
      referenceFrame: 0,
      corners: quad(0),
    },
    Array.from({ length: FRAMES }, (_, frame) => ({
      frame,
      homography: homographyBetweenQuads(quad(0), quad(frame)),
      error: 0,
      confidence: 1,
    })),
  );
  const files = {
    'plate.mp4': readFileSync(join(ROOT, 'demo/clips/orders-laptop.mp4')),
    'track.json': Buffer.from(JSON.stringify(track)),
    'look.json': Buffer.from('{"soften":1}'),
    'content.png': readFileSync(join(ROOT, 'demo/content/orders.png')),
  };
  for (const [name, bytes] of Object.entries(files)) {
    store.put(`shots/orders/${name}`, bytes);
    writeFileSync(join(folder, name), bytes);
  }
});
afterAll(async () => {
  await store.stop();
  rmSync(folder, { recursive: true, force: true });
});

const chunk = (index: number, config = 's3cfg') =>
  run('sh', [join(ROOT, 'docs/farm/s3-chunk.sh'), String(index)], {
    env: {
      ...process.env,
      YARLOP: ROOT,
      S3_SHOT: 's3://shots/orders',
      FRAMES: String(FRAMES),
      CHUNK: '2',
      S3CMD: `s3cmd -c ${join(folder, config)}`,
    },
  });
const pictures = () => [...store.objects.keys()].filter((name) => name.startsWith('shots/orders/frames/')).sort();

test('chunks are rendered from the store and put back into it; done again, a chunk gives the same bytes as without the store', async () => {
  await chunk(1);
  expect(pictures()).toEqual(['shots/orders/frames/frame.0002.png', 'shots/orders/frames/frame.0003.png']);
  const before = store.objects.get('shots/orders/frames/frame.0002.png')!.etag;
  mkdirSync(join(folder, 'own'));
  await run(process.execPath, [
    join(ROOT, 'bin/yarlop'),
    'render',
    '--plate',
    join(folder, 'plate.mp4'),
    '--track',
    join(folder, 'track.json'),
    '--look',
    join(folder, 'look.json'),
    '--content',
    join(folder, 'content.png'),
    '--frames',
    '2-2',
    '--out',
    join(folder, 'own/frame.%04d.png'),
  ]);
  expect(
    Buffer.compare(
      store.objects.get('shots/orders/frames/frame.0002.png')!.bytes,
      readFileSync(join(folder, 'own/frame.0002.png')),
    ),
  ).toBe(0);
  await chunk(1);
  expect(store.objects.get('shots/orders/frames/frame.0002.png')!.etag).toBe(before);
  // Past the end there is nothing to do.
  await chunk(9);
  expect(pictures()).toHaveLength(2);
}, 120_000);

test('a store that refuses the key, or lacks a file, is reported by the client, and nothing is rendered', async () => {
  writeFileSync(join(folder, 'other'), readFileSync(join(folder, 's3cfg'), 'utf8').replace('FERNHOLLOW', 'SOMEBODY'));
  await expect(chunk(0, 'other')).rejects.toThrow(/403|AccessDenied/);
  store.objects.delete('shots/orders/look.json');
  await expect(chunk(0)).rejects.toThrow(/look\.json|404/);
  expect(pictures()).toHaveLength(2);
}, 60_000);
