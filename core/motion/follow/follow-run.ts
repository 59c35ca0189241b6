import { kernels } from '../../base/kernels/index.ts';
import { BridgedFollower } from './bridged-follower.ts';
import { EvidenceSpans } from './evidence-spans.ts';
import { NothingToFollow, type FollowPlan } from './follow-plan.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import type { FollowState } from './follow-state.ts';
import { inUse } from '../../base/geometry/outline.ts';
import { openMemory, PictureLevels } from './image-pyramid.ts';
import type { FrameFit } from './frame-fit.ts';
import { PlanarFollower } from './planar-follower.ts';
import { FixedKeepOuts } from './region-over-time.ts';
import type { PreparedPicture } from './registration.ts';
import type { Evidence } from './ring-evidence.ts';
import { EDGES_NEEDED, mostPoints, optionsFor, type TemplateFault, type TemplateOptions } from './template.ts';

/** Why a region cannot be followed, for a person. */
export function sentenceOf(fault: TemplateFault): string {
  switch (fault.fault) {
    case 'empty':
      return 'The region lies outside the picture or is wholly kept out. Draw it around something that moves with the screen.';
    case 'too-small':
      return 'The region is too small to hold on to. Draw it at least 12 pixels wide and high.';
    case 'blank':
      return `There is nothing to hold on to here: ${EDGES_NEEDED} edges needed, found ${fault.edges}. Draw the region around edges or marks that move with the screen.`;
  }
}

/** So many frames found again must have been followed before their velocity counts as known. */
const PROVEN_AFTER = 2;
/** Frames after a loss that may be done again from the other side; what is before stays lost. */
const MOST_BACKFILL = 60;
/** Lights and certainties of the shape further away from the frame in work are not kept. */
const FINDINGS_KEPT = 80;

/** One way through the frames: towards `end`. */
interface Leg {
  readonly end: number;
  readonly direction: 1 | -1;
  /** The first frame to be looked at. */
  readonly first: number;
}

/**
 * Follows a span from its reference frame outward, handing over each frame once and finally: a frame comes when its
 * successor has been seen, because that tells how it was smeared.
 */
export class FollowRun {
  private referenceDone = false;
  private leg = 0;
  private next: number | null = null;
  private held: { picture: PreparedPicture | null; fit: FrameFit } | null = null;
  private pending: FrameFit[] = [];
  private proven = 0;
  private turn = 0;
  private readonly legs: readonly Leg[];
  private readonly bridged: BridgedFollower;
  /** Frames that this run held by the reference. */
  private readonly evidence = new EvidenceSpans();
  private pass: { readonly frames: readonly [number, Evidence][]; readonly better: FrameFit[]; next: number } | null =
    null;

  private constructor(
    private readonly plan: FollowPlan,
    private readonly read: (frame: number) => Promise<LumaFrame>,
    private readonly follower: PlanarFollower,
    private readonly slots: readonly [PictureLevels, PictureLevels],
    private readonly fixed: FixedKeepOuts,
    options: TemplateOptions,
  ) {
    this.bridged = new BridgedFollower(follower, plan, options, read);
    const [first, last] = plan.frames;
    const from = plan.from ?? plan.referenceFrame;
    const legs: Leg[] = [];
    if (plan.direction !== 'backward') legs.push({ end: last, direction: 1, first: from + 1 });
    if (plan.direction !== 'forward') legs.push({ end: first, direction: -1, first: from - 1 });
    this.legs = legs;
  }

