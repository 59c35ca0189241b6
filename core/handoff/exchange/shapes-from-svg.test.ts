import { expect, test } from 'vitest';
import { flattened } from '../../picture/matte/roto-shapes.ts';
import { identityTrack } from '../../test/identity-track.ts';
import { ShapesOnFrames, shapesSvg } from './shapes-data.ts';
import { shapesFromSvg } from './shapes-from-svg.ts';

const PLATE = { width: 640, height: 360 };
const svg = (inner: string, head = 'viewBox="0 0 640 360"') =>
  `<svg xmlns="http://www.w3.org/2000/svg" ${head}>\n${inner}\n</svg>`;

test('paths of our own SVG come back as they were drawn, on the frame they are brought in on', () => {
  const track = identityTrack(640, 360, 3, [
    [100, 100],
    [500, 100],
    [500, 300],
    [100, 300],
  ]);
  const look = {
    shapes: [
      {
        name: 'leaf & stem',
        points: [
          [120, 110],
          [300, 150],
          [200, 260],
        ] as [number, number][],
      },
      {
        points: [
          [150, 120],
          [180, 120],
          [160, 150],
        ] as [number, number][],
        does: 'remove' as const,
      },
    ],
  };
  const { shapes, faults } = shapesFromSvg(shapesSvg(new ShapesOnFrames(track, look), 1), PLATE, 1);
  expect(faults).toEqual([]);
  expect(shapes).toEqual([
    { name: 'leaf & stem', points: look.shapes[0]!.points, rides: 'plate', home: 1 },
    { name: 'shape-2', points: look.shapes[1]!.points, rides: 'plate', home: 1, does: 'remove' },
  ]);
});

test('curves keep their bend: absolute, relative, smooth and quadratic ones', () => {
  const { shapes } = shapesFromSvg(
    svg(
      '<path id="a" d="M100 100C150 50 250 50 300 100S400 150 450 100L450 200H100z"/><path d="m100,100 c50-50 150-50 200,0 s100,50 150,0 v100 h-350 z"/><path d="M0 0Q50 100 100 0T200 0V90H0Z"/>',
    ),
    PLATE,
    0,
  );
  expect(shapes[0]!.points).toEqual([
    [100, 100],
    [300, 100],
    [450, 100],
    [450, 200],
    [100, 200],
  ]);
  expect(shapes[0]!.handles![1]).toEqual([-50, -50, 50, 50]);
  expect(shapes[1]!.points).toEqual(shapes[0]!.points);
  expect(shapes[1]!.handles).toEqual(shapes[0]!.handles);
  // Half-way along a quadratic curve lies a quarter of its ends and half of its control.
  const { points } = flattened(
    shapes[2]!.points,
    shapes[2]!.handles,
    () => [0, 0],
    (p) => p,
  );
  const nearest = Math.min(...points.map(([x, y]) => Math.hypot(x - 50, y - 50)));
  expect(nearest).toBeLessThan(1);
});

test('a viewBox of another size is stretched to the plate; a rectangle behind all is none; several outlines of a path are several shapes', () => {
  const { shapes } = shapesFromSvg(
    svg(
      '<rect width="1280" height="720" fill="#000"/><polygon points="0,0 1280,0 1280,720"/><path id="two" d="M0 0L10 0L10 10ZM20 20l10 0 0 10z"/>',
      "viewBox='0 0 1280 720'",
    ),
    PLATE,
    0,
  );
  expect(shapes.map((s) => s.name)).toEqual([undefined, 'two 1', 'two 2']);
  expect(shapes[0]!.points).toEqual([
    [0, 0],
    [640, 0],
    [640, 360],
  ]);
});

test('arcs, ellipses and transforms are taken: by hand, a quarter of a circle and a doubled triangle', () => {
  const { shapes, faults } = shapesFromSvg(
    svg(
      '<path d="M10 0A10 10 0 0 1 0 10L0 0Z"/><ellipse cx="50" cy="40" rx="20" ry="10"/><path transform="translate(5 6) scale(2)" d="M0 0L9 0L9 9Z"/>',
    ),
    PLATE,
    0,
  );
  expect(faults).toEqual([]);
  const [quarter, ellipse, triangle] = shapes.map(
    ({ points, handles }) =>
      flattened(
        points,
        handles ?? points.map(() => [0, 0, 0, 0] as [number, number, number, number]),
        () => [0, 0],
        (p) => p,
      ).points,
  );
  for (const [x, y] of quarter!.filter(([x, y]) => x > 0.01 && y > 0.01)) expect(Math.hypot(x, y)).toBeCloseTo(10, 1);
  for (const [x, y] of ellipse!) expect(Math.hypot((x - 50) / 20, (y - 40) / 10)).toBeCloseTo(1, 2);
  expect(triangle).toEqual([
    [5, 6],
    [23, 6],
    [23, 24],
  ]);
});

test('what cannot be taken over is reported by line, the rest is taken', () => {
  const { shapes, faults } = shapesFromSvg(
    svg(
      '<line x1="4"/>\n<path d="M0 0L5 x5Z"/>\n<g transform="scale(2)"></g>\n<path d="M0 0L5Z"/>\n<path d="M0 0L5 5Z"/>\n<path d="M0 0L9 0L9 9Z"/>',
    ),
    PLATE,
    0,
  );
  expect(shapes).toHaveLength(1);
  expect(faults.map((f) => f.line)).toEqual([2, 3, 4, 5, 6]);
  expect(faults[1]!.why).toMatch(/^the path cannot be read: /);
  expect(shapesFromSvg('hello', PLATE, 0).faults).toEqual([{ line: 1, why: 'it is no SVG' }]);
});
