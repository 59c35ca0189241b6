import { cornerBound } from '../follow/certainty.ts';
import { SURE } from '../follow/confidence.ts';
import type { FrameFit } from '../follow/frame-fit.ts';
import type { LumaFrame } from '../follow/follow-plan.ts';
import { applyToPoint, compose, IDENTITY, invert, jacobianAt, keepsInFront, type Homography, type Point } from '../geometry/homography.ts';
import { distance } from '../geometry/quad.ts';
import { CommonPlane, type Reckoned } from './common-plane.ts';
import { JoinedPatterns } from './joined-patterns.ts';
import { lightWindow, type LightWindow } from './light-window.ts';
import { matchPatch, type LightModel, type PatchMatch } from './match-patch.ts';
import { mapAbout, takePatch, type Patch } from './patch.ts';
import { STOPS_UNDER, type PointFit, type PointPlan, type PointSettings, type PointsFrame } from './point-plan.ts';
import { correlationMap, peaksOf, searchPatch, spread } from './search-patch.ts';

/** Exposures, in frames, of which the one is taken under which the smeared patterns fit best; and that at first. */
const SHUTTERS = [0, 0.25, 0.5, 0.75, 1] as const, USUAL_SHUTTER = 0.5;
/** Ways in a frame, px, from which on a smear is looked for. */
const SMEARS_FROM = 3;
/** Residual spread of an ordinary plate, roots of light, at first. */
const USUAL_NOISE = 0.011;
/** A model of light is left for a richer one where the residuals are so many times the noise's, and taken where they fall to such a share. */
const LIGHT_WANTED = 1.7, LIGHT_HELPS = 0.6;
/** A place that three other points contradict by more than so many px and bounds is looked for again where they say. */
const CONTRADICTED = 1.1, CONTRADICTED_BOUNDS = 0.6, CONTRADICTED_OFFS = 2.5;
/** A reckoned place is looked for about itself, px. */
const RECKONED_REACH = 8;
/** What a reckoned place says of itself, px, and what it grows by for each frame that it goes on. */
const RECKONED_BOUND = 0.4, RECKONED_GROWS = 0.08, RECKONED_OFFS = 1.5, UNKNOWN_OFF = 4;
/** A frame's own share of the smear that a place may be off, and the least bound. */
const SMEAR_OFF = 0.02, FLOOR = 0.15, FACTOR = 5;
/** A place counts as the plane's up to so many px. */
const AS_THE_PLANE = 1.5;
/** Where all have jumped, they are looked for so far at least, px; and, their smear known, so far about what was found. */
const TOGETHER_LEAST = 60, TOGETHER_FINE = 16;
/** Boxes wider than so many px to each side are looked through in steps of two; and by how much of the way each may differ from all. */
const COARSER_FROM = 90, TOGETHER_GIVES = 0.02;
/** Mean correlation from which on a place for all is looked at. */
const TOGETHER_FROM = 0.45;
/** A point that was lost must resemble its pattern so much to be taken again; it is looked for over so many frames, and so many px further with each. */
const FOUND_AGAIN = 0.8, CLEARLY_FOUND = 0.92, MOST_LOST = 25, LOST_REACH = 25;
/** What warps a pattern's corners by less than this, px, against another warp is alike. */
const ALIKE = 0.03;
/** A score with which a point goes on as expected, and how far off that may be, px. */
const GOES_ON = 0.9, NEAR = 4;
/** A point that scores less, needs light or comes from further off than expected (px) is helped by all patterns together; how sure they must be. */
const HOLDS_ALONE = 0.95, COMES_AS_EXPECTED = 8, JOINED_HOLDS = 0.3, TELLS_OTHERS = 0.85;
/** A point that lies so far, px, from where three sure ones say has strayed, whatever it resembles. */
const STRAYED = 6, STRAYED_OFFS = 4;
const MODELS: readonly LightModel[] = ['same', 'even', 'field'];

