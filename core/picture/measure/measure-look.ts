import { bounds, distance, type Quad } from '../../base/geometry/quad.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import type { PixelBox } from '../../base/image/pixel-box.ts';
import { median, quantile } from '../../base/image/statistics.ts';
import { lightToCode } from '../../base/image/transfer.ts';
import { boxWithin, lightOfRegion, type LightRegion } from '../../base/image/light-region.ts';
import { ContentPyramid } from '../pin/content-pyramid.ts';
import { stopsBetween, type StopsFound } from './exposure-curve.ts';
import { flatBlocks, grainOf, type GrainFound } from './grain.ts';
import { levelsFound, type LevelFrame, type LevelsFound } from './level-points.ts';
import { homeFrame, motionAt, speedAt, type MeasuredShot } from '../pin/measured-shot.ts';
import { lightOfCells, luminanceOf, planeCells, type PlaneCells } from './plane-cells.ts';
import { flatReference, shutterOf, smearMisfits, type ShutterFound } from './shutter.ts';
import { softnessOnFrame, type SoftnessOnFrame } from './softness.ts';

/** Most frames on which the light is followed, on which softness and grain are looked at, and that tell the shutter. */
const MOST_LIGHT = 240;
const SOFT_FRAMES = 9;
const GRAIN_FRAMES = 4;
const FAST_FRAMES = 6;
/** Faster than this, px a frame, the smear of half a frame is eight pixels: enough to tell the shutter by. Half of that tells it less surely. */
const FAST = 16;
const SOME = 8;
/** Places are smeared into each other from this movement on, px a frame. */
const SMEARED = 6;
/** What is looked at around the surface, in its widths. */
const AROUND = 0.32;
/** A screen whose middle is darker than this, display-referred, on most frames is off. */
const DARK_SCREEN = 0.16;
/** A screen whose mean light stays within so much of the room's, stops, is lit steadily. */
const STEADY = 0.3;

/** Light of one frame against the home frame's. */
export interface LightOnFrame {
  readonly frame: number;
  readonly around: StopsFound | null;
  readonly screen: StopsFound | null;
  readonly light: Float32Array;
  /** Share of the screen's places that are darker, and brighter, than the same places on the home frame, its exposure counted. */
  readonly darker: number;
  readonly brighter: number;
  /** The surface moves so fast that its places are smeared. */
  readonly fast: boolean;
}

/** All that was measured of a plate. What could not be determined is null. */
export interface LookFindings {
  readonly home: number;
  readonly cells: PlaneCells;
  readonly lights: readonly LightOnFrame[];
  readonly levels: LevelsFound | null;
  readonly softness: readonly SoftnessOnFrame[];
  readonly shutter: ShutterFound | null;
  /** The fastest movement, px a frame. */
  readonly fastest: number;
  readonly grain: GrainFound | null;
  readonly grainFrames: readonly number[];
  readonly shutterFrames: readonly number[];
  /** The screen is off. */
  readonly dark: boolean;
}

/** What a frame is looked at for. */
export type Role = 'light' | 'soft' | 'grain' | 'fast';

/**
 * Measures what makes content belong in a plate. It is given first the picture of the home frame, then those of the frames that it asks for, in any order; each
 * is looked at once and let go.
 */
export class MeasureLook {
  readonly home: number;
  private readonly roles = new Map<number, Set<Role>>();
  private readonly cells: PlaneCells;
  private readonly lights: { frame: number; light: Float32Array }[] = [];
  private readonly soft: SoftnessOnFrame[] = [];
  private readonly blocks: ReturnType<typeof flatBlocks> = [];
  private readonly misfits: { frame: number; misfits: number[] }[] = [];
  private readonly grainFrames: number[] = [];
  private reference: { pyramid: ContentPyramid | null; light: Float32Array } | null = null;
  readonly fastest: number;

  constructor(private readonly shot: MeasuredShot) {
    if (shot.quads.size === 0)
      throw new RangeError('a look is measured about a surface, and its corners are known on no frame');
    this.home = homeFrame(shot);
    this.cells = planeCells(shot.ratio);
    const known = [...shot.quads.keys()].sort((a, b) => a - b);
    const speeds = new Map(known.map((f) => [f, speedAt(shot, f)]));
    this.fastest = Math.max(...speeds.values());
    const step = Math.ceil(known.length / MOST_LIGHT);
    known.forEach((f, i) => i % step === 0 && this.give(f, 'light'));
    for (const f of slowestOfSpans(known, speeds, SOFT_FRAMES)) this.give(f, 'soft');
    for (const f of slowestOfSpans(known, speeds, GRAIN_FRAMES)) this.give(f, 'grain');
    const inSight = known.filter((f) => mostlySeen(shot.quads.get(f)!, shot));
    const fast = inSight.filter((f) => speeds.get(f)! >= FAST);
    const some = fast.length > 0 ? fast : inSight.filter((f) => speeds.get(f)! >= SOME);
    for (const f of some.sort((a, b) => speeds.get(b)! - speeds.get(a)!).slice(0, FAST_FRAMES)) this.give(f, 'fast');
  }

