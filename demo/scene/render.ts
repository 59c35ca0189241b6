import {
  bent,
  inverse3,
  mirrored,
  planeToPicture,
  project,
  unbent,
  type CameraPose,
  type Lens,
  type Matrix3,
  type PlanePose,
} from './camera.ts';
import { BLOCK_BITS, type Colour, type Texture } from './texture.ts';

/** A screen with its frame, or any flat thing: a texture on a plane, with rounded corners. */
export interface Card {
  texture: Texture;
  /** Corner radius in centimetres. */
  radius: number;
  /** How the card stands at a time (in frames). */
  pose(time: number): PlanePose;
  /** A picture laid over a part of the card: the screen. */
  screen?: ScreenArea;
  /** Where, centimetres, there is nothing of the card: a silhouette. */
  cut?(x: number, y: number): boolean;
}

export interface ScreenArea {
  left: number;
  top: number;
  width: number;
  height: number;
  texture: Texture;
  /** How strongly it shines at a time: 0 off, 1 (as without this) as painted. */
  glow?(time: number): number;
}

/** A bright thing on the camera's side of the first card, seen in its glass as in a mirror. */
export interface Reflection {
  texture: Texture;
  pose(time: number): PlanePose;
  /** The share of its light that the glass sends back. */
  strength: number;
}

/** Something long and round in front of the first card, in its centimetres: a finger. */
export interface Finger {
  from: [number, number];
  to: [number, number];
  radius: number;
  colour: Colour;
}

/** Light of the first card's screen on what is near it: fingers and the device's own frame. */
export interface Spill {
  /** Mean light of the screen. */
  light: Colour;
  /** Share of it that falls on something that lies on the glass. */
  strength: number;
  /** Over how many centimetres it falls to 37 %. */
  reach: number;
  /** Share that the frame sends back besides what it does with other light. */
  sheen: number;
}

export interface Scene {
  lens: Lens;
  /** By how much the focal length is longer at a time than the lens says. */
  zoom?(time: number): number;
  /** Fraction of the frame's time that the shutter is open, centred on the frame. */
  shutter: number;
  /** Standard deviation of the lens's gaussian softness, px. */
  softness: number;
  camera(time: number): CameraPose;
  /** In front first. The first is the device whose screen is to be replaced. */
  cards: Card[];
  /** What passes before them. */
  before?: Card[];
  /** Share of a frame's time from when the topmost row is exposed until the lowest is; the middle row is exposed when the others say. */
  rowTime?: number;
  fingers?(time: number): Finger[];
  reflection?: Reflection;
  spill?: Spill;
  /** The light let in at a time, 1 as painted. */
  exposure?(time: number): number;
  /** Sub-frames of the shutter; 16 where nothing is said. */
  samples?: number;
  /** What is seen where no card is, linear light. */
  backdrop: Colour;
}

/** Sub-frames where the scene does not say, each with its own time and place within the pixel. */
const SAMPLES = 16;

interface SamplePlan {
  offsetX: number;
  offsetY: number;
  exposure: number;
  cards: { inverse: Matrix3; card: Card; glow: number; device: boolean }[];
  /** Where the pinhole sees what is recorded at a row's and column's sample; without a lens they are the same. */
  unbent: ((row: number, y: number) => Float64Array) | null;
  fingers: Finger[];
  /** Rows and columns between which fingers are seen. */
  fingerBox: { left: number; top: number; right: number; bottom: number };
  reflection: { inverse: Matrix3; texture: Texture; strength: number } | null;
  spill: (Spill & { screen: ScreenArea }) | null;
}

/**
 * The picture at a frame as a camera would record it, before noise: linear light, three values a
 * pixel. Every sub-frame is seen through one point of the pixel and at one moment of the shutter.
 */
export function renderFrame(scene: Scene, frame: number): Float32Array {
  const { width, height } = scene.lens;
  const sum = new Float32Array(width * height * 3);
  const taken = new Uint8Array(width);
  const samples = scene.samples ?? SAMPLES;
  const plansAt = (time: number) => Array.from({ length: samples }, (_, k) => samplePlan(scene, time, k, samples));
  let plans = plansAt(frame);
  // All sub-frames of a row one after the other: they look at the same texels.
  for (let row = 0; row < height; row++) {
    const line = sum.subarray(row * width * 3, (row + 1) * width * 3);
    if (scene.rowTime) plans = plansAt(rowsTime(scene, frame, row + 0.5));
    for (const plan of plans) addRow(scene, plan, row, taken, line);
  }
  for (let i = 0; i < sum.length; i++) sum[i]! /= samples;
  return soften(sum, width, height, scene.softness);
}