interface PointState {
  readonly settings: PointSettings;
  reference: Patch;
  /** The pattern in use, and the frame that it is from. */
  patch: Patch;
  patchFrame: number;
  model: LightModel;
  /** Frames in a row that it was reckoned. */
  reckoned: number;
  lost: boolean;
  lightWanted: boolean;
}

/** Follows corner points through frames, outward from where they are known; all of them on a frame before the next. */
export class PointRun {
  private readonly plane: CommonPlane;
  private readonly states: PointState[];
  private readonly done = new Map<number, (PointFit | null)[]>();
  private readonly maps = new Map<number, Homography>();
  private readonly work: { frame: number; from: -1 | 1 }[] = [];
  private at = 0;
  private noise = USUAL_NOISE;
  private shutter: number = USUAL_SHUTTER;
  private readonly active: readonly number[];
  private leg: -1 | 1 | 0 = 0;
  private legStart = 0;
  /** The patterns followed as one; undefined until it is asked for on a way, null where they cannot be. */
  private joined: JoinedPatterns | null | undefined;
  /** The last frame on which all were seen, for when none is. */
  private lastSeen: { frame: number; places: (Point | null)[]; map: Homography } | null = null;

  private constructor(private readonly plan: PointPlan, private readonly read: (frame: number) => Promise<LumaFrame>, reference: LumaFrame, patches: readonly Patch[]) {
    this.plane = new CommonPlane(plan.points, reference.width, reference.height);
    this.active = plan.active ?? plan.points.map((_, i) => i);
    this.states = plan.points.map((settings, i) => ({ settings, reference: patches[i]!, patch: patches[i]!, patchFrame: plan.referenceFrame, model: 'same', reckoned: 0, lost: false, lightWanted: false }));
    for (const [frame, fits] of plan.known ?? []) this.done.set(frame, [...fits]);
    const own = this.done.get(plan.referenceFrame) ?? plan.points.map(() => null);
    this.done.set(plan.referenceFrame, plan.points.map(({ at }, i) => own[i] ?? { at, how: 'reference', score: 1, bound: 0, light: false }));
    for (const [i, { keys }] of plan.points.entries()) for (const key of keys ?? []) this.set(key.frame, i, { at: key.at, how: 'hand', score: 1, bound: FLOOR, light: false });
    const from = plan.from ?? plan.referenceFrame, [first, last] = plan.frames;
    this.plane.learn(plan.referenceFrame, plan.points.map((p) => p.at));
    if (plan.direction !== 'backward') for (let f = from + 1; f <= last; f++) this.work.push({ frame: f, from: -1 });
    if (plan.direction !== 'forward') for (let f = from - 1; f >= first; f--) this.work.push({ frame: f, from: 1 });
  }

  /** Prepares the patterns; `judgePoints` has seen that they hold. Null where a pattern reaches outside the picture. */
  static async begin(plan: PointPlan, read: (frame: number) => Promise<LumaFrame>): Promise<PointRun | null> {
    const reference = await read(plan.referenceFrame), patches = plan.points.map(({ at, pattern }) => takePatch(reference, at, pattern));
    return patches.every((p) => p !== null) ? new PointRun(plan, read, reference, patches) : null;
  }

  /** How many frames are to be looked at. */
  get total(): number {
    return this.work.length;
  }

  /** Names of points over which light was seen to change so much that compensating would help where it is switched off. */
  get lightProposed(): readonly string[] {
    return this.states.filter((s) => s.lightWanted).map((s) => s.settings.name);
  }

  /** The reference's own frame, then one frame after the other; null when all are done. */
  async step(): Promise<PointsFrame | null> {
    let next = this.work[this.at++];
    // What has stopped on this way stays where it is; the other way begins anew.
    while (next && next.from === this.leg && !this.plan.retries && this.active.every((i) => this.states[i]!.lost)) next = this.work[this.at++];
    if (!next) return null;
    if (next.from !== this.leg) await this.begin(next);
    return this.into(next.frame, next.from);
  }

  /** What is known of the reference frame. */
  referenceFrame(): PointsFrame {
    const points = this.done.get(this.plan.referenceFrame)!;
    return { frame: this.plan.referenceFrame, points, why: points.map(() => null) };
  }

