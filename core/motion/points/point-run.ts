import { cornerBound } from '../follow/certainty.ts';
import { SURE } from '../follow/confidence.ts';
import type { FrameFit } from '../follow/frame-fit.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import {
  applyToPoint,
  compose,
  IDENTITY,
  invert,
  keepsInFront,
  type Homography,
  type Point,
} from '../../base/geometry/homography.ts';
import { distance } from '../../base/geometry/quad.ts';
import { CommonPlane, UNKNOWN_OFF, type Reckoned } from './common-plane.ts';
import type { LightWindow } from './light-window.ts';
import { lookTogether, TOGETHER_LEAST } from './look-together.ts';
import { takePatch, type Patch } from './patch.ts';
import { PointLook, type FrameInWork, type PointState } from './point-look.ts';
import {
  POINT_FLOOR,
  RECKONED_REACH,
  STOPS_UNDER,
  type PointFit,
  type PointPlan,
  type PointsFrame,
} from './point-plan.ts';
import { Together } from './together.ts';

/** A place that three other points contradict by more than so many px and bounds is looked for again where they say. */
const CONTRADICTED = 1.1;
const CONTRADICTED_BOUNDS = 0.6;
const CONTRADICTED_OFFS = 2.5;
/** What a reckoned place says of itself, px, and what it grows by for each frame that it goes on. */
const RECKONED_BOUND = 0.4;
const RECKONED_GROWS = 0.08;
const RECKONED_OFFS = 1.5;
/** A place counts as the plane's up to so many px. */
const AS_THE_PLANE = 1.5;
/** A point that was lost must resemble its pattern so much to be taken again; it is looked for over so many frames, and so many px further with each. */
const FOUND_AGAIN = 0.8;
const CLEARLY_FOUND = 0.92;
const MOST_LOST = 25;
const LOST_REACH = 25;
/** A point that scores less, needs light or comes from further off than expected (px) is helped by all patterns together; how sure they must be. */
const HOLDS_ALONE = 0.95;
const COMES_AS_EXPECTED = 8;
const JOINED_HOLDS = 0.3;
const TELLS_OTHERS = 0.85;
/** A point that lies so far, px, from where three sure ones say has strayed, whatever it resembles. */
const STRAYED = 6;
const STRAYED_OFFS = 4;
/** A point that was hidden is seen again within so many px and bounds of where all patterns together say that it is. */
const COMES_BACK = 1.5;

/** Follows corner points through frames, outward from where they are known; all of them on a frame before the next. */
export class PointRun {
  private readonly plane: CommonPlane;
  private readonly states: PointState[];
  private readonly done = new Map<number, (PointFit | null)[]>();
  private readonly maps = new Map<number, Homography>();
  private readonly work: { frame: number; from: -1 | 1 }[] = [];
  private at = 0;
  private readonly looking: PointLook;
  private readonly active: readonly number[];
  private leg: -1 | 1 | 0 = 0;
  private readonly together: Together;
  /** The last frame on which all were seen, for when none is. */
  private lastSeen: { frame: number; places: (Point | null)[]; map: Homography } | null = null;

