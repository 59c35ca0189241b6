import { mapTuple } from '../../base/geometry/map-tuple.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoint, invert, type Homography, type Point } from '../../base/geometry/homography.ts';
import { CORNER_NAMES, quadFault, type Quad } from '../../base/geometry/quad.ts';
import { Problem } from '../../base/problem/problem.ts';
import type { ImportMapping } from '../../base/schemas/types.ts';
import { numberOf, readTable, type TextTable } from './read-table.ts';

/** A frame that was read, in our coordinates, counted from 0. */
export interface ImportedFrame {
  readonly frame: number;
  readonly corners: Quad;
}

/** A line that could not be used, and why. */
export interface ImportFault {
  readonly line: number;
  readonly why: string;
}

export interface Imported {
  readonly frames: readonly ImportedFrame[];
  readonly faults: readonly ImportFault[];
  /** How the file was understood. */
  readonly mapping: ImportMapping;
}

/** The plate that data are for, and the corners that homographies carry (those of `referenceFrame`). */
export interface ImportPlate {
  readonly width: number;
  readonly height: number;
  readonly corners?: Quad | null | undefined;
}

/** Columns of a text that a person may choose among; null for JSON, which says itself what is what. */
export function columnsOf(text: string): string[] | null {
  if (isJson(text)) return null;
  const { header, rows } = readTable(text);
  const most = Math.max(0, ...rows.slice(0, 50).map((row) => row.cells.length));
  return Array.from({ length: most }, (_, i) => header?.[i] ?? `column ${i + 1}`);
}

