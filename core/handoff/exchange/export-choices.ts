import { mapTuple } from '../../base/geometry/map-tuple.ts';
import { applyToPoint, compose, keepsInFront, type Homography, type Point } from '../../base/geometry/homography.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { CORNER_NAMES, UNIT_SQUARE, type Quad } from '../../base/geometry/quad.ts';
import type { ExportChoices, TrackFile } from '../../base/schemas/types.ts';
import { cornersByFrame } from './track-file.ts';
import { homographyFromFile, type PixelCentre } from '../../base/geometry/pixel-centre.ts';

export type CornerName = (typeof CORNER_NAMES)[number];

/** Orders that are asked for most, by a name that says what they are; any other is given corner by corner. */
export const CORNER_ORDERS = {
  clockwise: ['top-left', 'top-right', 'bottom-right', 'bottom-left'],
  'counter-clockwise': ['top-left', 'bottom-left', 'bottom-right', 'top-right'],
  rows: ['top-left', 'top-right', 'bottom-left', 'bottom-right'],
  'rows-from-below': ['bottom-left', 'bottom-right', 'top-left', 'top-right'],
  'clockwise-from-below': ['bottom-left', 'top-left', 'top-right', 'bottom-right'],
} as const satisfies Record<string, readonly CornerName[]>;

/** Significant digits of a homography's numbers where decimals are not given: at 10,000 px they leave less than a millionth of a pixel. */
const MAP_DIGITS = 15;

/** One frame as it is handed on, in the coordinates that were chosen. */
export interface ChosenFrame {
  /** As it is counted in the plate, from 0. */
  readonly index: number;
  /** As it is written. */
  readonly frame: number;
  readonly corners: readonly Point[] | null;
  /** Row-major, column vectors. */
  readonly homography: Homography | null;
  /** Why there is nothing. */
  readonly lost: string | null;
}

/** Turns a track's frames into the coordinates, numbers and order that somebody else's program wants. */
export class ChosenFrames {
  readonly order: readonly CornerName[];
  readonly pixelCentre: PixelCentre;
  readonly decimals: number;
  private readonly corners: ReadonlyMap<number, Quad>;
  private readonly width: number;
  private readonly height: number;

  constructor(
    readonly track: TrackFile,
    readonly choices: ExportChoices = {},
  ) {
    this.order = CORNER_ORDERS[choices.order ?? 'clockwise'];
    this.pixelCentre = choices.pixelCentre ?? track.pixelCentre;
    this.decimals = choices.decimals ?? 6;
    this.width = track.width;
    this.height = track.height;
    this.corners = choices.corrections === false ? uncorrected(track) : cornersByFrame(track);
  }

  /** Number of the plate's first frame as it is written. */
  get firstFrame(): number {
    const { frameBase = 0 } = this.choices;
    return frameBase === 'plate' ? (this.track.firstFrameNumber ?? 0) : frameBase;
  }

  all(): ChosenFrame[] {
    const own = homographyFromFileOf(this.track);
    const home = this.referenceCorners();
    return [...this.track.frames]
      .sort((a, b) => a.frame - b.frame)
      .map((row): ChosenFrame => {
        const corners = this.corners.get(row.frame);
        const moved = row.homography ? own(row.homography) : null;
        const map =
          this.choices.from === 'surface'
            ? corners && homographyBetweenQuads(UNIT_SQUARE, corners)
            : this.choices.corrections === true && corners && home
              ? homographyBetweenQuads(home, corners)
              : moved;
        const lost = corners || moved ? null : (row.lost ?? 'no corners');
        return {
          index: row.frame,
          frame: row.frame + this.firstFrame,
          corners: corners ? this.order.map((name) => this.point(corners[CORNER_NAMES.indexOf(name)]!)) : null,
          homography: map ? this.map(map) : null,
          lost,
        };
      });
  }

  /** The corners of the reference frame in our own coordinates; null where it has none. */
  referenceCorners(): Quad | null {
    return this.corners.get(this.track.referenceFrame) ?? null;
  }

  cornersOf(index: number): Quad | null {
    return this.corners.get(index) ?? null;
  }

  /** A place in our coordinates as it is written, not rounded. */
  place([x, y]: Point): [number, number] {
    const { units = 'pixels', y: axis = 'down' } = this.choices;
    const up = axis === 'up';
    if (units === 'normalised') return [x / this.width, (up ? this.height - y : y) / this.height];
    const shift = this.pixelCentre === 'integer' ? 0.5 : 0;
    return [x - shift, (up ? this.height - y : y) - shift];
  }