  /** A leg begins: what was lost on the other one is not lost here. */
  private async begin({ frame, from }: { frame: number; from: -1 | 1 }): Promise<void> {
    this.leg = from;
    this.joined = undefined;
    this.legStart = frame + from;
    const start = frame + from, fits = this.done.get(start), luma = await this.read(start);
    for (const [i, state] of this.states.entries()) {
      const fit = fits?.[i] ?? null;
      Object.assign(state, { lost: fit === null, reckoned: 0, model: 'same', patch: state.reference, patchFrame: this.plan.referenceFrame });
      if (fit) this.renew(state, i, start, fit, luma);
    }
    const seen = this.states.map((_, i) => fits?.[i]?.at ?? null), whole = seen.every((p): p is Point => p !== null);
    if (whole) this.plane.learn(start, seen);
    const map = this.plan.carriedBy?.(start) ?? this.plane.mapBy(seen);
    if (map) this.maps.set(start, map);
    this.lastSeen = map ? { frame: start, places: seen, map } : null;
  }

  /** Takes a new pattern where the point is matched to the frame before, or where a key asks for it. */
  private renew(state: PointState, index: number, frame: number, fit: PointFit, luma: LumaFrame): void {
    const { match, pattern, keys } = state.settings, key = keys?.find((k) => k.frame === frame), fresh = match === 'previous' ? fit.how !== 'reckoned' : match === 'key' ? key !== undefined : key?.pattern === true;
    if (frame === this.plan.referenceFrame) Object.assign(state, { patch: state.reference, patchFrame: frame });
    if (!fresh) return;
    const patch = takePatch(luma, this.done.get(frame)![index]!.at, pattern);
    if (patch) Object.assign(state, { patch, patchFrame: frame });
  }

  private set(frame: number, index: number, fit: PointFit | null): void {
    const row = this.done.get(frame) ?? this.states.map(() => null);
    row[index] = fit;
    this.done.set(frame, row);
  }