  /** Prepares the reference. Throws NothingToFollow when the region can't be followed. */
  static async begin(asked: FollowPlan, read: (frame: number) => Promise<LumaFrame>): Promise<FollowRun> {
    const plan = { ...asked, regions: inUse(asked.regions), keepOut: inUse(asked.keepOut) };
    const { width, height, codes, peak } = await read(plan.referenceFrame);
    const options = optionsFor(plan.points);
    // The reference, the frame in work and the one before it, which waits for its successor.
    const memory = openMemory(width, height, 3, mostPoints(options), kernels(), true);
    const reference = new PictureLevels(memory, width, height).fill(codes, peak);
    const follower = PlanarFollower.create(plan.referenceFrame, reference, plan, options);
    if (!(follower instanceof PlanarFollower)) throw new NothingToFollow(sentenceOf(follower));
    const run = new FollowRun(
      plan,
      read,
      follower,
      [new PictureLevels(memory, width, height), new PictureLevels(memory, width, height)],
      new FixedKeepOuts(plan, plan.referenceFrame, width, height),
      options,
    );
    for (const [frame, h] of plan.known ?? []) if (h) follower.history.maps.set(frame, h);
    for (const [frame, shape] of plan.knownShapes ?? []) follower.history.shapes.set(frame, shape);
    if (plan.resume) await run.restore(plan.resume);
    return run;
  }

  /**
   * Looks at one more frame; what is final now, in the order of the run: each frame once, and those that a last pass made
   * surer once more, all together at its end. Null when all is done.
   */
  async step(): Promise<readonly FrameFit[] | null> {
    const fits = await this.go();
    if (!this.pass)
      for (const fit of fits ?? [])
        if (fit.evidence && fit.over === undefined) this.evidence.add(fit.frame, fit.evidence);
    return fits;
  }

  /** How many frames a last pass has looked at; null while there is none. */
  get passed(): number | null {
    return this.pass && this.pass.next;
  }

  private async go(): Promise<readonly FrameFit[] | null> {
    if (!this.referenceDone) {
      this.referenceDone = true;
      const { referenceFrame, known } = this.plan;
      return this.wanted(referenceFrame) && !known?.has(referenceFrame) ? [this.follower.referenceFit()] : [];
    }
    const leg = this.legs[this.leg];
    if (!leg) return this.plan.lastPass ? this.passOn() : null;
    const frame = this.next ?? leg.first;
    if ((leg.direction === 1 ? frame > leg.end : frame < leg.end) || this.hasGivenUp()) {
      const last = await this.settle(leg.direction);
      const rest = [...this.pending, ...(last ? [last] : [])];
      this.pending = [];
      this.proven = 0;
      this.leg++;
      this.next = null;
      this.bridged.turn();
      return rest.filter((fit) => this.wanted(fit.frame));
    }
    this.next = frame + leg.direction;
    return (await this.into(frame, leg.direction)).filter((fit) => this.wanted(fit.frame));
  }

  /**
   * Looks at one frame of a last pass: by all that was learnt on the others, between both its neighbours. Every frame is
   * judged by the maps that were followed, so that the order does not matter and a pass that was broken off begins anew.
   */
  private async passOn(): Promise<readonly FrameFit[] | null> {
    this.pass ??= { frames: this.evidence.frames(), better: [], next: 0 };
    const { frames, better, next } = this.pass;
    if (next > frames.length) return null;
    this.pass.next++;
    if (next === frames.length) return better;
    const [frame, evidence] = frames[next]!;
    const fit = this.follower.polish(await this.prepare(frame), evidence);
    if (fit) better.push(fit);
    return [];
  }

  /** Where the run stands between two steps. */
  state(): FollowState {
    const at = this.next ?? this.plan.referenceFrame;
    const follower = this.follower.state();
    const near = ([frame]: readonly [number, number, number]) => Math.abs(frame - at) <= FINDINGS_KEPT;
    return {
      referenceDone: this.referenceDone,
      leg: this.leg,
      next: this.next,
      held: this.held?.fit ?? null,
      pending: this.pending,
      proven: this.proven,
      bridged: this.bridged.state(),
      evidence: this.evidence.state(),
      follower: { ...follower, lights: follower.lights.filter(near), shapes: follower.shapes.filter(near) },
    };
  }

  private async restore(state: FollowState): Promise<void> {
    this.follower.restore(state.follower);
    this.referenceDone = state.referenceDone;
    this.leg = state.leg;
    this.next = state.next;
    this.held = state.held && { picture: null, fit: state.held };
    this.pending = [...state.pending];
    this.proven = state.proven;
    for (const fit of [...state.pending, ...(state.held ? [state.held] : [])])
      if (fit.homography) this.follower.history.maps.set(fit.frame, fit.homography);
    this.evidence.restore(state.evidence);
    await this.bridged.restore(state.bridged, state.next ?? this.plan.referenceFrame);
  }

