import { describe, expect, test } from 'vitest';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoint } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import type { ExportChoices, TrackFile } from '../../base/schemas/types.ts';
import { exportText } from './export-formats.ts';
import { columnsOf, guessMapping, importData, mapsOfImported } from './import-data.ts';
import { readTable } from './read-table.ts';
import { cornersByFrame, writeTrack } from './track-file.ts';

const PLATE = { width: 1280, height: 720 };
const QUADS: Quad[] = Array.from({ length: 8 }, (_, f) => [
  [300.25 + 7 * f, 180.5 - f],
  [820.125 + 5 * f, 200 + 2 * f],
  [800 + 4 * f, 520.75 + f],
  [280 + 9 * f, 500 - 2 * f],
]);
const TRACK: TrackFile = writeTrack(
  { pixelCentre: 'half', ...PLATE, rate: [25, 1], referenceFrame: 3, corners: QUADS[3]!, firstFrameNumber: 1001 },
  QUADS.map((quad, frame) =>
    frame === 6
      ? { frame, homography: null, error: 1, confidence: 0, lost: 'covered' }
      : { frame, homography: homographyBetweenQuads(QUADS[3]!, quad), error: 0, confidence: 1 },
  ),
);
const KNOWN = cornersByFrame(TRACK);
const plate = { ...PLATE, corners: QUADS[3]! };
const farthest = (frames: readonly { frame: number; corners: Quad }[]) =>
  Math.max(
    ...frames.flatMap(({ frame, corners }) =>
      corners.map(([x, y], i) => Math.hypot(x - KNOWN.get(frame)![i]![0], y - KNOWN.get(frame)![i]![1])),
    ),
  );

describe('round trips', () => {
  const choices: ExportChoices[] = [
    {},
    { y: 'up' },
    { pixelCentre: 'integer', frameBase: 1 },
    { y: 'up', pixelCentre: 'integer', frameBase: 'plate' },
    { order: 'rows-from-below' },
  ];
  test.each(choices.map((choice) => [JSON.stringify(choice), choice] as const))(
    'corners and homographies come back to a millionth of a pixel: %s',
    (_, choice) => {
      for (const format of ['corners-csv', 'corners-json', 'homography-csv', 'homography-json'] as const) {
        const back = importData(exportText({ name: 's', track: TRACK }, format, choice), plate);
        expect(back.faults).toEqual([]);
        expect(
          back.frames.map((f) => f.frame),
          format,
        ).toEqual([0, 1, 2, 3, 4, 5, 7]);
        // Maps are those of the track file, which has its corners rounded to a hundred-thousandth.
        expect(farthest(back.frames), format).toBeLessThan(format.startsWith('corners') ? 1e-6 : 2e-5);
      }
    },
  );
  test('normalised and few decimals: as exact as what was written', () => {
    expect(
      farthest(
        importData(exportText({ name: 's', track: TRACK }, 'corners-csv', { units: 'normalised', decimals: 9 }), plate)
          .frames,
      ),
    ).toBeLessThan(1e-6);
    expect(
      farthest(importData(exportText({ name: 's', track: TRACK }, 'corners-json', { decimals: 1 }), plate).frames),
    ).toBeLessThan(0.0501 * Math.SQRT2);
    const surface = importData(exportText({ name: 's', track: TRACK }, 'homography-json', { from: 'surface' }), PLATE);
    expect(farthest(surface.frames)).toBeLessThan(1e-4);
  });
  test('maps from the reference frame carry its corners to each frame’s', () => {
    const { frames } = importData(exportText({ name: 's', track: TRACK }, 'corners-csv'), plate);
    const maps = mapsOfImported(frames, 3)!;
    for (const { frame, corners } of frames)
      corners.forEach(([x, y], i) =>
        expect(
          Math.hypot(
            applyToPoint(maps.get(frame)!, QUADS[3]![i]!)[0] - x,
            applyToPoint(maps.get(frame)!, QUADS[3]![i]!)[1] - y,
          ),
        ).toBeLessThan(1e-4),
      );
    expect(mapsOfImported(frames, 6)).toBeNull();
  });
});