const isJson = (text: string): boolean => /^\s*[{[]/.test(text);

/** How a table is probably meant: by what it says of itself, by names of columns, or by their number. Null where nothing suggests it. */
export function guessMapping(text: string): ImportMapping | null {
  const table = readTable(text);
  const { notes } = table;
  const said = notes.join('\n');
  const names = (table.header ?? []).map((name) =>
    name
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, ' ')
      .trim(),
  );
  const count = Math.max(0, ...table.rows.slice(0, 50).map((row) => row.cells.length));
  const number = /first frame of the plate is (-?\d+)/.exec(said);
  const common = {
    frameBase: number ? Number(number[1]) : 0,
    y: /\by up\b/.test(said) ? ('up' as const) : ('down' as const),
    pixelCentre: /pixel is at 0, 0\b/.test(said) ? ('integer' as const) : ('half' as const),
    units: /0 to 1 across/.test(said) ? ('normalised' as const) : ('pixels' as const),
  };
  const frame = Math.max(
    0,
    names.findIndex((name) => /^(frame|f|frame number|number)$/.test(name)),
  );
  const corners = CORNER_NAMES.flatMap((name) =>
    ['x', 'y'].map((axis) => names.findIndex((one) => isColumn(one, name, axis))),
  );
  if (corners.every((column) => column >= 0)) return { ...common, frame, corners };
  const maps = Array.from({ length: 9 }, (_, k) =>
    names.findIndex((name) => name === `h${Math.floor(k / 3)}${k % 3}` || name === `h ${Math.floor(k / 3)} ${k % 3}`),
  );
  if (maps.every((column) => column >= 0)) return { ...common, frame, homography: maps };
  if (count === 9) return { ...common, frame: 0, corners: [1, 2, 3, 4, 5, 6, 7, 8] };
  if (count === 10) return { ...common, frame: 0, homography: [1, 2, 3, 4, 5, 6, 7, 8, 9] };
  return null;
}

/** "top-left x", "TL_x", "upper left X", "x1" to "y4". */
function isColumn(name: string, corner: string, axis: string): boolean {
  const [row, side] = corner.split('-') as [string, string];
  const index = CORNER_NAMES.indexOf(corner as (typeof CORNER_NAMES)[number]) + 1;
  const rows = row === 'top' ? '(?:top|upper|t|u)' : '(?:bottom|lower|b|l)';
  const sides = side === 'left' ? '(?:left|l)' : '(?:right|r)';
  return (
    new RegExp(`^(?:corner )?${rows} ?${sides} ?${axis}$`).test(name) ||
    name === `${axis}${index}` ||
    name === `${axis} ${index}`
  );
}

/**
 * Reads corners or homographies: this project's own JSON and CSV, or any table with its columns told by `mapping`. Lines that cannot be used are
 * told, the others are read. @throws Problem import-unreadable, no-corners (homographies need corners to carry)
 */
export function importData(text: string, plate: ImportPlate, mapping: ImportMapping | null = null): Imported {
  if (isJson(text)) return importJson(text, plate);
  const told = mapping ?? guessMapping(text);
  if (!told) throw new Problem('import-unreadable', { why: 'it is a table whose columns are not named' });
  return importTable(readTable(text), plate, told);
}

function importTable(table: TextTable, plate: ImportPlate, mapping: ImportMapping): Imported {
  const frames = new Map<number, ImportedFrame>();
  const faults: ImportFault[] = [];
  const columns = mapping.corners ?? mapping.homography;
  if (!columns) throw new Problem('import-unreadable', { why: 'no columns are chosen' });
  for (const { line, cells } of table.rows) {
    const number = numberOf(cells[mapping.frame] ?? '', table.separator);
    const values = columns.map((column) => cells[column] ?? '');
    const fault = (why: string) => faults.push({ line, why });
    if (!Number.isInteger(number)) fault(`the frame is "${cells[mapping.frame] ?? ''}", not a whole number`);
    else if (values.every((cell) => cell.trim() === '')) continue;
    else {
      const numbers = values.map((cell) => numberOf(cell, table.separator));
      const odd = numbers.findIndex((v) => !Number.isFinite(v));
      const frame = number - (mapping.frameBase ?? 0);
      if (odd >= 0) fault(`"${values[odd]}" is not a number`);
      else if (frame < 0) fault(`frame ${number} is before the first frame of the plate, ${mapping.frameBase ?? 0}`);
      else if (frames.has(frame)) fault(`frame ${number} is there twice`);
      else {
        const corners = mapping.corners ? ordered(numbers, plate, mapping) : carried(numbers, plate, mapping);
        if (crossed(corners))
          fault('the corners do not make a convex outline, top left, top right, bottom right, bottom left');
        else frames.set(frame, { frame, corners });
      }
    }
  }
  return { frames: [...frames.values()].sort((a, b) => a.frame - b.frame), faults, mapping };
}

/** Whether four corners are no picture of a rectangle. Seen from behind they are turned over, which is one. */
const crossed = (quad: Quad): boolean => quadFault(quad) !== null;

const ordered = (numbers: readonly number[], plate: ImportPlate, mapping: ImportMapping): Quad =>
  mapTuple([0, 1, 2, 3], (i) => placeOf([numbers[2 * i]!, numbers[2 * i + 1]!], plate, mapping));

/** Where a map between the file's coordinates leads the corners of the reference frame. */
function carried(h: Homography, plate: ImportPlate, mapping: ImportMapping): Quad {
  if (!plate.corners) throw new Problem('no-corners');
  return mapTuple(plate.corners, (corner) => placeOf(applyToPoint(h, placeTo(corner, plate, mapping)), plate, mapping));
}

type Coordinates = Pick<ImportMapping, 'y' | 'pixelCentre' | 'units'>;

/** A place of the file in our coordinates. */
function placeOf(
  [x, y]: Point,
  { width, height }: ImportPlate,
  { y: axis = 'down', pixelCentre = 'half', units = 'pixels' }: Coordinates,
): [number, number] {
  const shift = units === 'pixels' && pixelCentre === 'integer' ? 0.5 : 0;
  const [px, py] = units === 'normalised' ? [x * width, y * height] : [x + shift, y + shift];
  return [px, axis === 'up' ? height - py : py];
}

/** And back. */
function placeTo(
  [x, y]: Point,
  { width, height }: ImportPlate,
  { y: axis = 'down', pixelCentre = 'half', units = 'pixels' }: Coordinates,
): Point {
  const shift = units === 'pixels' && pixelCentre === 'integer' ? 0.5 : 0;
  const py = axis === 'up' ? height - y : y;
  return units === 'normalised' ? [x / width, py / height] : [x - shift, py - shift];
}

interface DataFile {
  readonly format?: unknown;
  readonly pixelCentre?: unknown;
  readonly yAxis?: unknown;
  readonly units?: unknown;
  readonly firstFrame?: unknown;
  readonly cornerOrder?: unknown;
  readonly layout?: unknown;
  readonly frames?: unknown;
}

function importJson(text: string, plate: ImportPlate): Imported {
  let file: DataFile;
  try {
    file = JSON.parse(text) as DataFile;
  } catch (error) {
    throw new Problem('unreadable-json', { where: 'the file', why: (error as Error).message }, { cause: error });
  }
  if (
    (file.format !== 'yarlop-corners/1' &&
      file.format !== 'yarlop-homographies/1' &&
      file.format !== 'yarlop-track/1') ||
    !Array.isArray(file.frames)
  )
    throw new Problem('import-unreadable', { why: 'it is JSON, but neither corners, homographies nor a track' });
  const maps = file.format === 'yarlop-homographies/1';
  const order = Array.isArray(file.cornerOrder) ? (file.cornerOrder as unknown[]) : CORNER_NAMES;
  const fromSurface = typeof file.layout === 'string' && file.layout.includes('unit square');
  const base = typeof file.firstFrame === 'number' ? file.firstFrame : 0;
  const mapping: ImportMapping = {
    frame: 0,
    frameBase: base,
    y: file.yAxis === 'up' ? 'up' : 'down',
    pixelCentre: file.pixelCentre === 'integer' ? 'integer' : 'half',
    units: file.units === 'normalised' ? 'normalised' : 'pixels',
  };
  const frames: ImportedFrame[] = [];
  const faults: ImportFault[] = [];
  (file.frames as unknown[]).forEach((row, i) => {
    const { frame, corners, homography } = (row ?? {}) as { frame?: unknown; corners?: unknown; homography?: unknown };
    const fault = (why: string) => faults.push({ line: i + 1, why: `entry ${i + 1}: ${why}` });
    if (typeof frame !== 'number' || !Number.isInteger(frame) || frame < base)
      return void fault('it has no frame number');
    if (maps ? homography === undefined : corners === undefined) return;
    const numbers: unknown[] = [maps ? homography : corners].flat(2);
    if (numbers.length !== (maps ? 9 : 8) || !numbers.every((v) => typeof v === 'number' && Number.isFinite(v)))
      return void fault(maps ? 'the homography is not nine numbers' : 'the corners are not four pairs of numbers');
    const values = numbers as number[];
    const pairs = CORNER_NAMES.flatMap((name) => values.slice(2 * order.indexOf(name), 2 * order.indexOf(name) + 2));
    const quad = !maps
      ? ordered(pairs, plate, mapping)
      : fromSurface
        ? ordered(
            [
              [0, 0],
              [1, 0],
              [1, 1],
              [0, 1],
            ].flatMap((p) => [...applyToPoint(values, p as [number, number])]),
            plate,
            mapping,
          )
        : carried(values, plate, mapping);
    if (crossed(quad)) fault('the corners do not make a convex outline');
    else frames.push({ frame: frame - base, corners: quad });
  });
  return { frames: frames.sort((a, b) => a.frame - b.frame), faults, mapping };
}

/** The maps from the reference frame that corners come to; null where the reference frame is not among them. */
export function mapsOfImported(
  frames: readonly ImportedFrame[],
  referenceFrame: number,
): Map<number, Homography> | null {
  const home = frames.find((one) => one.frame === referenceFrame)?.corners;
  if (!home) return null;
  return new Map(
    frames.flatMap(({ frame, corners }): [number, Homography][] => {
      const h = frame === referenceFrame ? [1, 0, 0, 0, 1, 0, 0, 0, 1] : homographyBetweenQuads(home, corners);
      return h && invert(h) ? [[frame, h]] : [];
    }),
  );
}
