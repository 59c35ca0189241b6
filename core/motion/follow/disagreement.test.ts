import { expect, test } from 'vitest';
import { applyToPoint } from '../../base/geometry/homography.ts';
import { contains } from '../../base/geometry/polygon.ts';
import { signedArea } from '../../base/geometry/quad.ts';
import { movingFrame, type MovingPlate } from '../../test/moving-plate.ts';
import { meanDisagreement, smoothShares, type Disagreement } from './disagreement.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { followSpan } from './follow-run.ts';
import { traceDisagreement } from './trace-disagreement.ts';

const PLATE: MovingPlate = { width: 260, height: 190, velocity: () => [1.6, 0.9], shutter: 0.1, noise: 1.5, seed: 4 };
/** A checked card that does not move, from frame 1 on. */
const CARD = { left: 110, top: 70, right: 170, bottom: 120 };
async function withCard(frame: number): Promise<LumaFrame> {
  const luma = movingFrame(PLATE, frame);
  const codes = Uint8Array.from(luma.codes);
  for (let y = CARD.top; frame > 0 && y < CARD.bottom; y++)
    for (let x = CARD.left; x < CARD.right; x++) codes[y * PLATE.width + x] = ((x >> 3) + (y >> 3)) & 1 ? 200 : 40;
  return { ...luma, codes };
}

test('what is laid over the surface shows as disagreement, where it lies and nowhere else', async () => {
  let frames = 0;
  for await (const { frame, homography, disagreement: seen } of followSpan(
    {
      motion: 'perspective',
      regions: [
        {
          points: [
            [40, 35],
            [215, 35],
            [215, 150],
            [40, 150],
          ],
        },
      ],
      keepOut: [],
      referenceFrame: 0,
      frames: [1, 8],
      direction: 'forward',
    },
    withCard,
  )) {
    frames++;
    let inside = 0;
    let insideAgainst = 0;
    let outside = 0;
    let outsideAgainst = 0;
    smoothShares(seen!).forEach((share, at) => {
      if (seen!.cells[at] === '.') return;
      const [x, y] = applyToPoint(homography!, [
        seen!.left + ((at % seen!.columns) + 0.5) * seen!.cell,
        seen!.top + (Math.floor(at / seen!.columns) + 0.5) * seen!.cell,
      ]);
      const distance = Math.max(CARD.left - x, x - CARD.right, CARD.top - y, y - CARD.bottom);
      if (distance < -6) [inside, insideAgainst] = [inside + 1, insideAgainst + share];
      if (distance > 12) [outside, outsideAgainst] = [outside + 1, outsideAgainst + share];
    });
    expect(inside).toBeGreaterThan(20);
    expect(insideAgainst / inside, `frame ${frame}`).toBeGreaterThan(0.6);
    expect(outsideAgainst / outside, `frame ${frame}`).toBeLessThan(0.1);
  }
  expect(frames).toBe(8);
});

/** 12 squares of 10 px across, 10 down, from (100, 50); `signs` says what stands in each. */
const grid = (signs: (x: number, y: number) => string): Disagreement => ({
  cell: 10,
  left: 100,
  top: 50,
  columns: 12,
  cells: Array.from({ length: 120 }, (_, at) => signs(at % 12, Math.floor(at / 12))).join(''),
});

test('an outline goes around what disagrees, closed where it reaches the border, and small spots are let be', () => {
  const seen = grid((x, y) => (x >= 8 && y >= 3 && y < 8 ? '9' : x === 2 && y === 2 ? '9' : '0'));
  const [outline, ...others] = traceDisagreement(seen);
  expect(others).toEqual([]);
  // Squares 8…11 and 3…7 cover 180…220 × 80…130.
  expect(contains(outline!, 200, 105)).toBe(true);
  expect(contains(outline!, 216, 105)).toBe(true);
  expect(contains(outline!, 160, 105)).toBe(false);
  expect(Math.abs(signedArea(outline!))).toBeGreaterThan(0.75 * 40 * 50);
  expect(Math.abs(signedArea(outline!))).toBeLessThan(1.5 * 40 * 50);
  expect(outline!.length).toBeLessThan(12);
  expect(traceDisagreement(grid(() => '1'))).toEqual([]);
});

test('the mean over frames counts a square where it was seen, and frames of another layout not at all', () => {
  const half = grid((x) => (x < 6 ? '8' : '.'));
  const other = grid((x) => (x < 6 ? '2' : '.'));
  const once = grid((x) => (x < 6 ? '2' : '9'));
  expect(meanDisagreement([half, other])!.cells).toBe(grid((x) => (x < 6 ? '5' : '.')).cells);
  // Seen on one frame of six only.
  expect(meanDisagreement([other, other, other, other, other, once])!.cells).toBe(other.cells);
  expect(meanDisagreement([half, { ...half, left: 0, cells: `${half.cells}....` }, other])!.cells).toBe(
    grid((x) => (x < 6 ? '5' : '.')).cells,
  );
  expect(meanDisagreement([])).toBeNull();
});