describe('tables of other people', () => {
  test('columns by their names, in any order, with semicolons and decimal commas', () => {
    const text = `Frame;BL_x;BL_y;TL_x;TL_y;TR_x;TR_y;BR_x;BR_y;note\n${QUADS.map((q, f) => [f, ...q[3], ...q[0], ...q[1], ...q[2], 'ok'].map((v) => String(v).replace('.', ',')).join(';')).join('\n')}\n`;
    expect(guessMapping(text)).toMatchObject({ frame: 0, corners: [3, 4, 5, 6, 7, 8, 1, 2] });
    expect(columnsOf(text)).toHaveLength(10);
    const { frames, faults } = importData(text, PLATE);
    expect(faults).toEqual([]);
    frames.forEach(({ frame, corners }) => expect(corners).toEqual(QUADS[frame]));
  });
  test('nine bare columns between tabs are a frame and four corners; columns may be chosen', () => {
    const text = QUADS.map((q, f) => [f + 101, ...q.flat()].join('\t')).join('\r\n');
    const { frames } = importData(text, PLATE, { ...guessMapping(text)!, frameBase: 101 });
    expect(frames[0]).toEqual({ frame: 0, corners: QUADS[0] });
    const odd = QUADS.map(
      (q, f) => `a,${f},${q[2].join(',')},${q[3].join(',')},${q[0].join(',')},${q[1].join(',')}`,
    ).join('\n');
    expect(guessMapping(odd)).toMatchObject({ homography: expect.anything() as unknown });
    expect(importData(odd, PLATE, { frame: 1, corners: [6, 7, 8, 9, 2, 3, 4, 5] }).frames[2]!.corners).toEqual(
      QUADS[2],
    );
  });
  test('what is wrong is reported by line; the rest is read', () => {
    const text = [
      'frame,top-left x,top-left y,top-right x,top-right y,bottom-right x,bottom-right y,bottom-left x,bottom-left y',
      '# a note',
      '0,10,10,200,10,200,100,10,100',
      'x,1,2,3,4,5,6,7,8',
      '1,10,10,2oo,10,200,100,10,100',
      '2,10,10,200,100,200,10,10,100',
      '0,11,11,200,10,200,100,10,100',
      '-4,1,1,9,1,9,9,1,9',
      '5,,,,,,,,',
    ].join('\n');
    const { frames, faults } = importData(text, PLATE);
    expect(frames.map((f) => f.frame)).toEqual([0]);
    expect(faults).toEqual([
      { line: 4, why: 'the frame is "x", not a whole number' },
      { line: 5, why: '"2oo" is not a number' },
      { line: 6, why: expect.stringContaining('convex') as unknown },
      { line: 7, why: 'frame 0 is there twice' },
      { line: 8, why: expect.stringContaining('before the first frame') as unknown },
    ]);
  });
  test('what is neither is a sentence', () => {
    expect(() => importData('{"format":"other"}', PLATE)).toThrow(/neither corners, homographies nor a track/);
    expect(() => importData('{', PLATE)).toThrow(/not valid JSON/);
    expect(() => importData('hello\nthere', PLATE)).toThrow(/columns are not named/);
    expect(() => importData(exportText({ name: 's', track: TRACK }, 'homography-csv'), PLATE)).toThrow(
      /no corners yet/,
    );
    expect(
      importData('{"format":"yarlop-corners/1","frames":[{"frame":0,"corners":[[1,2],[3,4]]},7]}', PLATE).faults.map(
        (f) => f.line,
      ),
    ).toEqual([1, 2]);
  });
  // RFC 4180, section 2: quotes, doubled within; CRLF; a byte order mark is none of the first cell.
  test('cells in quotes', () => {
    expect(readTable('\uFEFF"a ""b""",c\r\n"1,5",2\r\n')).toMatchObject({
      header: ['a "b"', 'c'],
      rows: [{ line: 2, cells: ['1,5', '2'] }],
    });
  });
  test('a cell in quotes may go over several lines; those after it keep their numbers', () => {
    expect(readTable('# made by hand\nname,file\n"two\r\nlines",a.png\n\nlast,b.png')).toEqual({
      separator: ',',
      notes: ['made by hand'],
      header: ['name', 'file'],
      rows: [
        { line: 3, cells: ['two\nlines', 'a.png'] },
        { line: 6, cells: ['last', 'b.png'] },
      ],
    });
  });
});
