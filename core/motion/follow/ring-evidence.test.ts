import { expect, test } from 'vitest';
import { IDENTITY, translation } from '../../base/geometry/homography.ts';
import type { FitQuality } from './fit-quality.ts';
import type { Attempt, Registration, Task } from './registration.ts';
import { RingEvidence, type Evidence } from './ring-evidence.ts';

const attempt = (confidence: number, quality: Partial<FitQuality>, dx = 0): Attempt => ({
  homography: translation(dx, 0),
  light: { gain: 1, offset: 0 },
  smear: 1,
  surprise: 0,
  trust: confidence,
  bound: 0.1,
  confidence,
  noise: 0.01,
  certainty: null,
  quality: {
    correlation: 1,
    agreement: 1,
    detail: 0.9,
    sides: [1, 1, 1, 1],
    ringDetail: 0.9,
    ringMisfit: 0.01,
    visibility: 1,
    error: 0.1,
    ...quality,
  },
});

/** A ring with a registration that finds one thing from all points and another from the ring alone; far apart or not. */
function ring(found: Record<Evidence, Attempt>, { apart = 3, pull = 2, blur = 0 } = {}) {
  let listened: Evidence = 'all';
  let asked = 0;
  const registration = {
    shutter: { value: 0.5 },
    blurAt: () => blur,
    ringPull: () => pull,
    apart: () => apart,
    register: () => {
      asked++;
      return found[listened];
    },
  } as unknown as Registration;
  const evidence = new RingEvidence(registration, true, (what) => (listened = what));
  return {
    evidence,
    choose: (of: Attempt) =>
      evidence.choose({ motionAt: () => ({ back: null, ahead: null }), gap: 1 } as unknown as Task, of, [IDENTITY]),
    asked: () => asked,
  };
}
const OBJECTS = { ringDetail: 0.3, ringMisfit: 0.4 };

test('a ring that would stay where it is, or that is smeared, is not asked', () => {
  const all = attempt(0.9, {});
  const alone = attempt(0.95, {}, 4);
  for (const how of [{ pull: 0.1 }, { blur: 12 }]) {
    const { choose, asked, evidence } = ring({ all, ring: alone }, how);
    expect(choose(all)).toBe(all);
    expect([asked(), evidence.evidence]).toEqual([0, 'all']);
  }
});

test('a ring that objects and fits better elsewhere is followed alone; one that does not gain is not', () => {
  const all = attempt(0.9, OBJECTS);
  const alone = attempt(0.9, {}, 4);
  const better = ring({ all, ring: alone });
  expect(better.choose(all)).toBe(alone);
  expect([better.evidence.evidence, better.evidence.conflicts]).toEqual(['ring', 1]);

  // It can slide along its edges: no better than with the rest. Or it is not sure. Or it comes to the same place.
  for (const [said, how] of [
    [attempt(0.9, OBJECTS, 4), {}],
    [attempt(0.5, {}, 4), {}],
    [attempt(0.9, {}, 0.1), { apart: 0.4 }],
  ] as const) {
    const { choose, evidence } = ring({ all, ring: said }, how);
    expect(choose(all)).toBe(all);
    expect(evidence.evidence).toBe('all');
  }
});

test('the inside is listened to again once it has gone along for long, and for longer after every conflict', () => {
  const agreeing = attempt(0.9, {});
  const { choose, evidence } = ring({ all: agreeing, ring: agreeing }, { apart: 0.2 });
  const waits = [1, 2].map((conflicts) => {
    evidence.listenAgain('ring');
    evidence.agreeing = 0;
    evidence.conflicts = conflicts;
    let frames = 0;
    for (; evidence.evidence === 'ring' && frames < 200; frames++) choose(agreeing);
    return frames;
  });
  expect(waits).toEqual([12, 24]);
});

test('where the ring alone is lost, all points are asked; where they are lost, too, it stays with the ring', () => {
  const lost = attempt(0.05, {});
  const found = ring({ all: attempt(0.9, {}), ring: lost });
  found.evidence.listenAgain('ring');
  expect(found.choose(lost).confidence).toBe(0.9);
  expect(found.evidence.evidence).toBe('all');

  const gone = ring({ all: lost, ring: lost });
  gone.evidence.listenAgain('ring');
  expect(gone.choose(lost)).toBe(lost);
  expect(gone.evidence.evidence).toBe('ring');
});
