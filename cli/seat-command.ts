import { lensFromFile } from '../core/handoff/exchange/lens-file.ts';
import type { LumaFrame } from '../core/base/image/luma-frame.ts';
import { homographyBetweenQuads } from '../core/base/geometry/estimate-homography.ts';
import { compose, type Point } from '../core/base/geometry/homography.ts';
import { mean } from '../core/base/image/statistics.ts';
import { SeatThroughLens } from '../core/surface/seat/seat-through-lens.ts';
import { Problem } from '../core/base/problem/problem.ts';
import { FitterCache } from '../core/surface/seat/border-line.ts';
import { CornerMoves, movedCorners, type Correction } from '../core/surface/seat/corrections.ts';
import { lightPicture } from '../core/base/image/light-sampler.ts';
import { driftOf, measureSeat, type MeasuredSeat, type SeatPlan } from '../core/surface/seat/measure-seat.ts';
import { proposeCorrections } from '../core/surface/seat/drift-corrections.ts';
import { seatAdvice, seenOf, worthLocking, type Advice } from '../core/surface/seat/seat-advice.ts';
import { checkSurface, planFromTrack, seatedTrack } from '../core/handoff/exchange/seat-track.ts';
import { SIDE_NAMES } from '../core/surface/seat/sides.ts';
import { cornersByFrames, cornersSeenOn, framesToAsk } from '../core/surface/seat/snap-frames.ts';
import { snapQuad, type Border, type Snap } from '../core/surface/seat/snap.ts';
import { LumaFile } from './luma-file.ts';
import { checkWritable, note, progress, readJson, readNumber, readOptions, writeWhole } from './options.ts';
import { openPlate, PLATE_OPTIONS } from './plate.ts';

/** Options that may stand without a value. */
const SWITCHES = ['lock'] as const;

/** `yarlop seat`: puts the corners on the reference's borders, locks them on all frames, corrects drift, smooths. */
export async function seatCommand(args: string[]): Promise<void> {
  const options = readOptions(
    args,
    ['plate', 'track', 'out'],
    ['snap', 'tolerance', 'smooth', 'report', ...PLATE_OPTIONS],
    SWITCHES,
  );
  const border = borderOf(options.snap);
  const tolerance = readNumber('tolerance', options.tolerance, 0.01, 100);
  const smooth = readNumber('smooth', options.smooth, 0, 1) ?? 0;
  const lock = options.lock === true;
  const track = readJson('track', options.track);
  checkWritable(options.out);
  if (options.report !== undefined) checkWritable(options.report);
  const plate = await openPlate(options.plate, options);
  const { facts } = plate;
  [...facts.assumed, ...facts.notes].forEach(note);
  let luma: LumaFile | null = null;
  try {
    if (track.width !== facts.width || track.height !== facts.height)
      throw new Problem('size-mismatch', {
        trackSize: `${track.width}×${track.height}`,
        plateSize: `${facts.width}×${facts.height}`,
      });
    const filmed = planFromTrack(track, options.track);
    const lens = lensFromFile(track.lens, track.pixelCentre);
    const through = lens && new SeatThroughLens(lens, facts.width, facts.height);
    const asGiven = through ? through.plan(filmed) : filmed;
    if (!asGiven)
      throw new Problem('bad-field', {
        where: options.track,
        field: 'lens',
        why: 'does not film the corners; is it this plate’s?',
      });
    luma = await LumaFile.decode(plate.source, facts);
    const asFilmed = luma.read.bind(luma);
    const read = through ? (frame: number) => through.luma(asFilmed(frame)) : asFilmed;
    const last = Math.max(track.referenceFrame, ...asGiven.frames.map((f) => f.frame));
    if (last >= luma.frames)
      throw new Problem('frame-outside', { where: options.track, frame: last, last: luma.frames - 1 });
    const snap = border && snapQuad(lightPicture(read(track.referenceFrame)), asGiven.corners, border);
    if (snap) checkSurface(snap.quad, options.track);
    const onReference = snap ? { ...asGiven, corners: snap.quad } : asGiven;
    const measured = await measureSeat(
      onReference,
      async (frame) => read(frame),
      (done, total) => progress('looking at the borders', done, total),
    );
    // Where the corners are on the reference, the other frames know as well.
    const plan = snap ? { ...onReference, corners: askFrames(onReference, measured, read) } : onReference;
    if (measured.rails.length === 0 && (lock || tolerance !== undefined)) throw new Problem('no-border');
    const locking = lock && worthLocking(plan, measured);
    const drift = driftOf(plan, measured);
    const lockMoves = locking ? new Map(measured.locked.map((l) => [l.frame, l.moves])) : null;
    // What the lock has taken away needs no key.
    const left = drift.map((d) => (lockMoves ? { ...d, moves: new Float64Array(8) } : d));
    const proposal = proposeCorrections(left, plan.referenceFrame, tolerance ?? 0.25);
    const corrections: readonly Correction[] = tolerance === undefined ? [] : proposal.corrections;
    const advice: Advice[] = seatAdvice(
      { referenceFrame: plan.referenceFrame, frames: plan.frames.length },
      seenOf(measured),
      lockMoves ? proposeCorrections(drift, plan.referenceFrame, tolerance ?? 0.25) : proposal,
    );
    if (lock && !locking)
      advice.push({
        kind: 'nothing-to-lock',
        text: 'The borders know the corners no better than the track does: nothing was locked.',
      });
    const boundOf = boundsWith(
      snap,
      new Map(measured.locked.map((l) => [l.frame, l.bounds])),
      locking || corrections.length > 0,
      new Map(plan.frames.map((f) => [f.frame, f.bounds])),
    );
    // All that was found in straightened pictures is stated for the plate as filmed.
    const seating = through
      ? {
          corners: through.filmed(plan.corners),
          referenceFrame: plan.referenceFrame,
          lock:
            lockMoves &&
            new Map([...lockMoves].map(([frame, moves]) => [frame, through.filmedMoves(plan.corners, moves)])),
          corrections: through.filmedCorrections(plan.corners, corrections),
          smooth,
        }
      : { corners: plan.corners, referenceFrame: plan.referenceFrame, lock: lockMoves, corrections, smooth };
    const why = [
      ...(snap ? [`Corners put on the ${border} border of frame ${plan.referenceFrame}${saidOfSides(snap)}.`] : []),
      ...(locking ? ['Every frame locked to the borders.'] : []),
      ...(corrections.length > 0
        ? [`${new Set(corrections.map((c) => c.frame)).size} keys bring the borders within ${tolerance!} px.`]
        : []),
      ...(smooth > 0 ? [`Smoothed by ${smooth}.`] : []),
      ...advice.map((a) => a.text),
    ];
    writeWhole(
      options.out,
      `${JSON.stringify(seatedTrack(track, new Map(filmed.frames.map((f) => [f.frame, f.map])), seating, boundOf, why, border ?? undefined), null, 1)}\n`,
    );
    if (options.report !== undefined) {
      const moves = new CornerMoves(corrections, plan.referenceFrame);
      writeWhole(
        options.report,
        `${JSON.stringify(
          {
            sides: SIDE_NAMES.map((side, k) =>
              sideReport(side, snap?.sides[k] ?? null, through ? (p) => through.filmedPlace(p) : (p) => p),
            ),
            frames: plan.frames.map(({ frame, bounds }, i) => {
              const d = drift[i];
              const after =
                d &&
                Math.max(
                  ...[0, 1, 2, 3].map((c) => {
                    const [x, y] = moves.at(c, frame);
                    return lockMoves ? 0 : d.scales[c]! * Math.hypot(d.moves[2 * c]! - x, d.moves[2 * c + 1]! - y);
                  }),
                );
              return {
                frame,
                bound: (boundOf(frame) ?? bounds ?? []).map((b) => round(b)),
                drift: round(measured.locked[i]?.drift ?? 0),
                ...(after === undefined ? {} : { after: round(after) }),
              };
            }),
            corrections: corrections.map((c) => ({ ...c })),
            advice,
          },
          null,
          1,
        )}\n`,
      );
    }
    advice.forEach((a) => note(a.text));
  } finally {
    luma?.close();
    plate.close();
  }
}

