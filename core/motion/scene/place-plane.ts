import { clamp } from '../../base/geometry/clamp.ts';
import { MAD_TO_DEVIATION, upperMedian } from '../../base/image/statistics.ts';
import { mapTuple } from '../../base/geometry/map-tuple.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { grownOutline } from '../../base/geometry/grow-outline.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoint, type Homography, type Point } from '../../base/geometry/homography.ts';
import { factorCholesky, inverseOfFactor, solveCholesky } from '../../base/geometry/linear-solve.ts';
import { fillPolygon } from '../../base/geometry/polygon.ts';
import { bounds, distance, type Quad } from '../../base/geometry/quad.ts';
import { posesOfQuad } from '../pose/plane-pose.ts';
import type { Vector3 } from '../pose/rotation.ts';
import {
  alongRay,
  between,
  closenessOf,
  cornersOnFrame,
  filmedAt,
  rayOf,
  standingOnFrame,
  type Between,
  type ScenePlane,
} from './scene-plane.ts';
import { depthsFrom, planeThroughPoints } from './plane-points.ts';
import type { CameraState } from './scene-camera.ts';
import { openPictures, type ScenePicture } from './scene-picture.ts';
import type { Scene, SceneFrame } from './scene.ts';

export interface PlaneAsked {
  readonly frame: number;
  /** Corners on that frame, continuous px. */
  readonly corners: Quad;
  /** Width over height of what they are the corners of, where it is known. */
  readonly proportions?: number | undefined;
  /** Whether a place of a frame may be looked at. */
  readonly allowed?: ((frame: number, x: number, y: number) => boolean) | undefined;
}

/** Frames that the plane's depth is looked for on. */
const MOST_FRAMES = 10;
/**
 * What is looked at lies along the border: so far outside (of the mean side) and inside, px at least. From coarse levels on wide, to come near; at the
 * finest ones narrow: what lies beside the device, a wall a hand behind it, moves otherwise.
 */
const OUTSIDE = 0.1;
const INSIDE = 0.02;
const OUTSIDE_PX = 6;
const INSIDE_PX = 2.5;
const NARROW = 0.02;
const NARROW_PX = 5;
const NARROW_LEVELS = 2;
const MOST_POINTS = 1600;
const COARSEST = 3;
const SWEEP = COARSEST + 1;
const SWEEP_POINTS = 150;
const WORTH_A_LOOK = 12;
const STEPS = 40;
const ROUNDS = 14;
const TUKEY = 4.685;
const LEAST_SPREAD = 0.002;
/** Neighbouring samples repeat each other, and what lies beside the device moves otherwise: so many count as one (on generated halls nineteen of twenty corners are then within their bounds). */
const CORRELATED = 160;

/**
 * The plane that four corners seen on one frame lie in. Where the camera only turns any depth will do. Else the depth and the lean are those with which
 * the border looks alike on the other frames (plane sweep: R. Collins, A space-sweep approach to true multi-image matching, CVPR 1996, then least squares),
 * begun at the scene's points about the corners, at the pose that the proportions give, and at planes facing the camera.
 */
export async function placePlane(
  scene: Scene,
  asked: PlaneAsked,
  read: (frame: number) => Promise<LumaFrame>,
  random: () => number,
): Promise<{ plane: ScenePlane; notes: string[] }> {
  const placed = await placeOnce(scene, asked, read, random, null);
  // How rows that are read one after the other shift a place depends on the plane: once it is nearly known, once more.
  return scene.rows && scene.motion === 'walks' ? placeOnce(scene, asked, read, random, placed.plane.normal) : placed;
}