  private async into(frame: number, from: -1 | 1): Promise<PointsFrame> {
    const luma = await this.read(frame);
    const before = this.done.get(frame + from)!, twice = this.done.get(frame + 2 * from), known = this.done.get(frame), why: (string | null)[] = this.states.map(() => null);
    // Where each is expected: as it went on so far.
    const onward = this.onward(frame, from);
    const expected = this.states.map(({ settings }, i): Point | null => {
      const here = before[i]?.at, there = twice?.[i]?.at;
      if (here && onward && distance(applyToPoint(onward.last, settings.at), here) < AS_THE_PLANE) return applyToPoint(onward.next, settings.at);
      return here ? (there ? [2 * here[0] - there[0], 2 * here[1] - there[1]] : here) : null;
    });
    const found: (PointFit | null)[] = this.states.map((_, i) => known?.[i] ?? null);
    const open = this.active.filter((i) => found[i] === null && !this.states[i]!.lost);
    const carried = this.plan.carriedBy?.(frame) ?? null;
    const places = () => this.states.map((_, i) => found[i]?.at ?? null);
    const mapNow = (guess: readonly (Point | null)[]) => carried ?? this.plane.mapBy(guess) ?? IDENTITY;
    const believed = (i: number, at: Point | null) => (before[i]?.how === 'reckoned' ? null : at);
    let map = mapNow(expected.map((p, i) => found[i]?.at ?? believed(i, p) ?? p));
    const windows = new Map<number, LightWindow>();
    for (const i of open) {
      const window = this.windowOf(luma, i, expected[i]!, map);
      if (!window) {
        why[i] = `${this.states[i]!.settings.name} has left the picture`;
        continue;
      }
      windows.set(i, window);
      // Once all patterns are asked together, none is looked for far off on its own.
      found[i] = this.look(i, frame, from, map, window, expected[i]!, before[i]!.at, !this.joined);
    }
    const asOne = await this.askTogether(frame, from, open, found, expected);
    const holding = () => open.filter((i) => found[i] && found[i].score >= STOPS_UNDER).length;
    if (asOne) map = this.takeJoined(frame, from, luma, open, found, why, asOne);
    else if (this.joined && !this.mostHold(open, found, expected)) for (const i of open) found[i] = null;
    else if (open.length >= 2 && 2 * holding() <= open.length) this.lookTogether(frame, from, luma, open, found, expected, before, map);
    // Patterns warped as the points themselves now say fit better than those warped as expected.
    const good = () => places().map((p, i) => (found[i] && found[i].score >= STOPS_UNDER ? p : null));
    if (!carried && !asOne && good().filter(Boolean).length >= 3) {
      const again = mapNow(good().map((p, i) => p ?? (good().filter(Boolean).length >= 4 ? null : expected[i]!)));
      for (const i of open) {
        const fit = found[i], window = windows.get(i);
        if (!fit || !window || this.states[i]!.settings.shape !== 'plane' || fit.score < STOPS_UNDER || this.warpsAlike(i, map, again)) continue;
        const better = this.look(i, frame, from, again, window, fit.at, fit.at, false);
        if (better && better.score >= fit.score - 0.03 && distance(better.at, fit.at) < 3) found[i] = better;
      }
      map = again;
    }
    if (!asOne) this.checkAgainstOthers(frame, from, luma, open, found, map);
    if (this.plan.retries && !asOne && this.lookForLost(frame, from, luma, found, map) && this.joined) {
      // What follows them as one goes on from here.
      this.joined = undefined;
      this.legStart = frame;
    }
    for (const i of open) {
      const state = this.states[i]!, fit = found[i];
      if (fit && (fit.score >= STOPS_UNDER || fit.how === 'reckoned')) {
        if (fit.how !== 'reckoned') state.reckoned = 0;
        continue;
      }
      const held = places().map((p, k) => (k !== i && found[k] && (found[k].score >= STOPS_UNDER) && found[k].how !== 'reckoned' ? p : null)), reckoned = this.plane.reckon(i, held);
      why[i] ??= unlike(state.settings.name, fit);
      if (reckoned) {
        state.reckoned++;
        found[i] = { at: reckoned.at, how: 'reckoned', score: 0, bound: boundOf(reckoned, state.reckoned), light: false, note: `${state.settings.name} is reckoned from the other points` };
      } else {
        found[i] = null;
        state.lost = true;
      }
    }
    this.settle(frame, luma, found, asOne?.homography ?? null);
    return { frame, points: found, why };
  }

  /** Whether enough points hold by themselves: clearly seen without compensating light, where they were expected. Three leave the fourth to be reckoned. */
  private mostHold(open: readonly number[], found: readonly (PointFit | null)[], expected: readonly (Point | null)[]): boolean {
    const known = found.filter((fit, i) => fit && !open.includes(i)).length, sure = open.filter((i) => found[i] && found[i].score >= HOLDS_ALONE && !found[i].light && distance(found[i].at, expected[i]!) <= COMES_AS_EXPECTED).length;
    return known + sure >= Math.min(3, this.states.length);
  }

  /** How all patterns move as one, where too few points hold by themselves; null where that is not needed, or they do not tell. */
  private async askTogether(frame: number, from: -1 | 1, open: readonly number[], found: readonly (PointFit | null)[], expected: readonly (Point | null)[]): Promise<FrameFit | null> {
    if ((open.length === 0 && !this.plan.retries) || this.mostHold(open, found, expected)) return null;
    if (this.joined === undefined) this.joined = await JoinedPatterns.begin(this.plan, this.legStart, from === -1 ? 1 : -1, this.maps, this.read);
    const fit = await this.joined?.at(frame);
    return fit && fit.confidence >= JOINED_HOLDS ? fit : null;
  }

