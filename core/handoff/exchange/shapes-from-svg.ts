import svgpath from 'svgpath';
import type { Point } from '../../base/geometry/homography.ts';
import type { FrontShape } from '../../base/schemas/types.ts';

/** A piece of the file that cannot be taken over, and why. */
export interface SvgFault {
  /** Counted from 1. */
  readonly line: number;
  readonly why: string;
}

export interface ShapesFromSvg {
  readonly shapes: readonly FrontShape[];
  readonly faults: readonly SvgFault[];
}

/** A closed outline: points, each with where its curves come in and go out beside it. */
interface Contour {
  readonly points: [number, number][];
  readonly handles: [number, number, number, number][];
}

const MOST_POINTS = 1000;

/**
 * Outlines of paths, polygons, rectangles and ellipses of an SVG as shapes that stay in the picture on a frame. Coordinates are those of its viewBox, stretched
 * to the plate; black shapes let content through, others stand in front. What is no outline, and groups that are moved, are reported, not taken.
 * Source: Scalable Vector Graphics 2 (W3C), chapter 9 (path data).
 */
export function shapesFromSvg(
  text: string,
  plate: { readonly width: number; readonly height: number },
  frame: number,
): ShapesFromSvg {
  const shapes: FrontShape[] = [];
  const faults: SvgFault[] = [];
  const root = /<svg\b[^>]*>/i.exec(text);
  if (!root) return { shapes, faults: [{ line: 1, why: 'it is no SVG' }] };
  const size = sizeOf(attributesOf(root[0])) ?? [0, 0, plate.width, plate.height];
  const place = ([x, y]: Point): [number, number] => [
    ((x - size[0]) * plate.width) / size[2],
    ((y - size[1]) * plate.height) / size[3],
  ];
  for (const match of text.matchAll(/<(path|polygon|rect|circle|ellipse|line|polyline|use|image|text|g)\b([^>]*)>/gi)) {
    const name = match[1]!.toLowerCase();
    const own = attributesOf(match[2]!);
    const line = text.slice(0, match.index).split('\n').length;
    const fault = (why: string) => faults.push({ line, why });
    if (name === 'g') {
      if (own.transform !== undefined) fault('the transform of <g> is not taken over: flatten it first');
      continue;
    }
    // A rectangle over the whole picture is what shapes lie on.
    if (name === 'rect' && Number(own.width) === size[2] && Number(own.height) === size[3]) continue;
    const data = PATH_DATA[name]?.(own);
    if (data === undefined) {
      fault(`<${name}> is not an outline that can be taken over`);
      continue;
    }
    try {
      const contours = pathContours(data, own.transform);
      contours.forEach((contour, i) => {
        if (contour.points.length < 3) return void fault('an outline has fewer than 3 points');
        if (contour.points.length > MOST_POINTS) return void fault(`an outline has more than ${MOST_POINTS} points`);
        const label = own['data-name'] ?? own.id;
        const points = contour.points.map(place);
        const handles = contour.handles.map(([ix, iy, ox, oy], k): [number, number, number, number] => {
          const [x, y] = contour.points[k]!;
          const at = points[k]!;
          const into = place([x + ix, y + iy]);
          const out = place([x + ox, y + oy]);
          return [into[0] - at[0], into[1] - at[1], out[0] - at[0], out[1] - at[1]];
        });
        shapes.push({
          ...(label ? { name: (contours.length > 1 ? `${label} ${i + 1}` : label).slice(0, 60) } : {}),
          points,
          ...(handles.some((h) => h.some((v) => v !== 0)) ? { handles } : {}),
          rides: 'plate',
          home: frame,
          ...(/^(#0{3,6}|black)$/i.test(own.fill ?? '') ? { does: 'remove' as const } : {}),
        });
      });
    } catch (error) {
      fault((error as Error).message);
    }
  }
  return { shapes, faults };
}

function attributesOf(tag: string): Record<string, string | undefined> {
  return Object.fromEntries(
    [...tag.matchAll(/([\w:-]+)\s*=\s*(?:"([^"]*)"|'([^']*)')/g)].map(([, name, double, single]) => [
      name!,
      plain(double ?? single ?? ''),
    ]),
  );
}

const NAMED: Readonly<Record<string, string>> = { amp: '&', lt: '<', gt: '>', quot: '"', apos: "'" };

/** Text without the escapes of XML. */
function plain(text: string): string {
  return text.replace(
    /&(?:#(\d{1,7})|#x([0-9a-f]{1,6})|(\w+));/gi,
    (all, decimal?: string, hex?: string, name?: string) =>
      name
        ? (NAMED[name] ?? all)
        : String.fromCodePoint(Math.min(0x10ffff, decimal ? Number(decimal) : parseInt(hex!, 16))),
  );
}

function sizeOf({
  viewBox,
  width,
  height,
}: Record<string, string | undefined>): [number, number, number, number] | null {
  const box = numbers(viewBox ?? '');
  if (box.length === 4 && box[2]! > 0 && box[3]! > 0) return box as [number, number, number, number];
  return parseFloat(width ?? '') > 0 && parseFloat(height ?? '') > 0
    ? [0, 0, parseFloat(width!), parseFloat(height!)]
    : null;
}

const numbers = (text: string): number[] => (text.match(/[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?/gi) ?? []).map(Number);

/** What is drawn by an element, as path data (Scalable Vector Graphics 2, chapter 10: the equivalent paths of basic shapes). */
const PATH_DATA: Readonly<Record<string, (own: Readonly<Record<string, string | undefined>>) => string>> = {
  path: ({ d }) => d ?? '',
  polygon: ({ points }) => `M${numbers(points ?? '').join(' ')}Z`,
  rect: ({ x, y, width, height }) => {
    const [l, t, w, h] = [x, y, width, height].map((v) => Number(v ?? 0)) as [number, number, number, number];
    return `M${l} ${t}H${l + w}V${t + h}H${l}Z`;
  },
  circle: ({ cx, cy, r }) => ellipse(Number(cx ?? 0), Number(cy ?? 0), Number(r ?? 0), Number(r ?? 0)),
  ellipse: ({ cx, cy, rx, ry }) => ellipse(Number(cx ?? 0), Number(cy ?? 0), Number(rx ?? 0), Number(ry ?? 0)),
};

const ellipse = (cx: number, cy: number, rx: number, ry: number): string =>
  `M${cx + rx} ${cy}A${rx} ${ry} 0 0 1 ${cx - rx} ${cy}A${rx} ${ry} 0 0 1 ${cx + rx} ${cy}Z`;

/** Closed outlines of a path: every piece as a cubic curve, arcs among them. @throws RangeError with what cannot be read */
function pathContours(data: string, transform = ''): Contour[] {
  // Its description lacks the fault that it keeps.
  const path = svgpath(data) as ReturnType<typeof svgpath> & { readonly err?: string };
  if (path.err) throw new RangeError(`the path cannot be read: ${path.err.replace(/^SvgPath: /, '')}`);
  const contours: Contour[] = [];
  let open: Contour | null = null;
  const close = () => {
    if (!open) return;
    const first = open.points[0]!;
    const last = open.points.at(-1)!;
    // A path that comes back to where it began has that point once.
    if (open.points.length > 1 && Math.hypot(first[0] - last[0], first[1] - last[1]) < 1e-6) {
      open.handles[0]![0] = open.handles.at(-1)![0];
      open.handles[0]![1] = open.handles.at(-1)![1];
      open.points.pop();
      open.handles.pop();
    }
    contours.push(open);
    open = null;
  };
  const curve = (at: Point, one: Point, two: Point, to: Point) => {
    open ??= { points: [[at[0], at[1]]], handles: [[0, 0, 0, 0]] };
    const before = open.handles.at(-1)!;
    before[2] = one[0] - at[0];
    before[3] = one[1] - at[1];
    open.points.push([to[0], to[1]]);
    open.handles.push([two[0] - to[0], two[1] - to[1], 0, 0]);
  };
  path
    .transform(transform)
    .abs()
    .unshort()
    .unarc()
    .iterate((segment, _, x, y) => {
      const at: Point = [x, y];
      const straight = (to: Point) => curve(at, at, to, to);
      if (segment[0] === 'M' || segment[0] === 'Z' || segment[0] === 'z') close();
      else if (segment[0] === 'L') straight([segment[1], segment[2]]);
      else if (segment[0] === 'H') straight([segment[1], y]);
      else if (segment[0] === 'V') straight([x, segment[1]]);
      else if (segment[0] === 'C')
        curve(at, [segment[1], segment[2]], [segment[3], segment[4]], [segment[5], segment[6]]);
      else if (segment[0] === 'Q') {
        // A quadratic curve is a cubic one whose controls lie two thirds of the way to its own.
        const to: Point = [segment[3], segment[4]];
        const toward = (end: Point): Point => [
          end[0] + (2 / 3) * (segment[1] - end[0]),
          end[1] + (2 / 3) * (segment[2] - end[1]),
        ];
        curve(at, toward(at), toward(to), to);
      }
    });
  close();
  return contours;
}
