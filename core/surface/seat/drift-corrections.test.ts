import { describe, expect, test } from 'vitest';
import { randomFrom } from '../../../demo/scene/random.ts';
import { CornerMoves } from './corrections.ts';
import { proposeCorrections, type FrameDrift } from './drift-corrections.ts';

const FRAMES = 100;
const REFERENCE = 30;
const TOLERANCE = 0.25;
function drifting(
  at: (frame: number, corner: number) => readonly [number, number],
  noise = 0.03,
  scale = 1,
): FrameDrift[] {
  const random = randomFrom(4);
  return Array.from({ length: FRAMES }, (_, frame) => ({
    frame,
    bounds: [0.1, 0.1, 0.1, 0.1],
    scales: [scale, scale, scale, scale],
    moves: [0, 1, 2, 3].flatMap((c) =>
      at(frame, c).map((v) => v + (frame === REFERENCE ? 0 : 2 * noise * (random() - 0.5))),
    ),
  }));
}
const framesOf = (keys: readonly { frame: number; ease?: string | undefined }[]) => [
  ...new Set(keys.filter((k) => k.ease !== 'single').map((k) => k.frame)),
];
const worst = (values: readonly number[]) => Math.max(...values);

describe('a slow drift', () => {
  test.each<[string, (f: number, c: number) => readonly [number, number], number]>([
    ['even', (f) => [(3 * (f - REFERENCE)) / 70, 0], 2],
    ['of one corner, there and back', (f, c) => (c === 3 ? [3 * Math.sin((f - REFERENCE) / 22), 0] : [0, 0]), 4],
    ['that begins late', (f) => [f > 60 ? (3 * (f - 60)) / 40 : 0, 0], 3],
  ])('%s is mended by few keys', (_, at, most) => {
    const frames = drifting(at);
    const { corrections, after, pops } = proposeCorrections(frames, REFERENCE, TOLERANCE);
    expect(pops).toEqual([]);
    expect(framesOf(corrections).length).toBeGreaterThan(0);
    expect(framesOf(corrections).length).toBeLessThanOrEqual(most);
    expect(worst(after)).toBeLessThan(TOLERANCE + 0.06);
    const moves = new CornerMoves(corrections, REFERENCE);
    for (let f = 0; f < FRAMES; f++) expect(Math.abs(moves.at(3, f)[0] - at(f, 3)[0])).toBeLessThan(TOLERANCE + 0.06);
  });
  test('only the corners that drift are moved', () => {
    const { corrections } = proposeCorrections(
      drifting((f, c) => (c === 2 ? [(2 * (f - REFERENCE)) / 70, 0] : [0, 0])),
      REFERENCE,
      TOLERANCE,
    );
    expect([...new Set(corrections.map((c) => c.corner))]).toEqual([2]);
  });
  test('no key can be spared: without any of them it is out of the tolerance', () => {
    const frames = drifting((f) => [3 * Math.sin((f - REFERENCE) / 15), 0], 0);
    const { corrections, after } = proposeCorrections(frames, REFERENCE, TOLERANCE);
    expect(worst(after)).toBeLessThan(TOLERANCE + 0.01);
    for (const frame of framesOf(corrections)) {
      const moves = new CornerMoves(
        corrections.filter((c) => c.frame !== frame),
        REFERENCE,
      );
      expect(worst(frames.map((f) => Math.abs(f.moves[0]! - moves.at(0, f.frame)[0])))).toBeGreaterThan(TOLERANCE);
    }
  });
  test('the tolerance is in pixels of the frame: drawn twice as large, half as much is let pass', () => {
    const at = (f: number): readonly [number, number] => [(0.2 * (f - REFERENCE)) / 70, 0];
    expect(proposeCorrections(drifting(at, 0), REFERENCE, TOLERANCE).corrections).toHaveLength(0);
    expect(proposeCorrections(drifting(at, 0, 2), REFERENCE, TOLERANCE).corrections.length).toBeGreaterThan(0);
  });
});

describe('a jump of one frame', () => {
  const popping = drifting((f, c) => (f === 57 ? [0.8, 0.6] : c === 0 ? [0.5 * ((f - REFERENCE) / 70), 0] : [0, 0]));
  test('is named, and only that one; it gets keys for itself', () => {
    const { pops, corrections } = proposeCorrections(popping, REFERENCE, TOLERANCE);
    expect(pops.map((p) => p.frame)).toEqual([57]);
    expect(pops[0]!.size).toBeCloseTo(1, 0);
    expect(corrections.filter((c) => c.ease === 'single').map((c) => c.frame)).toEqual([57, 57, 57, 57]);
  });
});

test('what holds needs no key, and noise is not chased', () => {
  const { corrections, pops } = proposeCorrections(
    drifting(() => [0, 0], 0.12),
    REFERENCE,
    TOLERANCE,
  );
  expect(corrections).toEqual([]);
  expect(pops).toEqual([]);
});