  /** Points by what all patterns say together: each keeps its own place where that agrees, weighed by how sure either is. */
  private takeJoined(frame: number, from: -1 | 1, luma: LumaFrame, open: readonly number[], found: (PointFit | null)[], why: (string | null)[], { homography: map, certainty, confidence }: FrameFit): Homography {
    const weak: { i: number; place: Point; bound: number }[] = [];
    for (const i of this.plan.retries ? this.active.filter((k) => open.includes(k) || found[k] === null) : open) {
      const state = this.states[i]!, place = applyToPoint(map!, state.settings.at), bound = certainty ? cornerBound(certainty, map!, state.settings.at) : 1;
      const window = this.windowOf(luma, i, place, map!), own = window && this.look(i, frame, from, map!, window, place, place, false);
      const fit = own && (!found[i] || own.score >= found[i].score - 0.05) ? own : found[i];
      state.lost = false;
      if (fit && fit.score >= STOPS_UNDER && distance(fit.at, place) <= Math.max(0.3, fit.bound, bound)) {
        const w = bound ** 2 / (bound ** 2 + fit.bound ** 2), at: Point = [w * fit.at[0] + (1 - w) * place[0], w * fit.at[1] + (1 - w) * place[1]];
        found[i] = { ...fit, at, bound: Math.max(Math.min(fit.bound, bound), 0.5 * distance(fit.at, place)) };
      } else {
        weak.push({ i, place, bound });
        why[i] = fit && fit.score >= STOPS_UNDER ? `${state.settings.name} is contradicted by the other points` : unlike(state.settings.name, fit);
      }
    }
    // Three that are seen and a known camera may tell the fourth better than patterns that do not reach there.
    const held = this.states.map((_, k) => (found[k]?.how === 'matched' && found[k].score >= TELLS_OTHERS && !weak.some((w) => w.i === k) ? found[k].at : null));
    for (const { i, place, bound } of weak) {
      const state = this.states[i]!, there = confidence < SURE ? this.plane.reckon(i, held) : null, off = there ? boundOf(there, ++state.reckoned) : bound;
      found[i] = { at: there?.at ?? place, how: 'reckoned', score: confidence, bound: off, light: false, note: `${state.settings.name} is reckoned from the other points` };
    }
    return map!;
  }

  /** The plane's last map, and where the same motion leads to; null where two frames are not known. */
  private onward(frame: number, from: -1 | 1): { last: Homography; next: Homography } | null {
    const last = this.maps.get(frame + from), before = this.maps.get(frame + 2 * from), back = before && invert(before);
    const next = last && back && compose(last, back, last);
    return next && keepsInFront(next, this.plan.points.map((p) => p.at)) ? { last, next } : null;
  }

  /** Where most points are lost at once, all have jumped together: their correlations are summed over a wider box, and each is looked for anew about the places that all agree on. */
  private lookTogether(frame: number, from: -1 | 1, luma: LumaFrame, open: readonly number[], found: (PointFit | null)[], expected: readonly (Point | null)[], before: readonly (PointFit | null)[], map: Homography, least = TOGETHER_LEAST): void {
    const [w, h] = this.states[open[0]!]!.settings.search, reach = [Math.max(least, 1.5 * w), Math.max(least, 1.5 * h)] as const;
    const sum = (about: Point, within: readonly [number, number], smear: Point, from = 0) => {
      // Far off, coarsely, and the shape may have changed a little.
      const step = Math.max(...within) > COARSER_FROM ? 2 : 1, give = Math.round(TOGETHER_GIVES * Math.max(...within) / step);
      let total: Float32Array | null = null, middle: Point = [0, 0], size: readonly [number, number] = [0, 0];
      for (const i of open) {
        const state = this.states[i]!, at = expected[i];
        if (!at) continue;
        const place: Point = [at[0] + about[0], at[1] + about[1]], room = Math.max(...state.settings.pattern) + 4;
        const window = lightWindow(luma, { left: place[0] - within[0] - room, top: place[1] - within[1] - room, right: place[0] + within[0] + room, bottom: place[1] + within[1] + room });
        const scores = window && correlationMap(state.patch, this.aroundOf(state, map), smear, window, place, within, step);
        if (!scores) continue;
        const loose = give > 0 ? spread(scores, give) : scores.scores;
        if (!total) [total, middle, size] = [loose.slice(), about, scores.reach];
        else for (let k = 0; k < total.length; k++) total[k]! += loose[k]!;
      }
      return total ? peaksOf({ middle, reach: size, step, scores: total }, 2).flatMap((p) => (p.correlation >= from ? [p.at] : [])) : [];
    };
    const held = () => open.reduce((s, i) => s + (found[i] && found[i].score >= STOPS_UNDER ? found[i].score : 0), 0);
    const seen = open.filter((i) => expected[i]).length;
    for (const rough of sum([0, 0], reach, [0, 0], TOGETHER_FROM * seen)) {
      // The way there tells the smear, and the smear where exactly.
      const way = open.map((i) => expected[i] && before[i] && ([expected[i][0] + rough[0] - before[i].at[0], expected[i][1] + rough[1] - before[i].at[1]] as Point)).find((v) => v), smear: Point = way ? [way[0] * this.shutter, way[1] * this.shutter] : [0, 0];
      const shift = Math.hypot(...smear) > 2 ? (sum(rough, [TOGETHER_FINE, TOGETHER_FINE], smear)[0] ?? rough) : rough;
      const again = found.map((f, i): PointFit | null => {
        const at = open.includes(i) ? expected[i] : null;
        if (!at) return f;
        const place: Point = [at[0] + shift[0], at[1] + shift[1]], window = this.windowOf(luma, i, place, map);
        return window && this.look(i, frame, from, map, window, place, place, true, RECKONED_REACH);
      });
      const now = open.reduce((s, i) => s + (again[i] && again[i].score >= STOPS_UNDER ? again[i].score : 0), 0);
      if (now > held()) for (const i of open) found[i] = again[i]!;
      if (now > 0.75 * open.length) return;
    }
  }

