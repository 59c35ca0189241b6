import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, describe, expect, test } from 'vitest';
import { temporaryFolder } from '../test/folders.ts';
import { resolveSource, spanWords } from './source.ts';

const folder = temporaryFolder();
afterAll(() => folder.remove());

const PNG_HEAD = Buffer.from('89504e470d0a1a0a0000000d49484452', 'hex');

function pictures(name: string, files: string[]): string {
  const path = join(folder.path, name);
  mkdirSync(path, { recursive: true });
  for (const file of files) writeFileSync(join(path, file), PNG_HEAD);
  return path;
}

describe('resolveSource', () => {
  test('tells clips, stills and folders of numbered pictures apart', () => {
    const path = pictures('run', ['b.0009.png', 'b.0010.png', 'b.0011.png', '.hidden']);
    expect(resolveSource(path)).toMatchObject({
      kind: 'sequence',
      spans: [[9, 11]],
      missing: [],
      pattern: join(path, 'b.%04d.png'),
    });
    expect(resolveSource(join(path, 'b.0010.png'))).toEqual({
      kind: 'still',
      format: 'png',
      file: join(path, 'b.0010.png'),
    });
    writeFileSync(join(folder.path, 'c.mov'), Buffer.from([0, 0, 0, 20, 102, 116, 121, 112]));
    expect(resolveSource(join(folder.path, 'c.mov')).kind).toBe('clip');
  });
  test('numbers without padding grow', () => {
    const path = pictures('grow', ['s8.png', 's9.png', 's10.png']);
    expect(resolveSource(path)).toMatchObject({ spans: [[8, 10]], pattern: join(path, 's%d.png') });
  });
  test('a pattern takes its own pictures only; per cent signs elsewhere stay', () => {
    const path = pictures('100% beds', ['a.001.png', 'a.002.png', 'b.001.png']);
    expect(resolveSource(join(path, 'a.%03d.png'))).toMatchObject({
      spans: [[1, 2]],
      pattern: join(folder.path, '100%% beds', 'a.%03d.png'),
    });
  });
  test.each<[string, string[], RegExp]>([
    ['mixed', ['s.1.png', 't.2.png'], /mixes s\.1\.png with t\.2\.png/],
    ['nothing', ['readme.txt'], /no numbered pictures/],
  ])('names what is wrong with a folder: %s', (name, files, words) =>
    expect(() => resolveSource(pictures(`bad-${name}`, files))).toThrow(words),
  );
  test('gaps are named', () => {
    const found = resolveSource(pictures('gap', ['s.1.png', 's.2.png', 's.5.png', 's.7.png']));
    expect(found).toMatchObject({
      spans: [
        [1, 2],
        [5, 5],
        [7, 7],
      ],
      missing: [
        [3, 4],
        [6, 6],
      ],
    });
    expect(
      spanWords([
        [3, 4],
        [6, 6],
      ]),
    ).toBe('3–4, 6');
  });
  test('a path that is not there, an empty file', () => {
    expect(() => resolveSource(join(folder.path, 'gone.mp4'))).toThrow(/gone\.mp4 does not exist/);
    expect(() => resolveSource(join(folder.path, 'gone.%04d.png'))).toThrow(/does not exist/);
    writeFileSync(join(folder.path, 'zero.mp4'), '');
    expect(() => resolveSource(join(folder.path, 'zero.mp4'))).toThrow(/zero\.mp4 is empty/);
  });
});