  round(value: number): number {
    const rounded = Number(value.toFixed(this.decimals));
    return Object.is(rounded, -0) ? 0 : rounded;
  }

  /** What a file says of itself, for a person. */
  notes(): string[] {
    const {
      track,
      choices: { units = 'pixels', y = 'down' },
    } = this;
    const centre =
      units === 'normalised'
        ? `0 to 1 across the picture`
        : `the centre of the ${y === 'up' ? 'bottom' : 'top'}-left pixel is at ${this.pixelCentre === 'half' ? '0.5, 0.5' : '0, 0'}`;
    const first =
      this.choices.frameBase === undefined || this.choices.frameBase === 0
        ? `frames count from 0 at the first frame of the plate${track.firstFrameNumber ? `, whose own number is ${track.firstFrameNumber}` : ''}`
        : `the first frame of the plate is ${this.firstFrame}`;
    return [
      `plate ${track.width}x${track.height}, ${track.rate[0]}/${track.rate[1]} frames per second`,
      first,
      `x to the right, y ${y}; ${centre}`,
      ...this.shutterNote(),
    ];
  }

  private shutterNote(): string[] {
    const { shutter } = this.choices;
    return shutter
      ? [`shutter ${shutter.angle} degrees, its middle ${shutter.phase} degrees after the frame's time`]
      : [];
  }

  /** What a file says of itself, for a program. */
  conventions() {
    const { track, choices } = this;
    const { units = 'pixels', y = 'down' } = choices;
    return {
      ...(units === 'normalised' ? { units } : { pixelCentre: this.pixelCentre }),
      yAxis: y,
      width: track.width,
      height: track.height,
      rate: track.rate,
      firstFrame: this.firstFrame,
      ...(track.firstFrameNumber && this.firstFrame === 0 ? { firstFrameNumber: track.firstFrameNumber } : {}),
      referenceFrame: track.referenceFrame + this.firstFrame,
      ...(choices.corrections === false ? { corrections: false } : {}),
      ...(choices.shutter ? { shutter: choices.shutter } : {}),
    };
  }

  private point(at: Point): Point {
    const [x, y] = this.place(at);
    return [this.round(x), this.round(y)];
  }

  /** A map between our coordinates as one between those that are written; from the surface's own square it stays so on that side. */
  private map(h: Homography): Homography {
    const to = this.written();
    const from = this.choices.from === 'surface' ? null : inverseOfScale(to);
    const out = from ? compose(compose(to, h), from) : compose(to, h);
    const scale = 1 / out[8]!;
    return out.map((v) =>
      this.choices.decimals === undefined ? Number((v * scale).toPrecision(MAP_DIGITS)) : this.round(v * scale),
    );
  }

  /** The map from our coordinates to those that are written: scales and a shift. */
  private written(): Homography {
    const [x0, y0] = this.place([0, 0]);
    const [x1] = this.place([1, 0]);
    const [, y1] = this.place([0, 1]);
    return [x1 - x0, 0, x0, 0, y1 - y0, y0, 0, 0, 1];
  }
}

function inverseOfScale(h: Homography): Homography {
  return [1 / h[0]!, 0, -h[2]! / h[0]!, 0, 1 / h[4]!, -h[5]! / h[4]!, 0, 0, 1];
}

const homographyFromFileOf =
  (track: TrackFile) =>
  (h: Homography): Homography =>
    homographyFromFile(h, track.pixelCentre);

/** Corners as the track alone carries those of the reference frame, without lock, fixes, outset and smoothing. */
function uncorrected(track: TrackFile): Map<number, Quad> {
  const shift = track.pixelCentre === 'integer' ? 0.5 : 0;
  const known = cornersByFrame(track);
  const home = track.seat
    ? mapTuple(track.seat.corners, ([x, y]) => [x + shift, y + shift])
    : known.get(track.referenceFrame);
  const own = homographyFromFileOf(track);
  if (!home) return known;
  return new Map(
    track.frames.flatMap(({ frame, homography }): [number, Quad][] => {
      const h = homography && own(homography);
      return h && keepsInFront(h, home) ? [[frame, mapTuple(home, (corner) => applyToPoint(h, corner))]] : [];
    }),
  );
}
