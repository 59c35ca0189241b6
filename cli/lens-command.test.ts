import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, expect, test } from 'vitest';
import { checked } from '../core/base/schemas/check.ts';
import { temporaryFolder } from '../server/test/folders.ts';
import { inProcess } from './test/in-process.ts';

const folder = temporaryFolder();
const yarlop = (...args: string[]) => inProcess(folder.path, args);
const lensOf = (name: string) => checked('lensFile', JSON.parse(readFileSync(join(folder.path, name), 'utf8')), name);
const PHOTOGRAPHS = '/usr/share/doc/opencv-doc/examples/data';
afterAll(() => folder.remove());

test('photographs of a chessboard (Debian’s opencv-doc) tell a lens; its maps tell the same; a plate’s job takes it', async () => {
  const boards = [1, 2, 3, 5, 7, 12].map((n) => join(PHOTOGRAPHS, `left${String(n).padStart(2, '0')}.jpg`)).join();
  expect(
    await yarlop('lens', '--boards', `${boards},${join(PHOTOGRAPHS, 'graf1.png')}`, '--out', 'x.json'),
  ).toMatchObject({ code: 1, stderr: expect.stringContaining('graf1.png is 800×640, the plate 640×480') as unknown });
  const said = await yarlop('lens', '--boards', boards, '--out', 'lens.json', '--maps', 'lens-%s.exr');
  const { lens, told, ...rest } = lensOf('lens.json');
  expect(said).toMatchObject({ code: 0, stderr: expect.stringContaining('chessboards in 6 of 6 pictures') as unknown });
  expect(rest).toEqual({ pixelCentre: 'half', width: 640, height: 480 });
  expect(told).toContain('focal length');
  // left_intrinsics.yml: 535.9 px.
  expect(Math.abs(lens.focal / 535.916 - 1)).toBeLessThan(0.01);
  for (const takes of ['out', 'in']) {
    expect(
      await yarlop('lens', '--map', `lens-${takes}.exr`, '--takes', takes, '--out', `${takes}.json`),
    ).toMatchObject({ code: 0 });
    const other = lensOf(`${takes}.json`).lens;
    expect(Math.hypot(other.centre[0] - lens.centre[0], other.centre[1] - lens.centre[1])).toBeLessThan(0.01);
    expect(other.k1 * (lens.focal / other.focal) ** 2).toBeCloseTo(lens.k1, 4);
  }
}, 60_000);

test('what is missing, doubled, of another shape or no board is said', async () => {
  for (const [args, words] of [
    [[], 'one of --boards, --map, --plate, --lens is missing'],
    [['--boards', 'a.png', '--map', 'b.exr'], '--boards and --map are given'],
    [['--map', 'lens-out.exr', '--size', '1920x1080'], 'The map is 640×480, the plate 1920×1080'],
    [['--map', 'lens-out.exr', '--takes', 'off'], 'the map takes the lens out or in'],
    [['--boards', join(PHOTOGRAPHS, 'graf1.png')], 'No chessboard was found in 1 pictures'],
    [['--map', join(PHOTOGRAPHS, 'graf1.png')], '8 bits only'],
    [['--lens', 'lens.json', '--maps', 'one.exr'], '%s becomes'],
  ] as const)
    expect(await yarlop('lens', ...args, '--out', 'y.json'), words).toMatchObject({
      code: 1,
      stderr: expect.stringContaining(words) as unknown,
    });
}, 60_000);
