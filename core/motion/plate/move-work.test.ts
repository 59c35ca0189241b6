import { expect, test } from 'vitest';
import { applyToPoint } from '../../base/geometry/homography.ts';
import type { PlateFacts, ShotDocument } from '../../base/schemas/types.ts';
import { moveDocument, moveHomography, moveWarnings, plateMove } from './move-work.ts';

const DOCUMENT: ShotDocument = {
  format: 'yarlop-shot/1',
  referenceFrame: 4,
  motion: 'perspective',
  regions: [
    {
      points: [
        [10, 10],
        [90, 10],
        [90, 70],
      ],
    },
  ],
  keepOut: [
    {
      points: [
        [1, 2],
        [3, 4],
        [5, 6],
      ],
      fixed: true,
    },
  ],
  corners: [
    [20, 20],
    [80, 20],
    [80, 60],
    [20, 60],
  ],
  contentId: 3,
  look: { fit: 'fill', soften: 1.2, feather: [1, 2, 3, 4] },
  testCard: false,
  range: [2, 8],
};
const facts = (change: Partial<PlateFacts>): PlateFacts => ({
  width: 640,
  height: 360,
  rotation: 0,
  pixelAspect: [1, 1],
  fieldOrder: 'progressive',
  deinterlace: false,
  rate: [25, 1],
  frames: 10,
  firstFrameNumber: 0,
  timecode: null,
  container: 'mov',
  codec: 'h264',
  pixelFormat: 'yuv420p',
  range: 'limited',
  matrix: 'bt709',
  transfer: 'srgb',
  primaries: 'bt709',
  bits: 8,
  alpha: false,
  doubled: 0,
  dropped: 0,
  missing: [],
  gaps: null,
  assumed: [],
  notes: [],
  ...change,
});

test('points, lengths and frames move together; what has no place in pixels stays', () => {
  const moved = moveDocument(DOCUMENT, plateMove(facts({}), facts({ width: 1280, height: 720 }), 3), 9);
  expect(moved).toMatchObject({
    referenceFrame: 7,
    regions: [
      {
        points: [
          [20, 20],
          [180, 20],
          [180, 140],
        ],
      },
    ],
    keepOut: [
      {
        points: [
          [2, 4],
          [6, 8],
          [10, 12],
        ],
        fixed: true,
      },
    ],
    corners: [
      [40, 40],
      [160, 40],
      [160, 120],
      [40, 120],
    ],
    contentId: 3,
    look: { fit: 'fill', soften: 2.4, feather: [2, 4, 6, 8] },
    range: [5, 8],
  });
});
test('the seat moves along: fixes in frames and pixels, what reaches over the sides, rounded corners', () => {
  const seated: ShotDocument = {
    ...DOCUMENT,
    corrections: [
      { frame: 1, corner: 2, dx: 1, dy: -2 },
      { frame: 7, corner: 0, dx: 3, dy: 0, ease: 'single' },
    ],
    outset: { unit: 'px', sides: [1, 0, -2, 0] },
    cornerRadius: 5,
  };
  expect(moveDocument(seated, plateMove(facts({}), facts({ width: 1280, height: 720 }), 3), 9)).toMatchObject({
    corrections: [{ frame: 4, corner: 2, dx: 2, dy: -4 }],
    outset: { unit: 'px', sides: [2, 0, -4, 0] },
    cornerRadius: 10,
  });
});
test('a homography carries scaled points to scaled places', () => {
  const h = [1.1, 0.02, 7, -0.03, 0.95, -4, 1e-4, -2e-4, 1] as const;
  const moved = moveHomography(h, plateMove(facts({}), facts({ width: 1920, height: 1080 }), 0));
  const [x, y] = applyToPoint(h, [100, 50]);
  expect(applyToPoint(moved, [300, 150])).toEqual([expect.closeTo(3 * x, 6), expect.closeTo(3 * y, 6)]);
});
test('what does not fit is said', () => {
  expect(moveWarnings(DOCUMENT, facts({}), facts({ frames: 20 }), 2)).toEqual([]);
  const all = moveWarnings(
    DOCUMENT,
    facts({}),
    facts({ width: 720, height: 576, rate: [24, 1], frames: 4, pixelAspect: [64, 45] }),
    -2,
  ).join(' ');
  for (const words of [
    /6 of 10 frames are not in the new plate/,
    /rate changes from 25 fps to 24 fps/,
    /proportions differ \(640×360 and 720×576\)/,
    /pixels differs \(1:1 and 64:45\)/,
  ])
    expect(all).toMatch(words);
  expect(moveWarnings(DOCUMENT, facts({}), facts({}), -5)[0]).toMatch(/reference frame would be -1/);
});