  /** True when nothing has been found for longer than is worth waiting. */
  private hasGivenUp(): boolean {
    const { patience = Infinity } = this.plan;
    if (this.held?.fit.homography !== null || this.pending.length + 1 < patience) return false;
    return this.pending.slice(-(patience - 1)).every((fit) => fit.homography === null);
  }

  private wanted(frame: number): boolean {
    return frame >= this.plan.frames[0] && frame <= this.plan.frames[1];
  }

  private async prepare(frame: number): Promise<PreparedPicture> {
    return this.preparedFrom(frame, await this.read(frame));
  }

  private preparedFrom(frame: number, luma: LumaFrame): PreparedPicture {
    return { frame, levels: this.slots[this.turn++ % 2]!.fill(luma.codes, luma.peak).permit(this.fixed.at(frame)) };
  }

  /** Follows into one frame; hands over what has become final by it. */
  private async into(frame: number, direction: 1 | -1): Promise<FrameFit[]> {
    if (this.plan.known?.has(frame)) {
      const fit = await this.settle(direction);
      const rest = [...this.pending, ...(fit ? [fit] : [])];
      this.pending = [];
      this.proven = 0;
      return rest;
    }
    // A run that was taken up again has to look at the held frame once more.
    if (this.held && !this.held.picture)
      this.held = { picture: await this.prepare(this.held.fit.frame), fit: this.held.fit };
    const luma = await this.read(frame);
    const picture = this.preparedFrom(frame, luma);
    const fit = await this.bridged.follow(picture, luma, -direction as -1 | 1);
    const before = await this.settle(direction);
    if (before) this.bridged.learn(before);
    this.held = { picture, fit };
    if (!before) return [];
    if (before.homography && this.pending.length === 0) return [before];
    this.pending.push(before);
    this.proven = before.homography ? this.proven + 1 : 0;
    if (this.proven < PROVEN_AFTER || !fit.homography) return [];
    // Found again, and its velocity known: what was lost is looked at once more, backwards from here.
    const again = await this.backfill(this.pending.slice(-MOST_BACKFILL), direction);
    const final = this.pending.map((entry) => again.get(entry.frame) ?? entry);
    this.pending = [];
    this.proven = 0;
    // The pictures' places have been used for others.
    this.held = { picture: await this.prepare(frame), fit };
    return final;
  }

  /** The held frame, refined by what is known of its successor. */
  private async settle(direction: 1 | -1): Promise<FrameFit | null> {
    const held = this.held;
    this.held = null;
    // The reference tells nothing more of a frame that had to be led over another.
    if (!held?.fit.homography || held.fit.over !== undefined) return held?.fit ?? null;
    return this.follower.refine(held.picture ?? (await this.prepare(held.fit.frame)), held.fit, direction) ?? held.fit;
  }

  /** Follows into lost frames from their later side, the nearest first, until it is lost again. */
  private async backfill(lost: readonly FrameFit[], direction: 1 | -1): Promise<Map<number, FrameFit>> {
    const found = new Map<number, FrameFit>();
    let held: { picture: PreparedPicture; fit: FrameFit } | null = null;
    const settle = () => {
      if (held)
        found.set(held.fit.frame, this.follower.refine(held.picture, held.fit, -direction as -1 | 1) ?? held.fit);
      held = null;
    };
    for (const { frame } of [...lost].reverse()) {
      const picture = await this.prepare(frame);
      const fit = this.follower.follow(picture, direction);
      settle();
      if (!fit.homography) break;
      held = { picture, fit };
    }
    settle();
    return found;
  }
}

/** A run's frames one by one, for callers that need not go on with it later. */
export async function* followSpan(
  plan: FollowPlan,
  read: (frame: number) => Promise<LumaFrame>,
): AsyncGenerator<FrameFit> {
  const run = await FollowRun.begin(plan, read);
  for (let fits = await run.step(); fits; fits = await run.step()) yield* fits;
}
