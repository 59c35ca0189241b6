import { describe, expect, test } from 'vitest';
import { type CodedPicture, createLightPicture } from '../../base/image/picture.ts';
import { codeToLight, lightToCode } from '../../base/image/transfer.ts';
import { blendOver, over } from './blend-over.ts';

describe('source-over (W3C, Compositing and Blending Level 1, §5.1, §9.1.4)', () => {
  // co = cs·αs + cb·αb·(1 − αs), αo = αs + αb·(1 − αs), here with premultiplied colours.
  test.each<
    [string, [number, number, number, number], [number, number, number, number], [number, number, number, number]]
  >([
    ['opaque source hides', [1, 0, 0, 1], [0, 0, 1, 1], [1, 0, 0, 1]],
    ['empty source leaves', [0, 0, 0, 0], [0, 0, 1, 1], [0, 0, 1, 1]],
    ['half over opaque', [0.5, 0, 0, 0.5], [0, 0, 1, 1], [0.5, 0, 0.5, 1]],
    ['half over half', [0.5, 0, 0, 0.5], [0, 0, 0.5, 0.5], [0.5, 0, 0.25, 0.75]],
    ['light that adds: colour without alpha', [0.2, 0.2, 0.2, 0], [0.3, 0.3, 0.3, 1], [0.5, 0.5, 0.5, 1]],
  ])('%s', (_, source, backdrop, result) =>
    over(source, backdrop).forEach((v, i) => expect(v).toBeCloseTo(result[i]!, 12)),
  );
});

describe('blendOver', () => {
  const plate: CodedPicture = {
    width: 4,
    height: 3,
    data: Uint8Array.from({ length: 36 }, (_, i) => i * 7),
    peak: 255,
  };
  const layer = createLightPicture(2, 2);
  layer.data.set([0.5, 0.5, 0.5, 1, 0.25, 0, 0, 0.5, 0, 0, 0, 0, 1, 1, 1, 1]);

  test('mixes in light and leaves the plate alone where the layer is empty', () => {
    const out: CodedPicture = { ...plate, data: plate.data.slice() };
    blendOver(layer, { left: 1, top: 1, right: 3, bottom: 3 }, 1, plate, out);
    const at = (col: number, row: number) => [...out.data.subarray((row * 4 + col) * 3, (row * 4 + col) * 3 + 3)];
    expect(at(1, 1)).toEqual([188, 188, 188]);
    const under = codeToLight(plate.data[(4 + 2) * 3 + 1]! / 255);
    expect(at(2, 1)[1]).toBe(Math.round(255 * lightToCode(0.5 * under)));
    expect(at(1, 2)).toEqual([...plate.data.subarray(27, 30)]);
    expect(at(2, 2)).toEqual([255, 255, 255]);
    expect(out.data.subarray(0, 12)).toEqual(plate.data.subarray(0, 12));
  });

  test('a box that reaches outside is cut; no opacity changes nothing', () => {
    const out: CodedPicture = { ...plate, data: plate.data.slice() };
    blendOver(layer, { left: -1, top: 2, right: 1, bottom: 4 }, 1, plate, out);
    expect([...out.data.subarray(24, 27)]).not.toEqual([...plate.data.subarray(24, 27)]);
    const same: CodedPicture = { ...plate, data: plate.data.slice() };
    blendOver(layer, { left: 0, top: 0, right: 2, bottom: 2 }, 0, plate, same);
    expect(same.data).toEqual(plate.data);
  });
});