async function placeOnce(
  scene: Scene,
  asked: PlaneAsked,
  read: (frame: number) => Promise<LumaFrame>,
  random: () => number,
  nearly: Vector3 | null,
): Promise<{ plane: ScenePlane; notes: string[] }> {
  const home = scene.frames.find((f) => f.frame === asked.frame);
  if (!home) throw new RangeError(`frame ${asked.frame} has no camera`);
  if (scene.motion !== 'walks')
    return { plane: { frame: asked.frame, normal: [0, 0, 1], covariance: Array<number>(9).fill(0) }, notes: [] };
  const guesses = [...(nearly ? [nearly] : []), ...guessesOf(scene, asked, home.camera, random)];
  const first = await read(asked.frame);
  const [own, other] = openPictures(first.width, first.height, 2) as [ScenePicture, ScenePicture];
  own.fill(first);
  const looks = new Looks(scene, asked, home, own, guesses[0]!);
  for (const frame of looks.frames(guesses[0]!)) {
    const luma = await read(frame.frame);
    looks.add(frame, other.fill(luma));
  }
  // Which guesses are worth the work, a few of the points tell.
  const worth = guesses
    .flatMap((guess) => looks.refine(guess, SWEEP, 1) ?? [])
    .sort((a, b) => a.score - b.score)
    .slice(0, WORTH_A_LOOK);
  let best: { normal: Vector3; score: number } | null = null;
  for (const { normal: guess } of worth) {
    const found = looks.refine(guess, COARSEST, 5);
    if (found && (!best || found.score < best.score)) best = found;
  }
  let normal = best?.normal ?? guesses[0]!;
  for (let level = COARSEST - 1; level >= 0; level--) normal = looks.refine(normal, level, ROUNDS)?.normal ?? normal;
  const covariance = looks.covariance(normal);
  return {
    plane: { frame: asked.frame, normal, covariance: covariance ?? Array<number>(9).fill(0) },
    notes: [
      ...(covariance
        ? []
        : ['Nothing along the border tells how far away the plane is; it was put where the points about it are.']),
      ...edgeOnNote(
        normal,
        asked.corners.map((c) => rayOf(scene, home.camera, c)),
      ),
    ],
  };
}

/** Seen under less than this, degrees, a plane's corners tell little of it. */
const EDGE_ON = 7;

/** What is to be said of a plane that is seen nearly edge-on on its own frame. */
export function edgeOnNote(normal: Vector3, rays: readonly Vector3[]): string[] {
  const middle = [0, 1, 2].map((k) => rays.reduce((s, r) => s + r[k]!, 0) / rays.length);
  const slant =
    Math.abs(normal[0] * middle[0]! + normal[1] * middle[1]! + normal[2] * middle[2]!) /
    (Math.hypot(...normal) * Math.hypot(...middle));
  return Math.asin(Math.min(1, slant)) < (EDGE_ON * Math.PI) / 180
    ? [
        'The plane is seen nearly edge-on there: its corners hardly tell where it is. Place them on a frame that shows more of it.',
      ]
    : [];
}

function guessesOf(
  scene: Scene,
  { frame, corners, proportions }: PlaneAsked,
  camera: CameraState,
  random: () => number,
): Vector3[] {
  const out: Vector3[] = [];
  const size = meanSide(corners);
  const around = planeThroughPoints(scene, frame, grownOutline(corners, 0.6 * size), random);
  const near = planeThroughPoints(scene, frame, grownOutline(corners, 0.2 * size), random);
  if (near) out.push(near.normal);
  if (around) out.push(around.normal);
  const inverse = depthsFrom(scene, frame)
    .map((d) => d.inverse)
    .sort((a, b) => a - b);
  const low = inverse[Math.floor(0.02 * inverse.length)]! / 1.5;
  const high = inverse[Math.floor(0.98 * (inverse.length - 1))]! * 1.5;
  const rays = mapTuple(corners, (c) => rayOf(scene, camera, c));
  const middle: Vector3 = mapTuple([0, 1, 2], (k) => rays.reduce((s, r) => s + r[k], 0) / 4);
  const leans: Vector3[] = [[0, 0, 1]];
  if (proportions !== undefined) {
    const straight = mapTuple(rays, ([x, y]): Point => [x * camera.focal, y * camera.focal]);
    for (const { pose } of posesOfQuad(straight, { focal: camera.focal, cx: 0, cy: 0, ratio: proportions })) {
      const n: Vector3 = [pose.rotation[2]!, pose.rotation[5]!, pose.rotation[8]!];
      leans.push(n);
    }
  }
  for (const lean of leans) {
    const along = closenessOf(lean, middle);
    if (Math.abs(along) < 0.05) continue;
    for (let k = 0; k <= STEPS; k++) {
      const closeness = low * (high / low) ** (k / STEPS);
      out.push(mapTuple(lean, (v) => (v * closeness) / along));
    }
  }
  return out;
}

