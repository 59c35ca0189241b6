import { describe, expect, test } from 'vitest';
import { contentCorners } from '../../../../core/picture/content/content-fit.ts';
import type { ContentPlace } from '../../../../core/base/schemas/types.ts';
import { moveCorner, scaleTo, shift, turnTo, type PlaceSetting } from './place-edits.ts';

const setting: PlaceSetting = { fit: 'fit', ratio: 0.5, content: { width: 400, height: 600 } };
const cornersOf = (place: ContentPlace) => contentCorners(setting.fit, place, setting.ratio, setting.content);
const near = (a: readonly number[], b: readonly number[]) => a.forEach((v, i) => expect(v).toBeCloseTo(b[i]!, 3));

describe('content moved by hand', () => {
  test.each<[string, ContentPlace]>([
    ['upright', {}],
    ['turned', { turn: 30 }],
    ['turned by a quarter and mirrored', { quarters: 1, mirror: [true, false] }],
    ['leaning', { shear: [10, -4], turn: 8 }],
  ])('a corner of %s content is where the hand puts it, along its diagonal', (_, start) => {
    const place: ContentPlace = { ...start };
    const before = cornersOf(place);
    const mid = [(before[0][0] + before[2][0]) / 2, (before[0][1] + before[2][1]) / 2] as const;
    const to = [mid[0] + 1.4 * (before[2][0] - mid[0]), mid[1] + 1.4 * (before[2][1] - mid[1])] as const;
    expect(scaleTo(place, setting, before[2], to, 'both')).toBe(true);
    near(place.scale!, [1.4, 1.4]);
    near(cornersOf(place)[2], to);
  });
  test('each way by itself the corner goes along with the hand', () => {
    const place: ContentPlace = { turn: 20, offset: [0.1, 0.05] };
    const from = cornersOf(place)[1];
    const to = [from[0] + 0.11, from[1] - 0.07] as const;
    scaleTo(place, setting, from, to, 'each');
    near(cornersOf(place)[1], to);
  });
  test('a side scales one way only', () => {
    const place: ContentPlace = {};
    const [, b, c] = cornersOf(place);
    const from = [(b[0] + c[0]) / 2, (b[1] + c[1]) / 2] as const;
    scaleTo(place, setting, from, [from[0] + 0.25, from[1] + 0.3], 'across');
    near(place.scale!, [1.5, 1]);
  });
  test('it turns with the hand about its middle, drawn to quarters', () => {
    const place: ContentPlace = { offset: [0.2, 0] };
    turnTo(place, setting, [0.7, 0.2], [0.7 + 0.3 / 0.5, 0.5]);
    expect(place.turn).toBe(90);
    turnTo(place, setting, [0.7, 0.2], [0.7 + (0.3 * Math.sin(0.3)) / 0.5, 0.5 - 0.3 * Math.cos(0.3)]);
    expect(place.turn).toBeCloseTo(90 + (0.3 * 180) / Math.PI, 2);
  });
  test('it is shifted, and drawn to the sides and the middle of the screen', () => {
    const place: ContentPlace = { offset: [0.013, 0.2] };
    shift(place, setting, [0.3, 0.01]);
    near(place.offset!, [0.313, 0.21]);
    shift(place, setting, [-0.305, 0], 0.02);
    expect(place.offset![0]).toBeCloseTo(0, 6);
  });
  test('one corner is moved by itself, never past the others', () => {
    const place: ContentPlace = {};
    const before = cornersOf(place);
    expect(moveCorner(place, setting, 2, [0.1, -0.05])).toBe(true);
    near(cornersOf(place)[2], [before[2][0] + 0.1, before[2][1] - 0.05]);
    near(cornersOf(place)[0], before[0]);
    expect(moveCorner(place, setting, 2, [-3, -3])).toBe(false);
    near(cornersOf(place)[2], [before[2][0] + 0.1, before[2][1] - 0.05]);
  });
  test('scaling goes on where a corner was moved', () => {
    const place: ContentPlace = {
      perspective: [
        [0, 0],
        [0, 0],
        [0.1, 0.05],
        [0, 0],
      ],
    };
    const before = cornersOf(place);
    scaleTo(place, setting, before[0], [before[0][0] - 0.05, before[0][1] - 0.05], 'both');
    expect(place.scale![0]).toBeGreaterThan(1);
  });
});