  private give(frame: number, role: Role): void {
    const own = this.roles.get(frame) ?? new Set<Role>();
    own.add(role);
    this.roles.set(frame, own);
  }

  /** The frames that are asked for, in order. */
  get frames(): number[] {
    return [...this.roles.keys()].sort((a, b) => a - b);
  }

  /** Those that are asked for one thing. */
  framesFor(role: Role): number[] {
    return this.frames.filter((frame) => this.roles.get(frame)!.has(role));
  }

  /** The home frame's picture, before all others. */
  begin(picture: CodedPicture): void {
    const quad = this.shot.quads.get(this.home)!;
    const region = this.regionOf(quad, picture);
    if (!region) throw new RangeError('the surface is not in the picture of the home frame');
    this.reference = { pyramid: flatReference(region, quad), light: lightOfCells(this.cells, quad, region) };
  }

  /** With `only` it is looked at for that alone. */
  add(frame: number, picture: CodedPicture, only?: Role): void {
    const asked = this.roles.get(frame);
    const roles = asked && only ? new Set([only].filter((role) => asked.has(role))) : asked;
    const quad = this.shot.quads.get(frame);
    const region = roles && quad && this.regionOf(quad, picture);
    if (!this.reference) throw new RangeError('the home frame comes first');
    if (!region) return;
    const motion = motionAt(this.shot, frame);
    if (roles.has('light')) this.lights.push({ frame, light: lightOfCells(this.cells, quad, region) });
    if (roles.has('soft')) {
      const found = softnessOnFrame(frame, region, motion, 0.5, this.soft.at(-1)?.sigma);
      if (found) this.soft.push(found);
    }
    if (roles.has('grain')) {
      this.blocks.push(
        ...flatBlocks(
          lightOfRegion(picture, { left: 0, top: 0, right: picture.width, bottom: picture.height }, this.shot.colour),
        ),
      );
      this.grainFrames.push(frame);
    }
    if (roles.has('fast') && this.reference.pyramid) {
      const misfits = smearMisfits(this.reference.pyramid, region, motion, this.litSteadily(quad, region));
      if (misfits) this.misfits.push({ frame, misfits });
    }
  }

  finish(): LookFindings {
    const { cells, reference, home } = this;
    const lights = this.lights
      .sort((a, b) => a.frame - b.frame)
      .map(({ frame, light }): LightOnFrame => {
        const around = stopsBetween(cells, reference!.light, light, 0);
        return {
          frame,
          light,
          around,
          fast: speedAt(this.shot, frame) > SMEARED,
          screen: stopsBetween(cells, reference!.light, light, 1),
          ...this.crossed(light, around?.stops ?? 0),
        };
      });
    const dark = isDark(cells, lights);
    const brightest = dark ? 0 : screenTop(lights);
    const spread = lights.filter((_, i) => i % Math.max(1, Math.floor(lights.length / 12)) === 0);
    return {
      home,
      cells,
      lights,
      levels: levelsFound(
        cells,
        spread.map((one) => levelFrame(one, dark, brightest)),
      ),
      softness: this.soft.sort((a, b) => a.frame - b.frame),
      shutter: shutterOf(this.misfits.map((m) => m.misfits)),
      fastest: this.fastest,
      grain: grainOf(this.blocks),
      grainFrames: this.grainFrames,
      shutterFrames: this.misfits.map((m) => m.frame).sort((a, b) => a - b),
      dark,
    };
  }

  private regionOf(quad: Quad, picture: CodedPicture): LightRegion | null {
    const wide = Math.max(distance(quad[0], quad[1]), distance(quad[3], quad[2]));
    const box: PixelBox | null = boxWithin(bounds(quad), AROUND * wide, picture);
    return box && lightOfRegion(picture, box, this.shot.colour);
  }