  private constructor(
    private readonly plan: PointPlan,
    private readonly read: (frame: number) => Promise<LumaFrame>,
    reference: LumaFrame,
    patches: readonly Patch[],
  ) {
    this.plane = new CommonPlane(plan.points, reference.width, reference.height);
    this.active = plan.active ?? plan.points.map((_, i) => i);
    this.states = plan.points.map((settings, i) => ({
      settings,
      reference: patches[i]!,
      patch: patches[i]!,
      patchFrame: plan.referenceFrame,
      model: 'same',
      reckoned: 0,
      lost: false,
      lightWanted: new Set(),
    }));
    for (const [frame, fits] of plan.known ?? []) this.done.set(frame, [...fits]);
    const own = this.done.get(plan.referenceFrame) ?? plan.points.map(() => null);
    this.done.set(
      plan.referenceFrame,
      plan.points.map(({ at }, i) => own[i] ?? { at, how: 'reference', score: 1, bound: 0, light: false }),
    );
    for (const [i, { keys }] of plan.points.entries())
      for (const key of keys ?? [])
        this.set(key.frame, i, { at: key.at, how: 'hand', score: 1, bound: POINT_FLOOR, light: false });
    this.looking = new PointLook(
      this.states,
      plan.referenceFrame,
      (frame, i) => this.done.get(frame)?.[i]?.at,
      (frame) => this.maps.get(frame),
    );
    this.together = new Together(plan, this.maps, read);
    const from = plan.from ?? plan.referenceFrame;
    const [first, last] = plan.frames;
    this.plane.learn(
      plan.referenceFrame,
      plan.points.map((p) => p.at),
    );
    if (plan.direction !== 'backward') for (let f = from + 1; f <= last; f++) this.work.push({ frame: f, from: -1 });
    if (plan.direction !== 'forward') for (let f = from - 1; f >= first; f--) this.work.push({ frame: f, from: 1 });
  }

  /** Prepares the patterns; `judgePoints` has seen that they hold. Null where a pattern reaches outside the picture. */
  static async begin(plan: PointPlan, read: (frame: number) => Promise<LumaFrame>): Promise<PointRun | null> {
    const reference = await read(plan.referenceFrame);
    const patches = plan.points.map(({ at, pattern }) => takePatch(reference, at, pattern));
    return patches.every((p) => p !== null) ? new PointRun(plan, read, reference, patches) : null;
  }

  /** How many frames are to be looked at. */
  get total(): number {
    return this.work.length;
  }

  /** Names of points over which light was seen to change so much that compensating would help where it is switched off. */
  get lightProposed(): readonly string[] {
    return this.states.filter((s) => s.lightWanted.size > 0).map((s) => s.settings.name);
  }

  /** The reference's own frame, then one frame after the other; null when all are done. */
  async step(): Promise<PointsFrame | null> {
    let next = this.work[this.at++];
    // What has stopped on this way stays where it is; the other way begins anew.
    while (next && next.from === this.leg && !this.plan.retries && this.active.every((i) => this.states[i]!.lost))
      next = this.work[this.at++];
    if (!next) return null;
    if (next.from !== this.leg) await this.begin(next);
    return this.into(next.frame, next.from);
  }

  /** What is known of the reference frame. */
  referenceFrame(): PointsFrame {
    const points = this.done.get(this.plan.referenceFrame)!;
    return {
      frame: this.plan.referenceFrame,
      points,
      why: points.map(() => null),
      lightWanted: points.map(() => false),
    };
  }

  /** A leg begins: what was lost on the other one is not lost here. */
  private async begin({ frame, from }: { frame: number; from: -1 | 1 }): Promise<void> {
    this.leg = from;
    this.together.beginAt(frame + from, from === -1 ? 1 : -1);
    const start = frame + from;
    const fits = this.done.get(start);
    const luma = await this.read(start);
    for (const [i, state] of this.states.entries()) {
      const fit = fits?.[i] ?? null;
      Object.assign(state, {
        lost: fit === null,
        reckoned: 0,
        model: 'same',
        patch: state.reference,
        patchFrame: this.plan.referenceFrame,
      });
      if (fit) this.renew(state, i, start, fit, luma);
    }
    const seen = this.states.map((_, i) => fits?.[i]?.at ?? null);
    const whole = seen.every((p): p is Point => p !== null);
    if (whole) this.plane.learn(start, seen);
    const map = this.plan.carriedBy?.(start) ?? this.plane.mapBy(seen);
    if (map) this.maps.set(start, map);
    this.lastSeen = map ? { frame: start, places: seen, map } : null;
  }