const meanSide = (q: Quad) => q.reduce((s, c, i) => s + distance(c, q[(i + 1) % 4]!), 0) / 4;

/** Points along the border on the plane's frame, and the other frames that they are looked for on. */
class Looks {
  private readonly levels: { x: Float64Array; y: Float64Array; rays: Vector3[]; value: Float64Array }[] = [];
  /** How filmed places on the plane's frame lie where all rows are read at once, and on others the other way round; null where they are. */
  private readonly standing: Homography | null;
  private readonly others: {
    camera: CameraState;
    way: Between;
    filmed: Homography | null;
    pictures: { width: number; height: number; value: Float32Array }[];
  }[] = [];

  constructor(
    private readonly scene: Scene,
    private readonly asked: PlaneAsked,
    private readonly home: SceneFrame,
    own: ScenePicture,
    private readonly nearly: Vector3,
  ) {
    this.standing = this.shiftOf(home, 'standing');
    for (let level = 0; level <= COARSEST; level++)
      this.levels.push(this.pick(own, Math.min(level, own.levels.length - 1)));
    const { x, y, rays, value } = this.levels[COARSEST]!;
    const every = Math.max(1, Math.floor(x.length / SWEEP_POINTS));
    const thin = (_: unknown, i: number) => i % every === 0;
    this.levels.push({ x: x.filter(thin), y: y.filter(thin), rays: rays.filter(thin), value: value.filter(thin) });
  }

  /** Frames on which most of the border is in the picture, spread over the camera's way. */
  frames(normal: Vector3): SceneFrame[] {
    const { scene, asked, home } = this;
    const plane = { frame: asked.frame, normal, covariance: [] };
    const [w, h] = [2 * scene.centre[0], 2 * scene.centre[1]];
    const usable = scene.frames.filter(
      (f) =>
        f.frame !== home.frame &&
        (cornersOnFrame(scene, plane, asked.corners, f)?.filter(([x, y]) => x > 0 && y > 0 && x < w && y < h).length ??
          0) >= 3,
    );
    const most = Math.min(MOST_FRAMES, usable.length);
    return Array.from(
      { length: most },
      (_, i) => usable[Math.round((i * (usable.length - 1)) / Math.max(1, most - 1))]!,
    );
  }

  /** About the corners, as far as a homography tells it. */
  private shiftOf(on: SceneFrame, to: 'standing' | 'filmed'): Homography | null {
    const { scene, asked, home, nearly } = this;
    const plane = { frame: asked.frame, normal: nearly, covariance: [] };
    if (!scene.rows) return null;
    const standing = standingOnFrame(scene, plane, asked.corners, on);
    const filmed = cornersOnFrame(scene, plane, asked.corners, on);
    return (
      standing &&
      filmed &&
      (to === 'filmed'
        ? homographyBetweenQuads(standing, filmed)
        : homographyBetweenQuads(on === home ? asked.corners : filmed, standing))
    );
  }