  /** Whether the screen is lit as on the home frame: by the middle of its light against the room's, which a smear leaves. */
  private litSteadily(quad: Quad, region: LightRegion): boolean {
    const light = lightOfCells(this.cells, quad, region);
    const stops = stopsBetween(this.cells, this.reference!.light, light, 0)?.stops ?? 0;
    const was = mean(insideLuminance(this.cells, this.reference!.light));
    const is = mean(insideLuminance(this.cells, light));
    return (
      lightToCode(was) > DARK_SCREEN && Math.abs(Math.log2(Math.max(1e-4, is) / Math.max(1e-4, was)) - stops) < STEADY
    );
  }

  /** Shares of the screen's places that differ from the home frame's by more than light does. */
  private crossed(light: Float32Array, stops: number): { darker: number; brighter: number } {
    const screen = stopsBetween(this.cells, this.reference!.light, light, 1);
    const by = screen && screen.agree > 0.3 ? screen.stops : stops;
    let seen = 0;
    let darker = 0;
    let brighter = 0;
    for (let i = 0; i < this.cells.u.length; i++) {
      const a = luminanceOf(this.reference!.light, i);
      const b = luminanceOf(light, i);
      if (this.cells.inside[i] === 0 || a < 0.004 || b < 0) continue;
      seen++;
      const ratio = Math.log2(Math.max(1e-4, b) / a) - by;
      if (ratio < -0.5) darker++;
      else if (ratio > 0.5) brighter++;
    }
    return seen > 0 ? { darker: darker / seen, brighter: brighter / seen } : { darker: 0, brighter: 0 };
  }
}

/** Whether a screen is off: its middle is dark on most frames, or its places are dark most of the time and it does not go on as a whole. */
function isDark(cells: PlaneCells, lights: readonly LightOnFrame[]): boolean {
  const middles = lights.map(({ light }) => median(insideLuminance(cells, light))).filter((v) => !Number.isNaN(v));
  const isLow = (y: number) => lightToCode(y) < DARK_SCREEN;
  if (middles.length === 0) return false;
  if (isLow(quantile(middles, 0.75))) return true;
  const places = Array.from(cells.inside.keys()).filter((i) => cells.inside[i] === 1);
  const usual = places
    .map((i) =>
      quantile(
        lights.map(({ light }) => luminanceOf(light, i)).filter((y) => y >= 0),
        0.4,
      ),
    )
    .filter((v) => !Number.isNaN(v));
  const own = lights.flatMap(({ screen, around }) =>
    screen && screen.agree > 0.25 ? [screen.stops - (around?.stops ?? 0)] : [],
  );
  const goesOn = own.length > 0 && Math.max(...own) - Math.min(...own) > 1;
  return usual.length > 0 && isLow(median(usual)) && !goesOn;
}

/** Of a lit screen's light against the room's the upper end, stops. */
export function screenTop(lights: readonly LightOnFrame[]): number {
  const own = lights.flatMap(({ screen, around }) =>
    screen && screen.agree > 0.25 ? [screen.stops - (around?.stops ?? 0)] : [],
  );
  return own.length > 0 ? quantile(own, 0.9) : 0;
}

/** A dark screen is as bright as the room lets it; a lit one counts where it is as bright as it gets, and goes on showing what it does. */
function levelFrame({ light, around, screen }: LightOnFrame, dark: boolean, top: number): LevelFrame {
  const stops = around?.stops ?? 0;
  const lit = screen && screen.agree > 0.25 && screen.stops - stops > top - 0.3 ? screen.stops - top : null;
  return { light, stops, screenStops: dark ? stops : lit };
}

const mean = (values: readonly number[]) => values.reduce((s, v) => s + v, 0) / Math.max(1, values.length);

function insideLuminance(cells: PlaneCells, light: Float32Array): number[] {
  const out: number[] = [];
  for (let i = 0; i < cells.u.length; i++) {
    const y = cells.inside[i] === 1 ? luminanceOf(light, i) : -1;
    if (y >= 0) out.push(y);
  }
  return out;
}

/** Of each of some spans of a shot the frame on which the surface moves least. */
function slowestOfSpans(known: readonly number[], speeds: ReadonlyMap<number, number>, spans: number): number[] {
  const n = Math.min(spans, known.length);
  return Array.from({ length: n }, (_, k) =>
    known
      .slice(Math.floor((k * known.length) / n), Math.floor(((k + 1) * known.length) / n))
      .reduce((a, b) => (speeds.get(b)! < speeds.get(a)! ? b : a)),
  );
}

function mostlySeen(quad: Quad, { width, height }: MeasuredShot): boolean {
  return (
    quad.filter(([x, y]) => x > -0.1 * width && y > -0.1 * height && x < 1.1 * width && y < 1.1 * height).length >= 3
  );
}
