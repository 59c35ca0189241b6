import { describe, expect, test } from 'vitest';
import type { Quad } from '../../../../core/base/geometry/quad.ts';
import type { ShotDocument } from '../../../../core/base/schemas/types.ts';
import { moveHandKey, putHandKey, removeHandKey } from './keys/key-edits.ts';
import {
  addCorners,
  addPoint,
  clearPoints,
  fillHoles,
  keepPoint,
  putPoint,
  removePoint,
  removePointKey,
  sizeBox,
  usePattern,
} from './points/point-edits.ts';
import { changeSource, moveJoin, moveSpan, removeSpan, setSpan, splitSpan, swapSources } from './splice/span-edits.ts';

const QUAD: Quad = [
  [10, 10],
  [90, 10],
  [90, 60],
  [10, 60],
];
const draft = (): ShotDocument => ({
  format: 'yarlop-shot/1',
  referenceFrame: 4,
  motion: 'perspective',
  regions: [],
  keepOut: [],
  corners: null,
  contentId: null,
  look: {},
  testCard: false,
});
const spans = (d: ShotDocument) => d.spans?.map((s) => `${s.from}-${s.to} ${s.source}`);

describe('points', () => {
  test('the four corners are added once, others under free names', () => {
    const d = draft();
    addCorners(d, QUAD, 4096);
    addCorners(d, QUAD, 4096);
    expect(d.cornerPoints!.map((p) => p.name)).toEqual(['top-left', 'top-right', 'bottom-right', 'bottom-left']);
    expect(d.cornerPoints![2]).toMatchObject({ at: [90, 60], pattern: [40, 40], search: [130, 130] });
    expect([addPoint(d, [5, 5], 1280), addPoint(d, [6, 60], 1280)]).toEqual(['mark 1', 'mark 2']);
    removePoint(d, 'mark 1');
    expect(addPoint(d, [7, 7], 1280)).toBe('mark 1');
  });
  test('put by hand they are keys, on the reference their beginning', () => {
    const d = draft();
    addCorners(d, QUAD, 1280);
    putPoint(d, 'top-left', 4, [11, 12]);
    putPoint(d, 'top-left', 9, [20, 20]);
    putPoint(d, 'top-left', 7, [15, 15], true);
    putPoint(d, 'top-left', 7, [16, 15]);
    expect(d.cornerPoints![0]).toMatchObject({
      at: [11, 12],
      keys: [
        { frame: 7, at: [16, 15], pattern: true },
        { frame: 9, at: [20, 20] },
      ],
    });
    usePattern(d, 'top-left', 7, false);
    removePointKey(d, 'top-left', 9);
    expect(d.cornerPoints![0]!.keys).toEqual([{ frame: 7, at: [16, 15] }]);
    removePointKey(d, 'top-left', 7);
    expect(d.cornerPoints![0]).not.toHaveProperty('keys');
  });
  test('cleared frames are holes, kept ones are not; what is followed anew fills them', () => {
    const d = draft();
    addCorners(d, QUAD, 1280);
    putPoint(d, 'top-right', 12, [80, 12]);
    putPoint(d, 'top-right', 16, [80, 12]);
    keepPoint(d, 'top-right', [15, 17], true);
    clearPoints(d, ['top-right', 'top-left'], [10, 20]);
    expect(d.cornerPoints![1]).toMatchObject({
      holes: [
        [10, 14],
        [18, 20],
      ],
      keys: [{ frame: 16, at: [80, 12] }],
    });
    expect(d.cornerPoints![0]!.holes).toEqual([[10, 20]]);
    fillHoles(d, ['top-right'], [10, 14]);
    expect(d.cornerPoints![1]!.holes).toEqual([[18, 20]]);
    keepPoint(d, 'top-right', [15, 17], false);
    expect(d.cornerPoints![1]).not.toHaveProperty('keep');
  });
  test('a search box is never smaller than its pattern', () => {
    const d = draft();
    addCorners(d, QUAD, 1280);
    sizeBox(d, 'top-left', 'pattern', [100.4, 3]);
    expect(d.cornerPoints![0]).toMatchObject({ pattern: [100, 7], search: [100, 91] });
    sizeBox(d, 'top-left', 'search', [10, 10]);
    expect(d.cornerPoints![0]!.search).toEqual([100, 10]);
  });
});

test('hand keys are put, moved to free frames and taken away', () => {
  const d = draft();
  putHandKey(d, 9, QUAD);
  putHandKey(d, 2, QUAD);
  expect(d.corners).toEqual(QUAD);
  moveHandKey(d, 9, 2);
  moveHandKey(d, 9, 5);
  expect(d.handKeys!.map((k) => k.frame)).toEqual([2, 5]);
  removeHandKey(d, 2);
  removeHandKey(d, 5);
  expect(d).not.toHaveProperty('handKeys');
});

describe('spans', () => {
  test('a new one makes room among the others, and the whole comes back when it goes', () => {
    const d = draft();
    setSpan(d, 10, 19, 'keys', 39);
    expect(spans(d)).toEqual(['0-9 plane', '10-19 keys', '20-39 plane']);
    setSpan(d, 15, 24, 'hold', 39);
    expect(spans(d)).toEqual(['0-9 plane', '10-14 keys', '15-24 hold', '25-39 plane']);
    removeSpan(d, 2, 39);
    removeSpan(d, 1, 39);
    expect(d).not.toHaveProperty('spans');
  });
  test('are moved as they are between their neighbours, none of which becomes empty; the outermost stay', () => {
    const d = draft();
    setSpan(d, 10, 19, 'keys', 39);
    expect(moveSpan(d, 1, 5)).toBe(5);
    expect(spans(d)).toEqual(['0-14 plane', '15-24 keys', '25-39 plane']);
    expect(moveSpan(d, 1, 99)).toBe(14);
    expect(spans(d)).toEqual(['0-28 plane', '29-38 keys', '39-39 plane']);
    expect(moveSpan(d, 1, -99)).toBe(-28);
    expect(spans(d)).toEqual(['0-0 plane', '1-10 keys', '11-39 plane']);
    expect([moveSpan(d, 0, 3), moveSpan(d, 2, -3)]).toEqual([0, 0]);
    d.spans![2]!.from = 15;
    expect(moveSpan(d, 1, 9)).toBe(4);
    expect(spans(d)).toEqual(['0-4 plane', '5-14 keys', '15-39 plane']);
  });
  test('exchange their sources across a join', () => {
    const d = draft();
    setSpan(d, 20, 39, 'shot', 39, 7);
    swapSources(d, 1);
    expect(d.spans).toEqual([
      { from: 0, to: 19, source: 'shot', shot: 7 },
      { from: 20, to: 39, source: 'plane' },
    ]);
    swapSources(d, 0);
    expect(spans(d)).toEqual(['0-19 shot', '20-39 plane']);
  });
  test('are split, joined elsewhere, and take other sources', () => {
    const d = draft();
    splitSpan(d, 12, 39);
    changeSource(d, 1, 'shot', 7);
    expect(d.spans).toEqual([
      { from: 0, to: 11, source: 'plane' },
      { from: 12, to: 39, source: 'shot', shot: 7 },
    ]);
    moveJoin(d, 1, 20);
    expect(spans(d)).toEqual(['0-19 plane', '20-39 shot']);
    moveJoin(d, 1, -5);
    expect(spans(d)).toEqual(['0-0 plane', '1-39 shot']);
    changeSource(d, 1, 'points');
    expect(d.spans![1]).not.toHaveProperty('shot');
    splitSpan(d, 0, 39);
    expect(d.spans).toHaveLength(2);
  });
});