  add(on: SceneFrame, levels: ScenePicture): void {
    const { camera } = on;
    this.others.push({
      camera,
      way: between(this.home.camera, camera),
      filmed: this.shiftOf(on, 'filmed'),
      pictures: this.levels.slice(0, SWEEP).map((_, i) => {
        const l = levels.levels[Math.min(i, levels.levels.length - 1)]!;
        return { width: l.width, height: l.height, value: l.data.slice() };
      }),
    });
  }

  /** The steepest samples of a level along the border. */
  private pick(own: ScenePicture, index: number): Looks['levels'][number] {
    const {
      asked: { corners, allowed, frame },
      scene,
      home,
    } = this;
    const level = own.levels[index]!;
    const scale = 2 ** index;
    const size = meanSide(corners);
    const outside =
      index < NARROW_LEVELS ? Math.max(NARROW_PX, NARROW * size) : Math.max(OUTSIDE_PX * scale, OUTSIDE * size);
    const mask = new Uint8Array(own.width * own.height);
    fillPolygon(mask, own.width, own.height, grownOutline(corners, outside), 1);
    fillPolygon(mask, own.width, own.height, grownOutline(corners, -Math.max(INSIDE_PX * scale, INSIDE * size)), 0);
    const found: { x: number; y: number; slope: number }[] = [];
    const box = bounds(grownOutline(corners, outside));
    for (let y = Math.max(2, Math.floor(box.top / scale)); y < Math.min(level.height - 2, box.bottom / scale); y++)
      for (let x = Math.max(2, Math.floor(box.left / scale)); x < Math.min(level.width - 2, box.right / scale); x++) {
        const px = x * scale;
        const py = y * scale;
        if (mask[py * own.width + px] === 0 || allowed?.(frame, px + 0.5, py + 0.5) === false) continue;
        const i = y * level.width + x;
        found.push({
          x,
          y,
          slope: Math.hypot(
            level.data[i + 1]! - level.data[i - 1]!,
            level.data[i + level.width]! - level.data[i - level.width]!,
          ),
        });
      }
    const kept = found.sort((a, b) => b.slope - a.slope).slice(0, clamp(Math.ceil(found.length / 2), 40, MOST_POINTS));
    return {
      x: Float64Array.from(kept, (p) => p.x),
      y: Float64Array.from(kept, (p) => p.y),
      rays: kept.map((p) => {
        const at: Point = [p.x * scale + 0.5, p.y * scale + 0.5];
        return rayOf(scene, home.camera, this.standing ? applyToPoint(this.standing, at) : at);
      }),
      value: Float64Array.from(kept, (p) => level.data[p.y * level.width + p.x]!),
    };
  }

  /** Least squares of n at a level; the score is the mean of Tukey's costs, 0…1. Null where nothing is seen. */
  refine(start: Vector3, level: number, rounds: number): { normal: Vector3; score: number } | null {
    let normal = start;
    let score = Infinity;
    const a = new Float64Array(9);
    const b = new Float64Array(3);
    const step = new Float64Array(3);
    for (let round = 0; round <= rounds; round++) {
      const now = this.equations(normal, level, a, b);
      if (!now) return null;
      score = now.score;
      if (round === rounds) break;
      const trace = a[0]! + a[4]! + a[8]!;
      for (const k of [0, 4, 8]) a[k]! += 1e-7 * trace;
      if (!solveCholesky(a, b, step, 3)) break;
      const at = closenessOf(normal, this.levels[0]!.rays[0] ?? [0, 0, 1]);
      const size = Math.hypot(...step);
      const most = 0.3 * Math.abs(at);
      const factor = size > most ? most / size : 1;
      normal = [normal[0] + factor * step[0]!, normal[1] + factor * step[1]!, normal[2] + factor * step[2]!];
      if (size < 1e-6 * Math.abs(at)) break;
    }
    return { normal, score };
  }

  covariance(normal: Vector3): number[] | null {
    const a = new Float64Array(9);
    const b = new Float64Array(3);
    const now = this.equations(normal, 0, a, b);
    if (!now || !factorCholesky(a, 3)) return null;
    return Array.from(inverseOfFactor(a, 3), (v) => v * CORRELATED * now.spread ** 2);
  }