function lensAt({ lens, zoom }: Scene, time: number): Lens {
  return zoom ? { ...lens, focal: lens.focal * zoom(time) } : lens;
}

/** When a row (continuous) is exposed. */
function rowsTime({ rowTime = 0, lens }: Scene, frame: number, y: number): number {
  return frame + rowTime * (y / lens.height - 0.5);
}

/** The device's screen corners at mid-shutter, in picture pixels. */
export function screenCorners(scene: Scene, frame: number): [number, number][] {
  const area = scene.cards[0]!.screen!;
  const right = area.left + area.width;
  const bottom = area.top + area.height;
  return (
    [
      [area.left, area.top],
      [right, area.top],
      [right, bottom],
      [area.left, bottom],
    ] as const
  ).map(([x, y]) => devicePoint(scene, frame, x, y));
}

/** Where a point of the device (centimetres) is seen at mid-shutter, each row at its own time. */
export function devicePoint(scene: Scene, frame: number, x: number, y: number): [number, number] {
  const at = (time: number) =>
    bent(
      scene.lens,
      ...project(planeToPicture(scene.cards[0]!.pose(time), scene.camera(time), lensAt(scene, time)), x, y),
    );
  let point = at(frame);
  if (scene.rowTime) for (let k = 0; k < 20; k++) point = at(rowsTime(scene, frame, point[1]));
  return point;
}

function samplePlan(scene: Scene, frame: number, k: number, samples: number): SamplePlan {
  const time = frame + ((k + 0.5) / samples - 0.5) * scene.shutter;
  // A 4×4 grid visited in an order that does not follow time.
  const place = (k * 7 + 3) % 16;
  const camera = scene.camera(time);
  const lens = lensAt(scene, time);
  const inverseOf = (pose: PlanePose) => inverse3(planeToPicture(pose, camera, lens));
  const screen = scene.cards[0]!.screen;
  const reflection = scene.reflection ?? null;
  const fingers = scene.fingers?.(time) ?? [];
  return {
    offsetX: ((place % 4) + 0.5) / 4,
    offsetY: (Math.floor(place / 4) + 0.5) / 4,
    exposure: scene.exposure?.(time) ?? 1,
    cards: [
      ...(scene.before ?? []).map((card) => ({ card, device: false })),
      ...scene.cards.map((card, i) => ({ card, device: i === 0 })),
    ].map(({ card, device }) => ({
      card,
      device,
      inverse: inverseOf(card.pose(time)),
      glow: card.screen?.glow?.(time) ?? 1,
    })),
    unbent: scene.lens.bend ? unbentRows(scene.lens, ((place % 4) + 0.5) / 4, Math.floor(place / 4)) : null,
    fingers,
    fingerBox: boxOf(fingers, planeToPicture(scene.cards[0]!.pose(time), camera, lens)),
    spill: scene.spill && screen ? { ...scene.spill, screen } : null,
    reflection: reflection && {
      inverse: inverseOf(mirrored(reflection.pose(time), scene.cards[0]!.pose(time))),
      texture: reflection.texture,
      strength: reflection.strength,
    },
  };
}

/** Of each place within the pixel and each row, where the pinhole sees it: reckoned once, whatever the frame. Fingers are drawn without a lens. */
const unbentKept = new WeakMap<Lens, Map<string, Float64Array>>();

function unbentRows(lens: Lens, offsetX: number, place: number): (row: number, y: number) => Float64Array {
  const kept = unbentKept.get(lens) ?? new Map<string, Float64Array>();
  unbentKept.set(lens, kept);
  return (row, y) => {
    const key = `${row} ${offsetX} ${place}`;
    let out = kept.get(key);
    if (!out) {
      out = new Float64Array(2 * lens.width);
      for (let col = 0; col < lens.width; col++) out.set(unbent(lens, col + offsetX, y), 2 * col);
      kept.set(key, out);
    }
    return out;
  };
}

/** Fingers are few and small: where none can be, none is looked for. */
function boxOf(fingers: readonly Finger[], m: Matrix3): SamplePlan['fingerBox'] {
  const box = { left: Infinity, top: Infinity, right: -Infinity, bottom: -Infinity };
  for (const { from, to, radius } of fingers) {
    for (const [x, y] of [from, to]) {
      for (const [dx, dy] of [
        [-1, -1],
        [1, -1],
        [1, 1],
        [-1, 1],
      ] as const) {
        const u = x + dx * radius;
        const v = y + dy * radius;
        if (!(m[6] * u + m[7] * v + m[8] > 1e-6))
          return { left: -Infinity, top: -Infinity, right: Infinity, bottom: Infinity };
        const [px, py] = project(m, u, v);
        box.left = Math.min(box.left, px);
        box.right = Math.max(box.right, px);
        box.top = Math.min(box.top, py);
        box.bottom = Math.max(box.bottom, py);
      }
    }
  }
  return box;
}

