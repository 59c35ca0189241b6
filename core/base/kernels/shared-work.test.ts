import { Worker } from 'node:worker_threads';
import { expect, test } from 'vitest';
import { compiledFactory } from '../../../server/kernels/load-kernels.ts';
import { slowPart, type HelpingTask } from '../../../server/test/helping-thread.ts';
import { wavePlane } from '../../test/planes.ts';
import { SharedWork, workBlock } from './shared-work.ts';

const UNITS = 4000;
const task = (): HelpingTask => ({
  block: workBlock(),
  out: new Float64Array(new SharedArrayBuffer(8 * UNITS)),
  by: new Int32Array(new SharedArrayBuffer(4 * UNITS)),
  end: new Int32Array(new SharedArrayBuffer(4)),
});
const complete = ({ out, by }: HelpingTask, factor: number) =>
  out.every((v, i) => v === factor * i) && by.every((thread) => thread > 0);

test(
  'two threads share the parts of a piece of work, each done once; the next piece begins anew',
  { timeout: 30_000 },
  async () => {
    const shared = task();
    const work = new SharedWork(shared.block, slowPart(shared));
    const helper = new Worker(new URL('../../../scripts/ts-worker.mjs', import.meta.url), {
      workerData: { ...shared, entry: new URL('../../../server/test/helping-thread.ts', import.meta.url).href },
    });
    try {
      await new Promise((resolve, reject) => helper.once('message', resolve).once('error', reject));
      const byHelper: number[] = [];
      for (const factor of [2, 3, 5, 7]) {
        shared.by.fill(0);
        // What the parts return is added up whoever did them.
        expect(work.share(0, UNITS, 16, [factor])).toBe(UNITS);
        expect(complete(shared, factor)).toBe(true);
        byHelper.push(shared.by.filter((thread) => thread === 2).length);
      }
      expect(Math.max(...byHelper)).toBeGreaterThan(0);
      expect(Math.min(...byHelper)).toBeLessThan(UNITS);
    } finally {
      Atomics.store(shared.end, 0, 1);
      await helper.terminate();
    }
  },
);

test('without a helper the work is done all the same; small work is not given away', () => {
  const alone = task();
  const work = new SharedWork(alone.block, slowPart(alone));
  expect(work.share(0, UNITS, 64, [4])).toBe(UNITS);
  expect(complete(alone, 4)).toBe(true);
  expect(alone.by.every((thread) => thread === 1)).toBe(true);
  expect(work.share(0, 10, 64, [1])).toBe(10);
});

test('compiled kernels give the same with a helping thread, however often', { timeout: 30_000 }, () => {
  const width = 640;
  const height = 400;
  const codes = Uint8Array.from(wavePlane(width, height).data, (v) => 255 * v);
  const lookUp = Float32Array.from({ length: 256 }, (_, i) => i / 255 + 0.005);
  const made = (shared: boolean) => {
    const set = compiledFactory().open(8 * 4 * width * height, shared);
    const value = set.floats(width * height);
    const half = set.floats((width * height) / 4);
    return () => {
      set.signal(codes, width, height, lookUp, value);
      set.pyramidDown(value, width, height, half);
      return Buffer.concat([value, half].map((plane) => Buffer.from(Float32Array.from(plane).buffer)));
    };
  };
  const [alone, helped] = [made(false), made(true)];
  const expected = alone();
  for (let round = 0; round < 25; round++) expect(helped().equals(expected)).toBe(true);
});
