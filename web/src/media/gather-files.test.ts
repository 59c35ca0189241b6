// @vitest-environment happy-dom
import { unzipSync } from 'fflate';
import { expect, test } from 'vitest';
import { gather, isNumberedPicture } from './gather-files.ts';

const file = (name: string, text = name) => new File([text], name);

const bytesOf = async (blob: Blob) => new Uint8Array(await blob.arrayBuffer());

test('clips and single pictures are sent as they are', async () => {
  expect((await gather([file('a.mp4'), file('b.0001.png'), file('.hidden')])).map((g) => g.name)).toEqual([
    'a.mp4',
    'b.0001.png',
  ]);
});

test('several numbered pictures become one zip, named after them', async () => {
  const pictures = ['s.0001.png', 's.0002.png', 's.0003.png'].map((name) => {
    const picture = file(name);
    picture.arrayBuffer = async () => new TextEncoder().encode(name).buffer;
    return picture;
  });
  const [zip, ...rest] = await gather(pictures);
  expect(zip!.name).toBe('s.zip');
  expect(rest).toEqual([]);
  const entries = unzipSync(await bytesOf(zip!.blob));
  expect(Object.keys(entries)).toEqual(['s.0001.png', 's.0002.png', 's.0003.png']);
  expect(new TextDecoder().decode(entries['s.0002.png'])).toBe('s.0002.png');
});

test.each([
  ['s.0001.png', true],
  ['s1.jpg', true],
  ['s.png', false],
  ['s.0001.txt', false],
])('%s: %s', (name, numbered) => expect(isNumberedPicture(name)).toBe(numbered));