/** Adds what one sub-frame sees in a row to the row's light; `taken` is for this function's own use. */
function addRow(scene: Scene, plan: SamplePlan, row: number, taken: Uint8Array, line: Float32Array): void {
  taken.fill(0);
  const y = row + plan.offsetY;
  const straight = plan.unbent?.(row, y) ?? null;
  for (const { inverse, card, glow, device } of plan.cards) {
    if (device && plan.fingers.length > 0) addFingers(plan, inverse, y, taken, line);
    addCard(plan, inverse, card, glow, device ? plan.reflection : null, y, straight, taken, line);
  }
  for (let i = 0; i < taken.length; i++) {
    if (taken[i] === 1) continue;
    for (let c = 0; c < 3; c++) line[i * 3 + c]! += plan.exposure * scene.backdrop[c]!;
  }
}

function addCard(
  plan: SamplePlan,
  m: Matrix3,
  card: Card,
  glow: number,
  reflection: SamplePlan['reflection'],
  rowY: number,
  straight: Float64Array | null,
  taken: Uint8Array,
  line: Float32Array,
): void {
  const { texture, screen, radius, cut } = card;
  const cmWidth = texture.width / texture.perCm;
  const cmHeight = texture.height / texture.perCm;
  const left = screen?.left ?? Infinity;
  const top = screen?.top ?? Infinity;
  const right = screen ? screen.left + screen.width : 0;
  const bottom = screen ? screen.top + screen.height : 0;
  for (let col = 0; col < taken.length; col++) {
    if (taken[col] === 1) continue;
    const x = straight ? straight[2 * col]! : col + plan.offsetX;
    const y = straight ? straight[2 * col + 1]! : rowY;
    const depth = 1 / (m[6] * x + m[7] * y + m[8]);
    const u = (m[0] * x + m[1] * y + m[2]) * depth;
    const v = (m[3] * x + m[4] * y + m[5]) * depth;
    if (
      !(depth > 0 && u >= 0 && v >= 0 && u < cmWidth && v < cmHeight) ||
      outsideRound(u, v, cmWidth, cmHeight, radius) ||
      cut?.(u, v)
    )
      continue;
    taken[col] = 1;
    if (u >= left && v >= top && u < right && v < bottom) {
      addTexel(
        screen!.texture,
        (u - left) * screen!.texture.perCm,
        (v - top) * screen!.texture.perCm,
        plan.exposure * glow,
        line,
        col * 3,
      );
    } else {
      addTexel(texture, u * texture.perCm, v * texture.perCm, plan.exposure, line, col * 3);
      if (screen && plan.spill && card.screen === plan.spill.screen) addSheen(plan, plan.spill, u, v, line, col * 3);
    }
    if (reflection) addReflection(plan, reflection, x, y, line, col * 3);
  }
}

function addReflection(
  plan: SamplePlan,
  { inverse: m, texture, strength }: NonNullable<SamplePlan['reflection']>,
  x: number,
  y: number,
  line: Float32Array,
  at: number,
): void {
  const w = m[6] * x + m[7] * y + m[8];
  const u = ((m[0] * x + m[1] * y + m[2]) / w) * texture.perCm;
  const v = ((m[3] * x + m[4] * y + m[5]) / w) * texture.perCm;
  if (w > 0 && u >= 0 && v >= 0 && u < texture.width && v < texture.height)
    addTexel(texture, u, v, plan.exposure * strength, line, at);
}

function addFingers(plan: SamplePlan, m: Matrix3, y: number, taken: Uint8Array, line: Float32Array): void {
  const { left, top, right, bottom } = plan.fingerBox;
  if (y < top || y > bottom) return;
  for (let col = Math.max(0, Math.floor(left) - 1); col < Math.min(taken.length, right + 1); col++) {
    const x = col + plan.offsetX;
    const w = m[6] * x + m[7] * y + m[8];
    if (addFinger(plan, (m[0] * x + m[1] * y + m[2]) / w, (m[3] * x + m[4] * y + m[5]) / w, line, col * 3))
      taken[col] = 1;
  }
}

export function outsideRound(u: number, v: number, width: number, height: number, radius: number): boolean {
  if (radius === 0) return false;
  const dx = u < radius ? radius - u : u > width - radius ? u - width + radius : 0;
  const dy = v < radius ? radius - v : v > height - radius ? v - height + radius : 0;
  return dx * dx + dy * dy > radius * radius;
}

