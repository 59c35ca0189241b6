import { execa } from 'execa';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { FRAME, greenScreen } from '../core/test/green-screen.ts';
import { FRAMES, greenPlate, W } from './test/green-plate.ts';

const { folder, at, scenes, film, write, frames, yarlop, prepare } = greenPlate();
const near = (values: readonly number[], precision: number): unknown[] =>
  values.map((v): unknown => expect.closeTo(v, precision));

beforeAll(prepare);
afterAll(() => folder.remove());

describe('yarlop render with something in front', () => {
  test('`measure` finds the key; the matte is 8-bit grey in full range, 255 where content is seen', async () => {
    const { code, said } = await yarlop(
      '--content',
      at('blue.png'),
      '--look',
      write('look.json', { keys: 'measure', spill: 'measure' }),
      '--out',
      at('out.mkv'),
      '--matte',
      at('matte.mkv'),
    );
    expect([code, said]).toEqual([0, expect.stringContaining('measured: {"keys":[{"colour":')]);
    const facts = await execa('ffprobe', [
      '-v',
      'error',
      '-show_entries',
      'stream=pix_fmt,color_range',
      '-of',
      'csv=p=0',
      at('matte.mkv'),
    ]);
    expect(facts.stdout.trim()).toBe('gray,pc');
    const mattes = await frames('matte.mkv');
    const out = await frames('out.mkv');
    expect(mattes).toHaveLength(FRAMES);
    mattes.forEach((matte, k) => {
      let off = 0;
      let n = 0;
      matte.forEach((v, i) => {
        const truth = scenes[k]!.screen[i]!;
        if (truth === 0 && v === 0) return;
        off += Math.abs(v / 255 - truth);
        n++;
      });
      expect(off / n).toBeLessThan(0.025);
      if (k < 5) expect(matte[60 * W + 112]).toBe(255);
    });
    // Content where the screen was, the bar as it was, grey.
    expect([...out[0]!.subarray((60 * W + 110) * 3, (60 * W + 110) * 3 + 3)]).toEqual(near([32, 48, 200], -1));
    const bar = [...out[0]!.subarray((60 * W + 57) * 3, (60 * W + 57) * 3 + 3)];
    expect(Math.max(...bar) - Math.min(...bar)).toBeLessThan(14);
  });

  test('a board in place of content, its picture told from where the board lies', async () => {
    const board = {
      format: 'yarlop-board/1',
      width: 160,
      height: 132,
      background: '#c82020',
      layers: [
        {
          id: 'page',
          kind: 'picture',
          media: 'blue.png',
          width: 160,
          height: 132,
          position: [
            { frame: 0, value: [0, 0] },
            { frame: 5, value: [0, -140] },
          ],
        },
        { id: 'word', kind: 'text', text: 'Bed 植', colour: '#ffffff', size: 20 },
      ],
    };
    const { code, said } = await yarlop(
      '--board',
      write('board.json', board),
      '--look',
      write('keyed.json', { keys: 'measure' }),
      '--out',
      at('board.mkv'),
    );
    expect([code, said]).toEqual([0, expect.stringContaining('has no “植”')]);
    const out = await frames('board.mkv');
    const pixel = (k: number) => [...out[k]!.subarray((80 * W + (k < 3 ? 108 : 60)) * 3).subarray(0, 3)];
    expect(pixel(0)[2]).toBeGreaterThan(180);
    expect(pixel(5)[0]).toBeGreaterThan(180);
  });

  test('a dark screen: the difference from the clean surface', async () => {
    const dark = Array.from({ length: FRAMES }, (_, k) => {
      const { picture, screen } = greenScreen({
        bar: [
          [42 + 13 * k, 0],
          [54 + 13 * k, 0],
          [54 + 13 * k, 120],
          [42 + 13 * k, 120],
        ],
        front: [0.22, 0.15, 0.1],
      });
      return (picture.data as Uint8Array).map((v, i) =>
        Math.round(v * (1 - screen[Math.floor(i / 3)]!) + 255 * Math.sqrt(FRAME[i % 3]!) * screen[Math.floor(i / 3)]!),
      );
    });
    await film('plate.mkv', dark);
    try {
      const { code } = await yarlop(
        '--content',
        at('blue.png'),
        '--look',
        write('difference.json', { difference: {} }),
        '--out',
        at('dark.mkv'),
        '--matte',
        at('matte-dark.mkv'),
      );
      expect(code).toBe(0);
      const matte = (await frames('matte-dark.mkv'))[2]!;
      expect(matte[60 * W + 74]).toBeLessThan(40);
      expect(matte[60 * W + 100]).toBeGreaterThan(230);
      expect(
        (await yarlop('--content', at('blue.png'), '--look', at('look.json'), '--out', at('dark.mkv'))).said,
      ).toContain('shows no colour to key by');
    } finally {
      await film(
        'plate.mkv',
        scenes.map((s) => s.picture.data as Uint8Array),
      );
    }
  });

  test.each<[string, unknown, RegExp]>([
    ['grey.json', { keys: [{ colour: [0.2, 0.22, 0.2] }] }, /keys\/0\/colour.*too near grey/],
    [
      'two.json',
      {
        shapes: [
          {
            points: [
              [1, 1],
              [5, 5],
            ],
          },
        ],
      },
      /shapes\/0\/points.*three or more/,
    ],
    ['word.json', { keys: 'guess' }, /keys/],
    [
      'fold.json',
      {
        mesh: {
          columns: 2,
          rows: 1,
          keys: [
            {
              frame: 0,
              points: [
                [0, 0],
                [1.4, 0],
                [1, 0],
                [0, 1],
                [0.5, 1],
                [1, 1],
              ],
            },
          ],
        },
      },
      /folded over itself/,
    ],
  ])('%s: one sentence, and nothing is written', async (name, look, words) => {
    const { code, said } = await yarlop(
      '--content',
      at('blue.png'),
      '--look',
      write(name, look),
      '--out',
      at('never.mkv'),
    );
    expect(code).toBe(1);
    expect(said).toMatch(words);
  });
  test('one file for picture and matte', async () =>
    expect(
      (await yarlop('--content', at('blue.png'), '--out', at('same.mkv'), '--matte', at('same.mkv'))).said,
    ).toContain('a name of its own'));
  test('no content and no board', async () =>
    expect((await yarlop('--out', at('never.mkv'))).said).toContain('--content is missing'));
  test('a board whose picture is not there', async () => {
    const board = {
      format: 'yarlop-board/1',
      width: 10,
      height: 10,
      layers: [{ id: 'p', kind: 'picture', media: 'gone.png' }],
    };
    expect((await yarlop('--board', write('gone.json', board), '--out', at('never.mkv'))).said).toContain('gone.png');
  });
});
