import { describe, expect, test } from 'vitest';
import { applyToPoint, type Point } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import type { ExportChoices } from '../../base/schemas/types.ts';
import { CORNER_ORDERS } from './export-choices.ts';
import { exportText } from './export-formats.ts';
import { similarityBetween } from './transform-data.ts';
import { writeTrack } from './track-file.ts';
import { WIDTH, HEIGHT, QUADS, TRACK, text, rows } from '../../test/exported-track.ts';

describe('the same corners in other people’s coordinates', () => {
  const combinations: ExportChoices[] = [0, 1, 'plate'].flatMap((frameBase) =>
    (['down', 'up'] as const).flatMap((y) =>
      (['half', 'integer'] as const).flatMap((pixelCentre) =>
        (['pixels', 'normalised'] as const).flatMap((units) =>
          (Object.keys(CORNER_ORDERS) as (keyof typeof CORNER_ORDERS)[]).map((order) => ({
            frameBase: frameBase as 0 | 1 | 'plate',
            y,
            pixelCentre,
            units,
            order,
          })),
        ),
      ),
    ),
  );
  test('every choice: corners are where they were, and maps lead written corners to written corners', () => {
    for (const choices of combinations) {
      const table = rows(text('corners-csv', choices));
      const maps = rows(text('homography-csv', choices));
      const first = choices.frameBase === 'plate' ? 1001 : choices.frameBase!;
      expect(table.map(([frame]) => Number(frame))).toEqual(QUADS.map((_, f) => f + first));
      expect(table[9]!.slice(1)).toEqual(Array(8).fill(''));
      expect(maps[9]!.slice(1)).toEqual(Array(9).fill(''));
      const home = table[4]!.slice(1).map(Number);
      table.forEach((row, f) => {
        if (f === 9) return;
        CORNER_ORDERS[choices.order!].forEach((name, i) => {
          const [x, y] = QUADS[f]![['top-left', 'top-right', 'bottom-right', 'bottom-left'].indexOf(name)]!;
          const [u, v] = [Number(row[1 + 2 * i]), Number(row[2 + 2 * i])];
          const shift = choices.pixelCentre === 'integer' ? 0.5 : 0;
          const [px, py] = choices.units === 'normalised' ? [u * WIDTH, v * HEIGHT] : [u + shift, v + shift];
          expect(Math.abs(px - x), JSON.stringify(choices)).toBeLessThan(
            choices.units === 'normalised' ? 1e-3 : 1.1e-5,
          );
          expect(Math.abs((choices.y === 'up' ? HEIGHT - py : py) - y)).toBeLessThan(
            choices.units === 'normalised' ? 1e-3 : 1.1e-5,
          );
          const carried = applyToPoint(maps[f]!.slice(1).map(Number), [home[2 * i]!, home[2 * i + 1]!]);
          expect(Math.hypot(carried[0] - u, carried[1] - v)).toBeLessThan(1e-4);
        });
      });
    }
  });
  test('from the surface’s own square; JSON says what CSV says; text for the clipboard stands between tabs', () => {
    const [, ...maps] = (
      JSON.parse(text('homography-json', { from: 'surface' })) as { frames: { homography: number[] }[] }
    ).frames;
    const corners = JSON.parse(text('corners-json')) as {
      frames: { corners: Point[]; lost?: string }[];
      cornerOrder: string[];
    };
    const [x, y] = applyToPoint(maps[0]!.homography, [1, 1]);
    expect(Math.hypot(x - QUADS[1]![2][0], y - QUADS[1]![2][1])).toBeLessThan(1e-4);
    expect(corners.frames[9]).toEqual({ frame: 9, lost: 'covered' });
    const clip = text('corners-text').trimEnd().split('\n');
    expect(clip).toHaveLength(13);
    expect(clip[3]!.split('\t').map(Number)).toEqual([2, ...corners.frames[2]!.corners.flat()]);
  });
  test('decimals as given; the shutter is written beside; without fixes the corners are the track’s own', () => {
    expect(
      rows(text('corners-csv', { decimals: 2 }))[0]!
        .slice(1)
        .every((v) => /^-?\d+(\.\d{1,2})?$/.test(v)),
    ).toBe(true);
    expect(text('corners-csv', { shutter: { angle: 172.8, phase: -90 } })).toContain(
      "# shutter 172.8 degrees, its middle -90 degrees after the frame's time",
    );
    expect(JSON.parse(text('transform-json', { shutter: { angle: 180, phase: 0 } }))).toMatchObject({
      shutter: { angle: 180, phase: 0 },
    });
    const moved = structuredClone(TRACK);
    for (const frame of moved.frames) if (frame.corners) frame.corners[0][0] += 7;
    moved.seat = { corners: QUADS[4]!.map(([x, y]) => [x, y]) as never };
    const one = { name: 's', track: moved };
    const told = (choices?: ExportChoices) => Number(rows(exportText(one, 'corners-csv', choices))[2]![1]);
    expect(told() - told({ corrections: false })).toBeCloseTo(7, 4);
  });
});

describe('position, scale, rotation', () => {
  test('of corners that were moved, enlarged and turned exactly so', () => {
    const from: Quad = [
      [100, 100],
      [300, 120],
      [280, 260],
      [90, 240],
    ];
    const angle = (33 * Math.PI) / 180;
    const scale = 1.37;
    const to = from.map(([x, y]): Point => [
      50 + scale * (Math.cos(angle) * x - Math.sin(angle) * y),
      -20 + scale * (Math.sin(angle) * x + Math.cos(angle) * y),
    ]) as unknown as Quad;
    const found = similarityBetween(from, to);
    expect(found.scale).toBeCloseTo(scale, 9);
    expect(found.rotation).toBeCloseTo(33, 9);
    const cx = (100 + 300 + 280 + 90) / 4;
    const cy = (100 + 120 + 260 + 240) / 4;
    expect(found.position[0]).toBeCloseTo(50 + scale * (Math.cos(angle) * cx - Math.sin(angle) * cy), 9);
  });
  test('a turn of more than half a circle goes on; with y up it is given the other way round', () => {
    const turning = Array.from(
      { length: 20 },
      (_, f) =>
        QUADS[0]!.map(([x, y]): Point => {
          const a = (25 * f * Math.PI) / 180;
          return [
            900 + Math.cos(a) * (x - 900) - Math.sin(a) * (y - 500),
            500 + Math.sin(a) * (x - 900) + Math.cos(a) * (y - 500),
          ];
        }) as unknown as Quad,
    );
    const track = writeTrack(
      { pixelCentre: 'half', width: WIDTH, height: HEIGHT, rate: [25, 1], referenceFrame: 0, corners: turning[0]! },
      turning.map((quad, frame) => ({
        frame,
        homography: homographyBetweenQuads(turning[0]!, quad),
        error: 0,
        confidence: 1,
      })),
    );
    const told = (choices?: ExportChoices) =>
      rows(exportText({ name: 't', track }, 'transform-csv', choices)).map((row) => Number(row[4]));
    told().forEach((angle, f) => expect(angle).toBeCloseTo(25 * f, 3));
    told({ y: 'up' }).forEach((angle, f) => expect(angle).toBeCloseTo(-25 * f, 3));
  });
});

describe('CSS keyframes', () => {
  test('a key a frame, hidden where it is lost; what a name holds cannot break out', () => {
    const page = text('css-html', {}, { content: 'a"><script>alert(1)</script>.png' });
    expect(page.match(/matrix3d\((?=[\d-])/g)).toHaveLength(11);
    expect(page.match(/visibility: hidden/g)).toHaveLength(1);
    expect(page).not.toContain('<script>alert');
  });
});
