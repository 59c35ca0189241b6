import type { Point } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { pretty } from './corner-data.ts';
import type { ChosenFrames } from './export-choices.ts';

/** Where a surface's middle is, how large it is and how it is turned, beside the reference frame. */
export interface SurfaceTransform {
  readonly position: Point;
  /** Over the reference frame's. */
  readonly scale: number;
  /** Degrees, clockwise as seen. */
  readonly rotation: number;
}

/**
 * The similarity that leads four corners to four others best, as what it does to the middle of the first: the least squares of their distances.
 * Source: S. Umeyama, Least-squares estimation of transformation parameters between two point patterns, PAMI 13(4), 1991.
 */
export function similarityBetween(from: Quad, to: Quad): SurfaceTransform {
  const a = middle(from);
  const b = middle(to);
  let along = 0;
  let across = 0;
  let size = 0;
  from.forEach(([x, y], i) => {
    const p = x - a[0];
    const q = y - a[1];
    const u = to[i]![0] - b[0];
    const v = to[i]![1] - b[1];
    along += p * u + q * v;
    across += p * v - q * u;
    size += p * p + q * q;
  });
  return {
    position: b,
    scale: Math.hypot(along, across) / size,
    rotation: (Math.atan2(across, along) * 180) / Math.PI,
  };
}

const middle = (quad: Quad): Point => [
  quad.reduce((sum, [x]) => sum + x, 0) / 4,
  quad.reduce((sum, [, y]) => sum + y, 0) / 4,
];

interface TransformRow {
  readonly frame: number;
  readonly transform: SurfaceTransform | null;
  readonly lost: string | null;
}

/** Turns of more than half a circle from frame to frame are none: the angle goes on as it was going. */
function rowsOf(chosen: ChosenFrames): TransformRow[] {
  const home = chosen.referenceCorners() ?? firstCorners(chosen);
  const up = chosen.choices.y === 'up';
  let before = 0;
  return chosen.all().map(({ index, frame, lost }) => {
    const corners = chosen.cornersOf(index);
    if (!home || !corners) return { frame, transform: null, lost: lost ?? 'no corners' };
    const { position, scale, rotation } = similarityBetween(home, corners);
    const [x, y] = chosen.place(position);
    const going = rotation + 360 * Math.round((before - rotation) / 360);
    before = going;
    return {
      frame,
      lost: null,
      transform: {
        position: [chosen.round(x), chosen.round(y)],
        scale: chosen.round(scale),
        rotation: chosen.round(up ? -going : going),
      },
    };
  });
}

function firstCorners(chosen: ChosenFrames): Quad | null {
  const first = chosen.all().find(({ corners }) => corners);
  return first ? chosen.cornersOf(first.index) : null;
}

const MEANING =
  'position of the middle of the four corners; scale over the reference frame; rotation in degrees beside it, clockwise as seen with y down, counter-clockwise with y up';

export function transformCsv(chosen: ChosenFrames): string {
  const lines = [
    '# position, scale and rotation of a tracked surface',
    ...chosen.notes().map((note) => `# ${note}`),
    `# ${MEANING}; empty fields: lost`,
  ];
  const rows = rowsOf(chosen).map(({ frame, transform: t }) =>
    [frame, ...(t ? [t.position[0], t.position[1], t.scale, t.rotation] : ['', '', '', ''])].join(','),
  );
  return `${[...lines, 'frame,x,y,scale,rotation', ...rows].join('\n')}\n`;
}

export function transformJson(chosen: ChosenFrames): string {
  return pretty(
    { format: 'yarlop-transforms/1', ...chosen.conventions(), meaning: MEANING },
    rowsOf(chosen).map(({ frame, transform, lost }) =>
      transform ? { frame, ...transform } : { frame, lost: lost ?? 'no corners' },
    ),
  );
}