  /** Takes a new pattern where the point is matched to the frame before, or where a key asks for it. */
  private renew(state: PointState, index: number, frame: number, fit: PointFit, luma: LumaFrame): void {
    const { match, pattern, keys } = state.settings;
    const key = keys?.find((k) => k.frame === frame);
    const fresh =
      match === 'previous' ? fit.how !== 'reckoned' : match === 'key' ? key !== undefined : key?.pattern === true;
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
    const work: FrameInWork = { frame, from, luma };
    const before = this.done.get(frame + from)!;
    const twice = this.done.get(frame + 2 * from);
    const known = this.done.get(frame);
    const why: (string | null)[] = this.states.map(() => null);
    // Where each is expected: as it went on so far.
    const onward = this.onward(frame, from);
    const expected = this.states.map(({ settings }, i): Point | null => {
      const here = before[i]?.at;
      const there = twice?.[i]?.at;
      if (here && onward && distance(applyToPoint(onward.last, settings.at), here) < AS_THE_PLANE)
        return applyToPoint(onward.next, settings.at);
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
      const window = this.looking.windowOf(luma, i, expected[i]!, map);
      if (!window) {
        why[i] = `${this.states[i]!.settings.name} has left the picture`;
        continue;
      }
      windows.set(i, window);
      // Once all patterns are asked together, none is looked for far off on its own.
      found[i] = this.looking.look(i, work, map, window, expected[i]!, before[i]!.at, !this.together.leads);
    }
    const asOne = await this.askTogether(frame, open, found, expected);
    const holding = () => open.filter((i) => found[i] && found[i].score >= STOPS_UNDER).length;
    if (asOne) map = this.takeJoined(work, open, found, why, asOne);
    else if (this.together.leads && !this.mostHold(open, found, expected))
      this.keepClear(work, open, found, expected, map);
    else if (open.length >= 2 && 2 * holding() <= open.length)
      lookTogether(this.looking, work, open, found, expected, before, map);
    // Patterns warped as the points themselves now say fit better than those warped as expected.
    const good = () => places().map((p, i) => (found[i] && found[i].score >= STOPS_UNDER ? p : null));
    if (!carried && !asOne && good().filter(Boolean).length >= 3) {
      const again = mapNow(good().map((p, i) => p ?? (good().filter(Boolean).length >= 4 ? null : expected[i]!)));
      for (const i of open) {
        const fit = found[i];
        const window = windows.get(i);
        if (
          !fit ||
          !window ||
          this.states[i]!.settings.shape !== 'plane' ||
          fit.score < STOPS_UNDER ||
          this.looking.warpsAlike(i, map, again)
        )
          continue;
        const better = this.looking.look(i, work, again, window, fit.at, fit.at, false);
        if (better && better.score >= fit.score - 0.03 && distance(better.at, fit.at) < 3) found[i] = better;
      }
      map = again;
    }
    if (!asOne) this.checkAgainstOthers(work, open, found, map);
    if (this.plan.retries && !asOne && this.lookForLost(work, found, map) && this.together.leads) {
      // What follows them as one goes on from here.
      this.together.beginAt(frame, from === -1 ? 1 : -1);
    }
    for (const i of open) {
      const state = this.states[i]!;
      const fit = found[i];
      let all: { at: Point; bound: number } | null = null;
      if (fit && (fit.score >= STOPS_UNDER || fit.how === 'reckoned')) {
        // What comes back from where it was hidden has to come back to where all patterns together say.
        if (fit.how === 'matched' && before[i]?.how === 'reckoned') all = await this.together.placeOf(i, frame, found);
        if (!all || distance(all.at, fit.at) <= COMES_BACK + fit.bound + all.bound) {
          if (fit.how !== 'reckoned') state.reckoned = 0;
          continue;
        }
      }
      const held = places().map((p, k) =>
        k !== i && found[k] && found[k].score >= STOPS_UNDER && found[k].how !== 'reckoned' ? p : null,
      );
      const reckoned = this.plane.reckon(i, held);
      why[i] ??= unlike(state.settings.name, fit);
      if (reckoned) {
        const bound = boundOf(reckoned, ++state.reckoned);
        const there = all ?? (await this.together.placeOf(i, frame, found));
        const surer = there && there.bound < bound ? there : null;
        found[i] = {
          at: reckoned.at,
          bound,
          ...surer,
          how: 'reckoned',
          score: 0,
          light: false,
          note: reckonedFrom(state.settings.name, surer !== null),
        };
      } else {
        found[i] = null;
        state.lost = true;
      }
    }
    this.settle(frame, luma, found, asOne?.homography ?? null);
    return { frame, points: found, why, lightWanted: this.states.map((s) => s.lightWanted.has(frame)) };
  }

  /** Whether enough points hold by themselves: clearly seen without compensating light, where they were expected. Three leave the fourth to be reckoned. */
  private mostHold(
    open: readonly number[],
    found: readonly (PointFit | null)[],
    expected: readonly (Point | null)[],
  ): boolean {
    const known = found.filter((fit, i) => fit && !open.includes(i)).length;
    const near = open.filter(
      (i) => found[i] && found[i].score >= HOLDS_ALONE && distance(found[i].at, expected[i]!) <= COMES_AS_EXPECTED,
    );
    // Where light is compensated a pattern may resemble much: two clear ones must vouch for it.
    const clear = known + near.filter((i) => !found[i]!.light).length;
    const lit = near.length + known - clear;
    const enough = Math.min(3, this.states.length);
    return clear >= enough || (clear >= 2 && clear + lit >= enough);
  }

  /** Where all patterns together hold nothing, each is looked for in its whole box; two or more that are clearly seen are believed, the others are not. */
  private keepClear(
    work: FrameInWork,
    open: readonly number[],
    found: (PointFit | null)[],
    expected: readonly (Point | null)[],
    map: Homography,
  ): void {
    const isClear = (fit: PointFit | null | undefined) => fit && fit.score >= HOLDS_ALONE && !fit.light;
    for (const i of open) {
      const window = isClear(found[i]) ? null : this.looking.windowOf(work.luma, i, expected[i]!, map);
      if (window) found[i] = this.looking.look(i, work, map, window, expected[i]!, expected[i]!, true);
    }
    const clear = open.filter((i) => isClear(found[i]));
    for (const i of open) if (clear.length < 2 || !clear.includes(i)) found[i] = null;
  }

  /** How all patterns move as one, where too few points hold by themselves; null where that is not needed, or they do not tell. */
  private async askTogether(
    frame: number,
    open: readonly number[],
    found: readonly (PointFit | null)[],
    expected: readonly (Point | null)[],
  ): Promise<FrameFit | null> {
    if ((open.length === 0 && !this.plan.retries) || this.mostHold(open, found, expected)) return null;
    const fit = await this.together.lead(frame);
    return fit && fit.confidence >= JOINED_HOLDS ? fit : null;
  }

  /** Points by what all patterns say together: each keeps its own place where that agrees, weighed by how sure either is. */
  private takeJoined(
    work: FrameInWork,
    open: readonly number[],
    found: (PointFit | null)[],
    why: (string | null)[],
    { homography: map, certainty, confidence }: FrameFit,
  ): Homography {
    const weak: { i: number; place: Point; bound: number; own: PointFit | null }[] = [];
    for (const i of this.plan.retries ? this.active.filter((k) => open.includes(k) || found[k] === null) : open) {
      const state = this.states[i]!;
      const place = applyToPoint(map!, state.settings.at);
      const bound = certainty ? cornerBound(certainty, map!, state.settings.at) : 1;
      const window = this.looking.windowOf(work.luma, i, place, map!);
      const own = window && this.looking.look(i, work, map!, window, place, place, false);
      const fit = own && (!found[i] || own.score >= found[i].score - 0.05) ? own : found[i];
      state.lost = false;
      if (fit && fit.score >= STOPS_UNDER && distance(fit.at, place) <= Math.max(0.3, fit.bound, bound)) {
        const w = bound ** 2 / (bound ** 2 + fit.bound ** 2);
        const at: Point = [w * fit.at[0] + (1 - w) * place[0], w * fit.at[1] + (1 - w) * place[1]];
        found[i] = { ...fit, at, bound: Math.max(Math.min(fit.bound, bound), 0.5 * distance(fit.at, place)) };
      } else {
        weak.push({ i, place, bound, own: fit ?? null });
        why[i] =
          fit && fit.score >= STOPS_UNDER
            ? `${state.settings.name} is contradicted by the other points`
            : unlike(state.settings.name, fit);
      }
    }
    // Three that are seen and a known camera may tell the fourth better than patterns that do not reach there.
    const held = this.states.map((_, k) =>
      found[k]?.how === 'matched' && found[k].score >= TELLS_OTHERS && !weak.some((w) => w.i === k)
        ? found[k].at
        : null,
    );
    for (const { i, place, bound, own } of weak) {
      const state = this.states[i]!;
      const guess = this.plane.reckon(i, held);
      const there = confidence < SURE ? guess : null;
      const off = there ? boundOf(there, ++state.reckoned) : bound;
      // What is clearly seen where the others say is right, whatever all patterns together come to.
      if (own && guess && own.score >= HOLDS_ALONE && distance(own.at, guess.at) < 0.5 * distance(place, guess.at)) {
        found[i] = own;
        why[i] = null;
        continue;
      }
      found[i] = {
        at: there?.at ?? place,
        how: 'reckoned',
        score: confidence,
        bound: off,
        light: false,
        note: reckonedFrom(state.settings.name, there === null),
      };
    }
    return map!;
  }

  /** The plane's last map, and where the same motion leads to; null where two frames are not known. */
  private onward(frame: number, from: -1 | 1): { last: Homography; next: Homography } | null {
    const last = this.maps.get(frame + from);
    const before = this.maps.get(frame + 2 * from);
    const back = before && invert(before);
    const next = last && back && compose(last, back, last);
    return next &&
      keepsInFront(
        next,
        this.plan.points.map((p) => p.at),
      )
      ? { last, next }
      : null;
  }

  /** Looks again for points that were lost: by those that hold, or, where none does, all together about where they were last seen. */
  private lookForLost(work: FrameInWork, found: (PointFit | null)[], map: Homography): boolean {
    const needed = this.together.leads ? CLEARLY_FOUND : FOUND_AGAIN;
    const lost = this.active.filter((i) => found[i] === null && this.states[i]!.lost);
    const holding = found.filter((f) => f && f.score >= STOPS_UNDER).length;
    const take = (i: number, fit: PointFit | null) => {
      if (!fit || fit.score < needed) return;
      found[i] = fit;
      this.states[i]!.lost = false;
    };
    if (holding >= 2) {
      for (const i of lost) {
        const place = applyToPoint(map, this.states[i]!.settings.at);
        const window = this.looking.windowOf(work.luma, i, place, map);
        if (window) take(i, this.looking.look(i, work, map, window, place, place, true));
      }
      return false;
    }
    const known = this.lastSeen;
    if (lost.length < Math.max(3, this.active.length) || !known || Math.abs(work.frame - known.frame) > MOST_LOST)
      return false;
    const again: (PointFit | null)[] = this.states.map(() => null);
    lookTogether(
      this.looking,
      work,
      lost,
      again,
      known.places,
      known.places.map((at) => at && { at, how: 'matched', score: 0, bound: 0, light: false }),
      known.map,
      TOGETHER_LEAST + LOST_REACH * Math.abs(work.frame - known.frame),
    );
    // Where light is compensated a pattern may resemble much: two must be clear without.
    const clear = again.filter((f) => f && f.score >= needed);
    if (clear.length >= Math.max(3, 0.75 * lost.length) && clear.filter((f) => !f!.light).length >= 2)
      for (const i of lost) take(i, again[i]!);
    return lost.some((i) => found[i] !== null);
  }

  /** Where three others say that a point is elsewhere, as well as they have said it of late, it is looked for there; one that has strayed far is not believed. */
  private checkAgainstOthers(
    work: FrameInWork,
    open: readonly number[],
    found: (PointFit | null)[],
    map: Homography,
  ): void {
    // The weakest first: it is the likeliest to have slipped.
    for (const i of [...open].sort((a, b) => (found[a]?.score ?? 0) - (found[b]?.score ?? 0)).slice(0, 2)) {
      const fit = found[i];
      const guess = this.plane.reckon(
        i,
        found.map((f, k) => (k !== i && f && f.score >= STOPS_UNDER && f.how !== 'reckoned' ? f.at : null)),
      );
      if (!guess || !Number.isFinite(guess.off)) continue;
      const { at: place, off } = guess;
      const agrees = (f: PointFit) =>
        distance(f.at, place) < CONTRADICTED + CONTRADICTED_BOUNDS * f.bound + CONTRADICTED_OFFS * off;
      if (fit && fit.score >= STOPS_UNDER && agrees(fit)) continue;
      const window = this.looking.windowOf(work.luma, i, place, map);
      const there = window && this.looking.look(i, work, map, window, place, place, true, RECKONED_REACH);
      if (
        there &&
        there.score >= STOPS_UNDER &&
        (!fit || fit.score < STOPS_UNDER || there.score > 0.9 * fit.score) &&
        agrees(there)
      )
        found[i] = there;
      else if (
        fit &&
        (fit.score < 0.85 || (sureOthers(found, i) && distance(fit.at, place) > STRAYED + STRAYED_OFFS * off))
      )
        found[i] = { ...fit, score: Math.min(fit.score, STOPS_UNDER - 0.01) };
    }
  }

  /** What is settled on a frame becomes what the next one starts from. */
  private settle(frame: number, luma: LumaFrame, found: readonly (PointFit | null)[], joined: Homography | null): void {
    this.done.set(frame, [...found]);
    const seen = found.map((f) => f?.at ?? null);
    const held = found.map((f) => (f && f.how !== 'reckoned' && f.score >= STOPS_UNDER ? f.at : null));
    if (held.every((p): p is Point => p !== null)) this.plane.learn(frame, held);
    else if (held.filter(Boolean).length >= 3) this.plane.goOn(frame, held);
    const map = this.plan.carriedBy?.(frame) ?? joined ?? this.plane.mapBy(seen);
    if (map) this.maps.set(frame, map);
    if (map && held.filter(Boolean).length >= Math.min(3, held.length)) this.lastSeen = { frame, places: seen, map };
    for (const [i, state] of this.states.entries()) if (found[i]) this.renew(state, i, frame, found[i], luma);
  }
}

const unlike = (name: string, fit: PointFit | null | undefined): string =>
  `${name} ${fit ? `resembles its pattern too little (${fit.score.toFixed(2)})` : 'was not found'}`;

/** True where three others are clearly seen, without compensating light. */
const sureOthers = (found: readonly (PointFit | null)[], index: number): boolean =>
  found.filter((f, k) => k !== index && f && f.how === 'matched' && f.score >= HOLDS_ALONE && !f.light).length >= 3;

/** What a reckoned place states: as long as nothing is known of how far off such places are, little is believed. */
const boundOf = ({ off }: Reckoned, frames: number): number =>
  RECKONED_BOUND + RECKONED_GROWS * frames + RECKONED_OFFS * Math.min(off, UNKNOWN_OFF);

/** What is said of a point that is not seen itself. */
function reckonedFrom(name: string, byBorder: boolean): string {
  return `${name} is reckoned from ${byBorder ? 'the border between the points' : 'the other points'}`;
}