/** The snapped corners by what other frames show of them. */
function askFrames(plan: SeatPlan, measured: MeasuredSeat, read: (frame: number) => LumaFrame): SeatPlan['corners'] {
  const asked = new Set(framesToAsk(plan.frames.map((f) => f.frame)));
  const fitters = new FitterCache();
  const seen = plan.frames.flatMap(({ frame, map }, i) => {
    const moves = measured.locked[i]?.moves;
    const seat = moves && homographyBetweenQuads(plan.corners, movedCorners(plan.corners, moves));
    return asked.has(frame) && seat
      ? [cornersSeenOn(lightPicture(read(frame)), compose(map, seat), plan.corners, fitters)]
      : [];
  });
  return cornersByFrames(plan.corners, seen).quad;
}

function borderOf(text: string | undefined): Border | null {
  if (text === 'inner' || text === 'outer') return text;
  if (text === undefined || text === 'off') return null;
  throw new Problem('bad-field', {
    where: 'the command',
    field: '--snap',
    why: `is "${text}", not one of inner, outer, off`,
  });
}

/** A frame's corners are as sure as the way from the reference, and as the reference's own corners are. */
function boundsWith(
  snap: Snap | null,
  measured: ReadonlyMap<number, readonly number[]>,
  moved: boolean,
  stated: ReadonlyMap<number, readonly number[] | null>,
): (frame: number) => number[] | null {
  return (frame) => {
    const own =
      (moved ? measured.get(frame) : null) ?? stated.get(frame) ?? (moved || snap ? measured.get(frame) : null) ?? null;
    return own && own.map((b, c) => Math.hypot(b, snap?.bounds[c] ?? 0));
  };
}

function sideReport(side: string, snapped: Snap['sides'][number] | null, place: (at: Point) => Point): object {
  const border = snapped?.border;
  if (!border) return { side, found: false };
  return {
    side,
    found: true,
    bound: round(Math.max(...border.bounds)),
    support: round(border.support),
    contrast: round(border.contrast),
    borders: snapped.choices.length,
    from: place(border.line.from).map(round),
    to: place(border.line.to).map(round),
  };
}

function saidOfSides({ sides }: Snap): string {
  const found = sides.flatMap((s) => (s.border ? [mean(s.border.bounds)] : []));
  const blind = SIDE_NAMES.filter((_, k) => !sides[k]!.border);
  return `${found.length > 0 ? `, ± ${mean(found).toFixed(2)} px` : ''}${blind.length > 0 ? `; no border seen at the ${blind.join(', ')}` : ''}`;
}

const round = (v: number) => Number(v.toFixed(4));