  /** Looks again for points that were lost: by those that hold, or, where none does, all together about where they were last seen. */
  private lookForLost(frame: number, from: -1 | 1, luma: LumaFrame, found: (PointFit | null)[], map: Homography): boolean {
    const needed = this.joined ? CLEARLY_FOUND : FOUND_AGAIN, lost = this.active.filter((i) => found[i] === null && this.states[i]!.lost), holding = found.filter((f) => f && f.score >= STOPS_UNDER).length;
    const take = (i: number, fit: PointFit | null) => {
      if (!fit || fit.score < needed) return;
      found[i] = fit;
      this.states[i]!.lost = false;
    };
    if (holding >= 2) {
      for (const i of lost) {
        const place = applyToPoint(map, this.states[i]!.settings.at), window = this.windowOf(luma, i, place, map);
        if (window) take(i, this.look(i, frame, from, map, window, place, place, true));
      }
      return false;
    }
    const known = this.lastSeen;
    if (lost.length < Math.max(3, this.active.length) || !known || Math.abs(frame - known.frame) > MOST_LOST) return false;
    const again: (PointFit | null)[] = this.states.map(() => null);
    this.lookTogether(frame, from, luma, lost, again, known.places, known.places.map((at) => at && { at, how: 'matched', score: 0, bound: 0, light: false }), known.map, TOGETHER_LEAST + LOST_REACH * Math.abs(frame - known.frame));
    if (again.filter((f) => f && f.score >= needed).length >= Math.max(3, 0.75 * lost.length)) for (const i of lost) take(i, again[i]!);
    return lost.some((i) => found[i] !== null);
  }

