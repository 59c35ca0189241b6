/**
 * How many finished 1080p frames two cores make in a second, ours and the reference library's, in the same run: two processes at once, each half of
 * the frames, full look, written as PNG. `npm run bench:final`.
 */
import { fork } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { PinnedSurface } from '../../core/picture/pin/pinned-surface.ts';
import { median } from '../../core/base/image/statistics.ts';
import { loadKernels } from '../../server/kernels/load-kernels.ts';
import { writePng } from '../../server/media/encode.ts';
import { writeSection } from '../document-section.ts';
import { libraryComposite } from '../reference/library-composite.ts';
import { FRAMES, shotAt } from '../front/shot-at.ts';
import { SpeedRun } from '../front/speed-shot.ts';

/** Frames that each process makes before it is timed: a render is hundreds of frames long, and compilers learn on the first. */
const WARM = 24;
const PROCESSES = 2;
const ROUNDS = 3;
const [mode, part, folder] = process.argv.slice(2);
if (mode === undefined) await compare();
else await work(mode as 'ours' | 'library', Number(part), folder!);

/** One process: gets ready, waits for the start, makes its frames, tells the time. */
async function work(who: 'ours' | 'library', index: number, out: string): Promise<void> {
  loadKernels();
  const run = new SpeedRun(await shotAt(1080));
  const frames = Array.from({ length: FRAMES }, (_, f) => f).filter((f) => f % PROCESSES === index);
  const surfaces: PinnedSurface[] = [];
  // Boards are drawn before, for both: the library has no such thing.
  for (const frame of frames) surfaces.push(await run.surface(frame, 'final'));
  const make = async (i: number) => {
    const frame = frames[i]!;
    const plate = run.plate(frame);
    const picture =
      who === 'ours'
        ? run.compose(frame, surfaces[i]!, 'final')
        : { ...plate, data: (await libraryComposite(plate, surfaces[i]!)).picture };
    await writePng(join(out, `${who}-${frame}.png`), picture);
  };
  for (let i = 0; i < WARM; i++) await make(i % frames.length);
  process.send!('ready');
  process.on(
    'message',
    () =>
      void (async () => {
        const began = performance.now();
        for (const i of frames.keys()) await make(i % frames.length);
        process.send!(performance.now() - began);
      })(),
  );
}

async function compare(): Promise<void> {
  const out = mkdtempSync(join(tmpdir(), 'yarlop-final-'));
  const rates = { ours: [] as number[], library: [] as number[] };
  for (let round = 0; round < ROUNDS; round++) {
    for (const who of ['ours', 'library'] as const) {
      const children = Array.from({ length: PROCESSES }, (_, i) =>
        fork(import.meta.filename, [who, String(i), out], { execArgv: process.execArgv }),
      );
      await Promise.all(children.map((child) => once(child, 'message')));
      const began = performance.now();
      const done = Promise.all(children.map((child) => once(child, 'message')));
      for (const child of children) child.send('go');
      await done;
      rates[who].push((FRAMES / (performance.now() - began)) * 1000);
      for (const child of children) child.kill();
    }
    console.log(
      `round ${round + 1}: ours ${rates.ours.at(-1)!.toFixed(2)}, library ${rates.library.at(-1)!.toFixed(2)} frames a second`,
    );
  }
  rmSync(out, { recursive: true });
  const [ours, library] = [median(rates.ours), median(rates.library)];
  const times = ours / library;
  console.log(`ours ${ours.toFixed(2)}, library ${library.toFixed(2)} frames a second: ${times.toFixed(2)} times`);
  writeSection(
    join(import.meta.dirname, '../../docs/performance.md'),
    'final',
    `## Final frames on two cores

\`npm run bench:final\`. The shipped held phone at 1920×1080 with its key, spill, three soft shapes, softness and motion blur, boards drawn before; two processes at
once, each half of ${FRAMES} frames, written as PNG; median of ${ROUNDS} rounds in turns, in the same run.

| what | frames a second | asked |
|---|---|---|
| ours | ${ours.toFixed(2)} (${rates.ours.map((v) => v.toFixed(2)).join(', ')}) | |
| the same steps by OpenCV 4.12's JavaScript build | ${library.toFixed(2)} (${rates.library.map((v) => v.toFixed(2)).join(', ')}) | |
| ours over the library's | ${times.toFixed(2)} | 1.4: ${times >= 1.4 ? 'reached' : 'not reached'} |

Each process makes ${WARM} frames before. The library looks at each moment of the smear between two levels of the content, sweeps outline and shapes through the shutter and tells the border by
brightness, as ours does; where it has no function for a step (exact coverage, markers carried through the smear, solving for luma) a cheaper one stands for it.
`,
  );
}
