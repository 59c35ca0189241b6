import { clamp } from '../../base/geometry/clamp.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { applyToPoint, IDENTITY, jacobianAt, type Homography, type Point } from '../../base/geometry/homography.ts';
import { distance } from '../../base/geometry/quad.ts';
import { lightWindow, type LightWindow } from './light-window.ts';
import { matchPatch, type LightModel, type PatchMatch } from './match-patch.ts';
import { mapAbout, type Patch } from './patch.ts';
import { POINT_FLOOR, STOPS_UNDER, type PointFit, type PointSettings } from './point-plan.ts';
import { searchPatch } from './search-patch.ts';

/** Exposures, in frames, of which the one is taken under which the smeared patterns fit best; and that at first. */
const SHUTTERS = [0, 0.25, 0.5, 0.75, 1] as const;
const USUAL_SHUTTER = 0.5;
/** Ways in a frame, px, from which on a smear is looked for. */
const SMEARS_FROM = 3;
/** Residual spread of an ordinary plate, roots of light, at first. */
const USUAL_NOISE = 0.011;
/** A model of light is left for a richer one where the residuals are so many times the noise's, and taken where they fall to such a share. */
const LIGHT_WANTED = 1.7;
const LIGHT_HELPS = 0.6;
/** A frame's own share of the smear that a place may be off, and by how much the spread of a match is widened. */
const SMEAR_OFF = 0.02;
const FACTOR = 5;
/** What warps a pattern's corners by less than this, px, against another warp is alike. */
const ALIKE = 0.03;
/** A score with which a point goes on as expected, and how far off that may be, px. */
const GOES_ON = 0.9;
const NEAR = 4;
const MODELS: readonly LightModel[] = ['same', 'even', 'field'];

/** What is known of a point while it is followed. */
export interface PointState {
  readonly settings: PointSettings;
  reference: Patch;
  /** The pattern in use, and the frame that it is from. */
  patch: Patch;
  patchFrame: number;
  model: LightModel;
  /** Frames in a row that it was reckoned. */
  reckoned: number;
  lost: boolean;
  /** The frames on which compensating light, which is switched off, would have helped. */
  readonly lightWanted: Set<number>;
}

/** A frame being looked at, from the side on which its neighbour is known. */
export interface FrameInWork {
  readonly frame: number;
  readonly from: -1 | 1;
  readonly luma: LumaFrame;
}

/** Looks for single points on a frame: by the pattern in use, with as much light and smear as it takes. */
export class PointLook {
  private noise = USUAL_NOISE;
  readonly shutter: number = USUAL_SHUTTER;

  /** `placeOn` and `mapOn` tell what was found on other frames: a point's place, and the map from the reference. */
  constructor(
    readonly states: readonly PointState[],
    private readonly referenceFrame: number,
    private readonly placeOn: (frame: number, index: number) => Point | undefined,
    private readonly mapOn: (frame: number) => Homography | undefined,
  ) {}

  /** The part of the picture in which a point may be about a place; null where that lies outside. */
  windowOf(luma: LumaFrame, index: number, at: Point, map: Homography): LightWindow | null {
    const { pattern, search, at: origin } = this.states[index]!.settings;
    const [a, b, c, d] = jacobianAt(map, origin);
    const grow = Math.max(1, Math.hypot(a, c), Math.hypot(b, d));
    const w = search[0] / 2 + (grow * pattern[0]) / 2 + 4;
    const h = search[1] / 2 + (grow * pattern[1]) / 2 + 4;
    if (!(at[0] > -w && at[1] > -h && at[0] < luma.width + w && at[1] < luma.height + h)) return null;
    return lightWindow(luma, { left: at[0] - w, top: at[1] - h, right: at[0] + w, bottom: at[1] + h });
  }

