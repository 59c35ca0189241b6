import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { homographyBetweenQuads } from '../core/base/geometry/estimate-homography.ts';
import { applyToPoint } from '../core/base/geometry/homography.ts';
import { UNIT_SQUARE } from '../core/base/geometry/quad.ts';
import { inProcess } from './test/in-process.ts';
import { runTool } from '../server/media/run-tool.ts';
import { temporaryFolder } from '../server/test/folders.ts';
import { QUADS, TRACK } from './test/small-track.ts';

const folder = temporaryFolder();
const at = (name: string) => join(folder.path, name);

const yarlop = (...args: string[]) => inProcess(folder.path, args);
const done = async (...args: string[]) => expect(await yarlop(...args)).toMatchObject({ code: 0 });
const text = (name: string) => readFileSync(at(name), 'utf8');

beforeAll(() => {
  writeFileSync(at('track.json'), JSON.stringify(TRACK));
  writeFileSync(
    at('look.json'),
    JSON.stringify({
      shapes: [
        {
          name: 'thumb',
          points: [
            [100, 80],
            [140, 84],
            [120, 130],
          ],
        },
      ],
    }),
  );
});
afterAll(() => folder.remove());

describe('export', () => {
  // What each format holds is tested in core/handoff/exchange; here that the command writes it.
  test.each(['corners-csv', 'corners-json', 'homography-csv', 'homography-json', 'css-html'])('%s', async (format) => {
    await done('export', '--track', 'track.json', '--format', format, '--out', `e.${format}`);
    const written = text(`e.${format}`);
    if (format.endsWith('csv')) {
      const rows = written.split('\n').filter((l) => /^\d/.test(l));
      expect(rows).toHaveLength(4);
      if (format === 'homography-csv') for (const row of rows) expect(row.split(',').map(Number)).toHaveLength(10);
    } else if (format.endsWith('json')) expect((JSON.parse(written) as { frames: unknown[] }).frames).toHaveLength(4);
    else expect(written.length).toBeGreaterThan(100);
  });

  test('coordinates as asked for; wrong ones are named', async () => {
    await done(
      'export',
      '--track',
      'track.json',
      '--format',
      'corners-csv',
      '--frame-base',
      'plate',
      '--y',
      'up',
      '--pixel-centre',
      'integer',
      '--order',
      'rows',
      '--decimals',
      '3',
      '--shutter',
      '180,0',
      '--out',
      'up.csv',
    );
    expect(
      text('up.csv')
        .split('\n')
        .find((l) => l.startsWith('1002,')),
    ).toBe(
      `1002,${[QUADS[1]![0], QUADS[1]![1], QUADS[1]![3], QUADS[1]![2]].flatMap(([x, y]) => [x - 0.5, 200 - y - 0.5]).join(',')}`,
    );
    expect(
      (
        await yarlop(
          'export',
          '--track',
          'track.json',
          '--format',
          'corners-csv',
          '--order',
          'spiral',
          '--out',
          'x.csv',
        )
      ).stderr,
    ).toMatch(/^yarlop: the command: order .*clockwise/);
    expect(
      (await yarlop('export', '--track', 'track.json', '--format', 'everything', '--out', 'x.csv')).stderr,
    ).toMatch(/--format is "everything"; it must be one of corners-csv, .*st-map/);
  });

  test('ST maps: 32-bit EXR, read by another house’s reader, lead each pixel where the homography does', async () => {
    await done('export', '--track', 'track.json', '--format', 'st-map', '--out', 'maps/st.%04d.exr');
    expect(readdirSync(at('maps')).sort()).toEqual(['st.1001.exr', 'st.1002.exr', 'st.1003.exr', 'st.1004.exr']);
    // ffmpeg's own OpenEXR decoder; its planes are green, blue, red, alpha.
    const read = await runTool(
      'ffmpeg',
      ['-v', 'error', '-y', '-i', at('maps/st.1003.exr'), '-f', 'rawvideo', '-pix_fmt', 'gbrapf32le', at('map.raw')],
      20_000,
    );
    expect(read.stderr).toBe('');
    const bytes = readFileSync(at('map.raw'));
    const planes = new Float32Array(bytes.buffer, bytes.byteOffset, 4 * 320 * 200);
    const n = 320 * 200;
    const to = homographyBetweenQuads(UNIT_SQUARE, QUADS[2]!)!;
    let seen = 0;
    let worst = 0;
    for (let row = 0; row < 200; row++) {
      for (let col = 0; col < 320; col++) {
        const i = row * 320 + col;
        if (planes[3 * n + i] !== 1) continue;
        const [x, y] = applyToPoint(to, [planes[2 * n + i]!, planes[i]!]);
        worst = Math.max(worst, Math.hypot(x - col - 0.5, y - row - 0.5));
        seen++;
      }
    }
    expect(seen).toBeGreaterThan(15_000);
    expect(worst).toBeLessThan(0.01);
    await done(
      'export',
      '--track',
      'track.json',
      '--format',
      'st-map',
      '--inverse',
      '--content-size',
      '64x48',
      '--overscan',
      '8',
      '--frames',
      '2-2',
      '--out',
      'back.%d.exr',
    );
    expect(
      (
        await runTool(
          'ffprobe',
          ['-v', 'error', '-show_entries', 'stream=width,height', '-of', 'csv=p=0', at('back.1003.exr')],
          20_000,
        )
      ).stdout.trim(),
    ).toMatch(/^(64,48|80,64)$/);
    const half = await yarlop(
      'export',
      '--track',
      'track.json',
      '--format',
      'st-map',
      '--bits',
      '16',
      '--frames',
      '0-0',
      '--out',
      'half.%d.exr',
    );
    expect(half.stderr).toMatch(/half floats tell places to 0\.08 px at 320 px/);
    expect((await yarlop('export', '--track', 'track.json', '--format', 'st-map', '--out', 'st.exr')).stderr).toMatch(
      /must be numbered files such as st-map\.%04d\.exr/,
    );
  });

  test('shapes of a look as SVG a frame, and as JSON', async () => {
    await done(
      'export',
      '--track',
      'track.json',
      '--look',
      'look.json',
      '--format',
      'shapes-svg',
      '--out',
      's.%04d.svg',
    );
    await done(
      'export',
      '--track',
      'track.json',
      '--look',
      'look.json',
      '--format',
      'shapes-json',
      '--out',
      'shapes.json',
    );
    const shapes = JSON.parse(text('shapes.json')) as {
      frames: { outlines: { points: [number, number][] }[] }[];
      shapes: { name: string }[];
    };
    const [x, y] = applyToPoint(homographyBetweenQuads(QUADS[1]!, QUADS[3]!)!, [100, 80]);
    expect(shapes.shapes[0]!.name).toBe('thumb');
    expect(shapes.frames[3]!.outlines[0]!.points[0]![0]).toBeCloseTo(x, 2);
    expect(text('s.1004.svg')).toContain(`M${Number(x.toFixed(3))} ${Number(y.toFixed(3))}L`);
    expect(text('s.1004.svg')).not.toMatch(/<(animate|set)/);
    expect(
      (await yarlop('export', '--track', 'track.json', '--format', 'shapes-json', '--out', 'none.json')).stderr,
    ).toMatch(/has no shapes in front\. Draw them/);
  });
});
