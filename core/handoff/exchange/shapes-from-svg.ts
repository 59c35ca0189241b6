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
 * Outlines of paths, polygons and rectangles of an SVG as shapes that stay in the picture on a frame. Coordinates are those of its viewBox, stretched
 * to the plate; black shapes let content through, others stand in front. Arcs, transforms and anything else are reported, not taken.
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
    if (own.transform !== undefined) fault(`the transform of <${name}> is not taken over: flatten it first`);
    if (own.transform !== undefined || name === 'g') continue;
    // A rectangle over the whole picture is what shapes lie on.
    if (name === 'rect' && Number(own.width) === size[2] && Number(own.height) === size[3]) continue;
    if (name !== 'path' && name !== 'polygon' && name !== 'rect') {
      fault(`<${name}> is not an outline that can be taken over`);
      continue;
    }
    try {
      const contours =
        name === 'path'
          ? pathContours(own.d ?? '')
          : [polygon(name === 'polygon' ? numbers(own.points ?? '') : rectangle(own))];
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

function polygon(values: readonly number[]): Contour {
  const points = Array.from({ length: Math.floor(values.length / 2) }, (_, i): [number, number] => [
    values[2 * i]!,
    values[2 * i + 1]!,
  ]);
  return { points, handles: points.map(() => [0, 0, 0, 0]) };
}

function rectangle({ x, y, width, height }: Record<string, string | undefined>): number[] {
  const [l, t, w, h] = [x, y, width, height].map((v) => Number(v ?? 0)) as [number, number, number, number];
  return [l, t, l + w, t, l + w, t + h, l, t + h];
}

/** How many numbers each command takes. */
const TAKES: Readonly<Record<string, number>> = { m: 2, l: 2, h: 1, v: 1, c: 6, s: 4, q: 4, t: 2, z: 0 };

function pathContours(data: string): Contour[] {
  const contours: Contour[] = [];
  let open: Contour | null = null;
  let at: Point = [0, 0];
  let start: Point = [0, 0];
  let control: Point | null = null;
  let kind = '';
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
  const curve = (one: Point, two: Point, to: Point) => {
    open ??= { points: [[at[0], at[1]]], handles: [[0, 0, 0, 0]] };
    const before = open.handles.at(-1)!;
    before[2] = one[0] - at[0];
    before[3] = one[1] - at[1];
    open.points.push([to[0], to[1]]);
    open.handles.push([two[0] - to[0], two[1] - to[1], 0, 0]);
    at = to;
  };
  const straight = (to: Point) => curve(at, to, to);
  for (const [, letter, rest] of data.matchAll(/([a-z])([^a-z]*(?:e[-+]?\d[^a-z]*)*)/gi)) {
    const command = letter!.toLowerCase();
    const relative = letter === command;
    const values = numbers(rest!);
    const takes = TAKES[command];
    if (takes === undefined)
      throw new RangeError(`the path command ${letter!} is not taken over: turn arcs into curves first`);
    if (takes === 0) {
      close();
      at = start;
      control = null;
      kind = command;
      continue;
    }
    if (values.length === 0 || values.length % takes !== 0)
      throw new RangeError(`the path command ${letter!} has ${values.length} numbers`);
    for (let i = 0; i < values.length; i += takes) {
      const v = values.slice(i, i + takes);
      const base = relative ? at : ([0, 0] as const);
      const p = (k: number): Point => [base[0] + v[k]!, base[1] + v[k + 1]!];
      const mirrored = (kinds: string): Point =>
        control && kinds.includes(kind) ? [2 * at[0] - control[0], 2 * at[1] - control[1]] : at;
      switch (command) {
        case 'm':
          if (i === 0) {
            close();
            at = p(0);
            start = at;
          } else straight(p(0));
          break;
        case 'l':
          straight(p(0));
          break;
        case 'h':
          straight([base[0] + v[0]!, at[1]]);
          break;
        case 'v':
          straight([at[0], base[1] + v[0]!]);
          break;
        case 'c': {
          const two = p(2);
          curve(p(0), two, p(4));
          control = two;
          break;
        }
        case 's': {
          const one = mirrored('cs');
          const two = p(0);
          curve(one, two, p(2));
          control = two;
          break;
        }
        default: {
          // A quadratic curve is a cubic one whose controls lie two thirds of the way to its own.
          const from = at;
          const middle = command === 'q' ? p(0) : mirrored('qt');
          const to = p(command === 'q' ? 2 : 0);
          const toward = (end: Point): Point => [
            end[0] + (2 / 3) * (middle[0] - end[0]),
            end[1] + (2 / 3) * (middle[1] - end[1]),
          ];
          curve(toward(from), toward(to), to);
          control = middle;
        }
      }
      kind = command;
      if (command !== 'c' && command !== 's' && command !== 'q' && command !== 't') control = null;
    }
  }
  close();
  return contours;
}