  private equations(
    normal: Vector3,
    index: number,
    a: Float64Array,
    b: Float64Array,
  ): { score: number; spread: number } | null {
    const { x, rays, value } = this.levels[index]!;
    const scale = 2 ** Math.min(index, COARSEST);
    const n = x.length;
    a.fill(0);
    b.fill(0);
    let cost = 0;
    let counted = 0;
    let spreads = 0;
    for (const { camera, way, filmed, pictures } of this.others) {
      const { width, height, value: picture } = pictures[Math.min(index, COARSEST)]!;
      const seen: number[] = [];
      const slopes: number[] = [];
      const which: number[] = [];
      for (let i = 0; i < n; i++) {
        const ray = rays[i]!;
        const closeness = closenessOf(normal, ray);
        const here = filmedAt(this.scene, camera, alongRay(way, ray, closeness));
        const h = 1e-4 * Math.max(1e-9, Math.abs(closeness));
        const there = filmedAt(this.scene, camera, alongRay(way, ray, closeness + h));
        if (!here || !there) continue;
        const [px, py] = filmed ? applyToPoint(filmed, here) : here;
        const u = (px - 0.5) / scale;
        const v = (py - 0.5) / scale;
        const ix = Math.floor(u);
        const iy = Math.floor(v);
        if (!(ix >= 1 && iy >= 1 && ix + 2 < width && iy + 2 < height)) continue;
        const fx = u - ix;
        const fy = v - iy;
        const k = iy * width + ix;
        const at = (o: number) =>
          (1 - fy) * ((1 - fx) * picture[k + o]! + fx * picture[k + o + 1]!) +
          fy * ((1 - fx) * picture[k + o + width]! + fx * picture[k + o + width + 1]!);
        const gx = (at(1) - at(-1)) / 2;
        const gy = (at(width) - at(-width)) / 2;
        seen.push(at(0));
        slopes.push((gx * (there[0] - here[0]) + gy * (there[1] - here[1])) / (scale * h));
        which.push(i);
      }
      if (which.length < 0.3 * n || which.length < 20) continue;
      const { gain, offset } = lightBetween(
        which.map((i) => value[i]!),
        seen,
      );
      const off = seen.map((s, j) => (s - offset) / gain - value[which[j]!]!);
      const spread = Math.max(LEAST_SPREAD, MAD_TO_DEVIATION * upperMedian(off.map(Math.abs)));
      const limit = TUKEY * spread;
      off.forEach((e, j) => {
        const q = (e / limit) ** 2;
        // The score is against a spread that is the same for all planes.
        cost += Math.min(1, (e / 0.12) ** 2);
        counted++;
        if (q >= 1) return;
        const w = (1 - q) ** 2;
        const g = slopes[j]! / gain;
        const ray = rays[which[j]!]!;
        for (let r = 0; r < 3; r++) {
          b[r]! -= w * g * e * ray[r]!;
          for (let c = 0; c <= r; c++) a[3 * r + c]! += w * g * g * ray[r]! * ray[c]!;
        }
      });
      spreads += spread * off.length;
    }
    return counted === 0 ? null : { score: cost / counted, spread: spreads / counted };
  }
}

/** Gain and offset between what is expected and what is seen: by the middle and the middle distance from it, so that a highlight does not count. */
function lightBetween(expected: readonly number[], seen: readonly number[]): { gain: number; offset: number } {
  const a = upperMedian(expected);
  const b = upperMedian(seen);
  const away = (v: readonly number[], m: number) => Math.max(1e-4, upperMedian(v.map((x) => Math.abs(x - m))));
  const gain = clamp(away(seen, b) / away(expected, a), 0.5, 2);
  return { gain, offset: b - gain * a };
}
