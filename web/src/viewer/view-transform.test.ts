import { expect, test } from 'vitest';
import { fitView, LARGEST_SCALE, middleOutline, toPage, toPlate, zoomAt } from './view-transform.ts';

test('the whole plate fits, in the middle, with its margin', () => {
  const view = fitView(800, 600, 1280, 720, 1, 16);
  expect(view.scale).toBeCloseTo(768 / 1280, 9);
  expect(toPage(view, [0, 0])[0]).toBeCloseTo(16, 9);
  expect(toPage(view, [640, 360])).toEqual([400, 300]);
});

test('zooming keeps the point under the pointer', () => {
  const view = fitView(800, 600, 1280, 720);
  const before = toPlate(view, 123, 456);
  const after = toPlate(zoomAt(view, 3.7, 123, 456), 123, 456);
  expect(after[0]).toBeCloseTo(before[0], 9);
  expect(after[1]).toBeCloseTo(before[1], 9);
  expect(zoomAt(view, 1e9, 0, 0).scale).toBe(LARGEST_SCALE);
});

test('pixels that are wider than high are shown so, and stay so when zoomed', () => {
  // 720×576 with pixels of 64:45 fills 16:9.
  const view = fitView(1024, 576, 720, 576, 64 / 45, 0);
  expect(toPage(view, [720, 576])).toEqual([1024, 576]);
  expect(zoomAt(view, 2, 0, 0).aspect).toBe(64 / 45);
  expect(toPlate(zoomAt(view, 2, 300, 100), 300, 100)[0]).toBeCloseTo(toPlate(view, 300, 100)[0], 9);
});

test('page and plate are inverse', () => {
  const view = { scale: 2.5, aspect: 1.5, x: -40, y: 13 };
  const [x, y] = toPlate(view, ...toPage(view, [77, 88]));
  expect([x, y]).toEqual([77, 88]);
  expect(middleOutline(100, 80)).toEqual([
    [25, 20],
    [75, 20],
    [75, 60],
    [25, 60],
  ]);
});