  /** The best place for a point about where it is expected. */
  look(
    index: number,
    { frame, from }: FrameInWork,
    map: Homography,
    window: LightWindow,
    expected: Point,
    before: Point,
    wide: boolean,
    reachPx?: number,
  ): PointFit | null {
    const state = this.states[index]!;
    const { settings, patch } = state;
    const around = this.aroundOf(state, map);
    const earlier = this.placeOn(frame + from, index) ?? before;
    const wayTo = (at: Point): Point => [(at[0] - earlier[0]) * -from, (at[1] - earlier[1]) * -from];
    let way = wayTo(expected);
    const smear = (shutter: number): Point =>
      Math.hypot(...way) < SMEARS_FROM ? [0, 0] : [way[0] * shutter, way[1] * shutter];
    const match = (start: Point, model: LightModel, shutter = this.shutter) =>
      matchPatch(patch, around, window, start, {
        light: model,
        smear: smear(shutter),
        turns: settings.shape === 'similarity',
        noise: this.noise,
      });
    const first = settings.light === true ? 'field' : settings.light === false ? 'same' : state.model;
    let best = match(expected, first);
    let model: LightModel = first;
    const worth = (m: PatchMatch) =>
      m.score - (0.002 * distance(m.at, expected)) / Math.max(1, settings.pattern[0] / 20);
    // The rest of the search box is asked only where nothing convinces near by.
    if (wide && !(best && best.score > GOES_ON && distance(best.at, expected) < NEAR)) {
      const reach =
        reachPx === undefined
          ? ([(settings.search[0] - settings.pattern[0]) / 2, (settings.search[1] - settings.pattern[1]) / 2] as const)
          : ([reachPx, reachPx] as const);
      const starts = [
        before,
        ...searchPatch(patch, around, smear(this.shutter), window, expected, reach, 2)
          .filter((place) => place.correlation > 0.3)
          .map((place) => place.at),
      ];
      for (const start of starts) {
        const found = match(start, first);
        if (found && (!best || worth(found) > worth(best))) best = found;
      }
    }
    // What was found elsewhere than expected has come there along another way, and is smeared along that.
    for (let turn = 0; best && turn < 3; turn++) {
      const come = wayTo(best.at);
      const asExpected = way;
      if (Math.hypot(come[0] - way[0], come[1] - way[1]) < SMEARS_FROM) break;
      way = come;
      const again: PatchMatch | null = match(best.at, first);
      if (again && again.misfit < best.misfit) best = again;
      else {
        way = asExpected;
        break;
      }
    }
    const start = best?.at ?? expected;
    if (!best || best.misfit > (LIGHT_WANTED * this.noise) ** 2) {
      // Without its light a pattern may have been taken elsewhere: it is tried where it was expected, too.
      const starts = distance(start, expected) > NEAR ? [start, expected] : [start];
      for (const richer of MODELS.slice(MODELS.indexOf(first) + 1)) {
        for (const from of starts) {
          const found = match(from, richer);
          if (
            !found ||
            (best &&
              !(found.misfit < LIGHT_HELPS * best.misfit) &&
              !(best.score < STOPS_UNDER && found.score > GOES_ON))
          )
            continue;
          if (settings.light === false) {
            if (richer === 'field' || found.score > STOPS_UNDER) state.lightWanted.add(frame);
            continue;
          }
          [best, model] = [found, richer];
        }
      }
    } else if (settings.light === undefined && first !== 'same') {
      // What is not needed only costs stability.
      const simpler = MODELS[MODELS.indexOf(first) - 1]!;
      const found = match(best.at, simpler);
      if (found && found.misfit < best.misfit / LIGHT_HELPS ** 0.5) [best, model] = [found, simpler];
    }
    if (best && Math.hypot(...way) >= SMEARS_FROM && best.misfit > (1.3 * this.noise) ** 2) {
      for (const shutter of SHUTTERS) {
        const found: PatchMatch | null = shutter === this.shutter ? null : match(best.at, model, shutter);
        if (found && found.misfit < 0.9 * best.misfit && worth(found) > worth(best) - 0.02) best = found;
      }
    }
    if (!best) return null;
    const reach = reachPx ?? Math.max(settings.search[0], settings.search[1]) / 2;
    if (distance(best.at, expected) > reach + 4) return null;
    if (settings.light === undefined) state.model = model;
    if (best.score > 0.9) this.noise += 0.05 * (clamp(best.noise, 0.004, 0.03) - this.noise);
    const bound = Math.hypot(POINT_FLOOR, FACTOR * best.unsure, SMEAR_OFF * Math.hypot(...smear(this.shutter)));
    return {
      at: best.at,
      how: 'matched',
      score: best.score,
      bound,
      light: model !== 'same',
      ...(best.unsure > 6 * best.sure && bound > 1 ? { note: `${settings.name} can slide along its edge` } : {}),
    };
  }

  /** True where two maps warp a pattern so alike that matching it again would find the same. */
  warpsAlike(index: number, a: Homography, b: Homography): boolean {
    const {
      at,
      pattern: [w, h],
    } = this.states[index]!.settings;
    const [x, y] = applyToPoint(a, at);
    const [u, v] = applyToPoint(b, at);
    return [
      [-w / 2, -h / 2],
      [w / 2, -h / 2],
      [w / 2, h / 2],
      [-w / 2, h / 2],
    ].every(([dx, dy]) => {
      const p = applyToPoint(a, [at[0] + dx!, at[1] + dy!]);
      const q = applyToPoint(b, [at[0] + dx!, at[1] + dy!]);
      return Math.hypot(p[0] - x - q[0] + u, p[1] - y - q[1] + v) < ALIKE;
    });
  }

  /** How the pattern in use lies on this frame, by the plane's map from the reference and that of the pattern's own frame. */
  aroundOf({ settings, patchFrame }: PointState, map: Homography): Homography {
    if (settings.shape !== 'plane') return IDENTITY;
    if (patchFrame === this.referenceFrame) return mapAbout(map, settings.at);
    const there = this.mapOn(patchFrame);
    if (!there) return IDENTITY;
    const [a, b, c, d] = jacobianAt(there, settings.at);
    const [p, q, r, s] = jacobianAt(map, settings.at);
    const det = a * d - b * c;
    if (Math.abs(det) < 1e-6) return IDENTITY;
    return [(p * d - q * c) / det, (q * a - p * b) / det, 0, (r * d - s * c) / det, (s * a - r * b) / det, 0, 0, 0, 1];
  }
}