  /** Where three others say that a point is elsewhere, as well as they have said it of late, it is looked for there; one that has strayed far is not believed. */
  private checkAgainstOthers(frame: number, from: -1 | 1, luma: LumaFrame, open: readonly number[], found: (PointFit | null)[], map: Homography): void {
    // The weakest first: it is the likeliest to have slipped.
    for (const i of [...open].sort((a, b) => (found[a]?.score ?? 0) - (found[b]?.score ?? 0)).slice(0, 2)) {
      const fit = found[i], guess = this.plane.reckon(i, found.map((f, k) => (k !== i && f && f.score >= STOPS_UNDER && f.how !== 'reckoned' ? f.at : null)));
      if (!guess || !Number.isFinite(guess.off)) continue;
      const { at: place, off } = guess, agrees = (f: PointFit) => distance(f.at, place) < CONTRADICTED + CONTRADICTED_BOUNDS * f.bound + CONTRADICTED_OFFS * off;
      if (fit && fit.score >= STOPS_UNDER && agrees(fit)) continue;
      const window = this.windowOf(luma, i, place, map), there = window && this.look(i, frame, from, map, window, place, place, true, RECKONED_REACH);
      if (there && there.score >= STOPS_UNDER && (!fit || fit.score < STOPS_UNDER || there.score > 0.9 * fit.score) && agrees(there)) found[i] = there;
      else if (fit && (fit.score < 0.85 || (sureOthers(found, i) && distance(fit.at, place) > STRAYED + STRAYED_OFFS * off))) found[i] = { ...fit, score: Math.min(fit.score, STOPS_UNDER - 0.01) };
    }
  }

  private windowOf(luma: LumaFrame, index: number, at: Point, map: Homography): LightWindow | null {
    const { pattern, search, at: origin } = this.states[index]!.settings, [a, b, c, d] = jacobianAt(map, origin), grow = Math.max(1, Math.hypot(a, c), Math.hypot(b, d));
    const w = search[0] / 2 + (grow * pattern[0]) / 2 + 4, h = search[1] / 2 + (grow * pattern[1]) / 2 + 4;
    if (!(at[0] > -w && at[1] > -h && at[0] < luma.width + w && at[1] < luma.height + h)) return null;
    return lightWindow(luma, { left: at[0] - w, top: at[1] - h, right: at[0] + w, bottom: at[1] + h });
  }