/** How much of the screen's light there is at a place of the device's plane, 1 over the screen. */
function nearness({ screen, reach }: NonNullable<SamplePlan['spill']>, u: number, v: number): number {
  const dx = Math.max(screen.left - u, 0, u - screen.left - screen.width);
  const dy = Math.max(screen.top - v, 0, v - screen.top - screen.height);
  return Math.exp(-Math.hypot(dx, dy) / reach);
}

function addSheen(
  plan: SamplePlan,
  spill: NonNullable<SamplePlan['spill']>,
  u: number,
  v: number,
  sum: Float32Array,
  at: number,
): void {
  const share = plan.exposure * spill.strength * spill.sheen * nearness(spill, u, v) ** 4;
  for (let c = 0; c < 3; c++) sum[at + c]! += share * spill.light[c]!;
}

function addFinger(
  { fingers, exposure, spill }: SamplePlan,
  u: number,
  v: number,
  sum: Float32Array,
  at: number,
): boolean {
  for (const finger of fingers) {
    const dx = finger.to[0] - finger.from[0];
    const dy = finger.to[1] - finger.from[1];
    const t = Math.min(1, Math.max(0, ((u - finger.from[0]) * dx + (v - finger.from[1]) * dy) / (dx * dx + dy * dy)));
    const d = Math.hypot(u - finger.from[0] - t * dx, v - finger.from[1] - t * dy) / finger.radius;
    if (d >= 1) continue;
    const shade = 0.45 + 0.55 * Math.sqrt(1 - d * d);
    // The screen shines on the sides of a finger more than on its back.
    const lit = spill ? spill.strength * nearness(spill, u, v) * (0.35 + 0.65 * d * d) : 0;
    for (let c = 0; c < 3; c++)
      sum[at + c]! += exposure * finger.colour[c]! * (shade + lit * (spill ? spill.light[c]! : 0));
    return true;
  }
  return false;
}

function addTexel(texture: Texture, x: number, y: number, gain: number, sum: Float32Array, at: number): void {
  const { width, height, data, unpainted } = texture;
  const px = Math.min(width - 1.001, Math.max(0, x - 0.5));
  const py = Math.min(height - 1.001, Math.max(0, y - 0.5));
  const ix = px | 0;
  const iy = py | 0;
  if (unpainted) {
    const block = (iy >> BLOCK_BITS) * unpainted.across + (ix >> BLOCK_BITS);
    if (unpainted.done[block] === 0) unpainted.paint(block);
  }
  const fx = px - ix;
  const fy = py - iy;
  const a = (iy * width + ix) * 3;
  const b = a + width * 3;
  const w00 = gain * (1 - fx) * (1 - fy);
  const w10 = gain * fx * (1 - fy);
  const w01 = gain * (1 - fx) * fy;
  const w11 = gain * fx * fy;
  sum[at]! += data[a]! * w00 + data[a + 3]! * w10 + data[b]! * w01 + data[b + 3]! * w11;
  sum[at + 1]! += data[a + 1]! * w00 + data[a + 4]! * w10 + data[b + 1]! * w01 + data[b + 4]! * w11;
  sum[at + 2]! += data[a + 2]! * w00 + data[a + 5]! * w10 + data[b + 2]! * w01 + data[b + 5]! * w11;
}

function soften(data: Float32Array, width: number, height: number, sigma: number): Float32Array {
  if (sigma <= 0) return data;
  const radius = Math.ceil(3.5 * sigma);
  const weights = Array.from({ length: 2 * radius + 1 }, (_, i) =>
    Math.exp(-((i - radius) ** 2) / (2 * sigma * sigma)),
  );
  const total = weights.reduce((a, b) => a + b);
  const pass = (
    from: Float32Array,
    strideAlong: number,
    countAlong: number,
    strideAcross: number,
    countAcross: number,
  ) => {
    const out = new Float32Array(from.length);
    for (let line = 0; line < countAcross; line++) {
      for (let i = 0; i < countAlong; i++) {
        for (let k = -radius; k <= radius; k++) {
          const source = line * strideAcross + Math.min(countAlong - 1, Math.max(0, i + k)) * strideAlong;
          const weight = weights[k + radius]! / total;
          const target = line * strideAcross + i * strideAlong;
          out[target]! += weight * from[source]!;
          out[target + 1]! += weight * from[source + 1]!;
          out[target + 2]! += weight * from[source + 2]!;
        }
      }
    }
    return out;
  };
  return pass(pass(data, 3, width, width * 3, height), width * 3, height, 3, width);
}