  /** The best place for a point about where it is expected. */
  private look(index: number, frame: number, from: -1 | 1, map: Homography, window: LightWindow, expected: Point, before: Point, wide: boolean, reachPx?: number): PointFit | null {
    const state = this.states[index]!, { settings, patch } = state, around = this.aroundOf(state, map), earlier = this.done.get(frame + from)?.[index]?.at ?? before;
    const wayTo = (at: Point): Point => [(at[0] - earlier[0]) * -from, (at[1] - earlier[1]) * -from];
    let way = wayTo(expected);
    const smear = (shutter: number): Point => (Math.hypot(...way) < SMEARS_FROM ? [0, 0] : [way[0] * shutter, way[1] * shutter]);
    const match = (start: Point, model: LightModel, shutter = this.shutter) => matchPatch(patch, around, window, start, { light: model, smear: smear(shutter), turns: settings.shape === 'similarity', noise: this.noise });
    const first = settings.light === true ? 'field' : settings.light === false ? 'same' : state.model;
    let best = match(expected, first), model: LightModel = first;
    const worth = (m: PatchMatch) => m.score - (0.002 * distance(m.at, expected)) / Math.max(1, settings.pattern[0] / 20);
    // The rest of the search box is asked only where nothing convinces near by.
    if (wide && !(best && best.score > GOES_ON && distance(best.at, expected) < NEAR)) {
      const reach = reachPx === undefined ? ([(settings.search[0] - settings.pattern[0]) / 2, (settings.search[1] - settings.pattern[1]) / 2] as const) : ([reachPx, reachPx] as const);
      const starts = [before, ...searchPatch(patch, around, smear(this.shutter), window, expected, reach, 2).filter((place) => place.correlation > 0.3).map((place) => place.at)];
      for (const start of starts) {
        const found = match(start, first);
        if (found && (!best || worth(found) > worth(best))) best = found;
      }
    }
    // What was found elsewhere than expected has come there along another way, and is smeared along that.
    for (let turn = 0; best && turn < 3; turn++) {
      const come = wayTo(best.at), asExpected = way;
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
      for (const richer of MODELS.slice(MODELS.indexOf(first) + 1)) {
        const found = match(start, richer);
        if (!found || (best && !(found.misfit < LIGHT_HELPS * best.misfit))) continue;
        if (settings.light === false) {
          state.lightWanted ||= richer === 'field' || found.score > STOPS_UNDER;
          continue;
        }
        [best, model] = [found, richer];
      }
    } else if (settings.light === undefined && first !== 'same') {
      // What is not needed only costs stability.
      const simpler = MODELS[MODELS.indexOf(first) - 1]!, found = match(best.at, simpler);
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
    if (best.score > 0.9) this.noise += 0.05 * (Math.min(0.03, Math.max(0.004, best.noise)) - this.noise);
    const bound = Math.hypot(FLOOR, FACTOR * best.unsure, SMEAR_OFF * Math.hypot(...smear(this.shutter)));
    return { at: best.at, how: 'matched', score: best.score, bound, light: model !== 'same', ...(best.unsure > 6 * best.sure && bound > 1 ? { note: `${settings.name} can slide along its edge` } : {}) };
  }

  /** True where two maps warp a pattern so alike that matching it again would find the same. */
  private warpsAlike(index: number, a: Homography, b: Homography): boolean {
    const { at, pattern: [w, h] } = this.states[index]!.settings, [x, y] = applyToPoint(a, at), [u, v] = applyToPoint(b, at);
    return [[-w / 2, -h / 2], [w / 2, -h / 2], [w / 2, h / 2], [-w / 2, h / 2]].every(([dx, dy]) => {
      const p = applyToPoint(a, [at[0] + dx!, at[1] + dy!]), q = applyToPoint(b, [at[0] + dx!, at[1] + dy!]);
      return Math.hypot(p[0] - x - q[0] + u, p[1] - y - q[1] + v) < ALIKE;
    });
  }

  /** How the pattern in use lies on this frame, by the plane's map from the reference and that of the pattern's own frame. */
  private aroundOf({ settings, patchFrame }: PointState, map: Homography): Homography {
    if (settings.shape !== 'plane') return IDENTITY;
    if (patchFrame === this.plan.referenceFrame) return mapAbout(map, settings.at);
    const there = this.maps.get(patchFrame);
    if (!there) return IDENTITY;
    const [a, b, c, d] = jacobianAt(there, settings.at), [p, q, r, s] = jacobianAt(map, settings.at), det = a * d - b * c;
    if (Math.abs(det) < 1e-6) return IDENTITY;
    return [(p * d - q * c) / det, (q * a - p * b) / det, 0, (r * d - s * c) / det, (s * a - r * b) / det, 0, 0, 0, 1];
  }

  /** What is settled on a frame becomes what the next one starts from. */
  private settle(frame: number, luma: LumaFrame, found: readonly (PointFit | null)[], joined: Homography | null): void {
    this.done.set(frame, [...found]);
    const seen = found.map((f) => f?.at ?? null), held = found.map((f) => (f && f.how !== 'reckoned' && f.score >= STOPS_UNDER ? f.at : null));
    if (held.every((p): p is Point => p !== null)) this.plane.learn(frame, held);
    else if (held.filter(Boolean).length >= 3) this.plane.goOn(frame, held);
    const map = this.plan.carriedBy?.(frame) ?? joined ?? this.plane.mapBy(seen);
    if (map) this.maps.set(frame, map);
    if (map && held.filter(Boolean).length >= Math.min(3, held.length)) this.lastSeen = { frame, places: seen, map };
    for (const [i, state] of this.states.entries()) if (found[i]) this.renew(state, i, frame, found[i], luma);
  }
}

const unlike = (name: string, fit: PointFit | null | undefined): string => `${name} ${fit ? `resembles its pattern too little (${fit.score.toFixed(2)})` : 'was not found'}`;

/** True where three others are clearly seen, without compensating light. */
const sureOthers = (found: readonly (PointFit | null)[], index: number): boolean => found.filter((f, k) => k !== index && f && f.how === 'matched' && f.score >= HOLDS_ALONE && !f.light).length >= 3;

/** What a reckoned place states: as long as nothing is known of how far off such places are, little is believed. */
const boundOf = ({ off }: Reckoned, frames: number): number => RECKONED_BOUND + RECKONED_GROWS * frames + RECKONED_OFFS * Math.min(off, UNKNOWN_OFF);
