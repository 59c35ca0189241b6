import { clamp } from '../../base/geometry/clamp.ts';
import { kelvinOf, tintOf } from '../blend/white-point.ts';
import type { MeasuredFront } from '../look/look.ts';
import { grownOutline } from '../../base/geometry/grow-outline.ts';
import { distance } from '../../base/geometry/quad.ts';
import { median, nearestRank } from '../../base/image/statistics.ts';
import { framesToMeasure } from '../matte/frames-to-measure.ts';
import { codeToLight, lightToCode } from '../../base/image/transfer.ts';
import type { Look, LookReason } from '../../base/schemas/types.ts';
import { sparseKeys, withoutSpikes } from './exposure-curve.ts';
import { frontReasons } from './front-reasons.ts';
import { reason } from './look-reason.ts';
import { screenTop, type LookFindings } from './measure-look.ts';
import { luminanceOf } from './plane-cells.ts';
import type { MeasuredShot } from '../pin/measured-shot.ts';

/** What is taken where nothing could be measured: common practice, no source. */
const USUAL = { black: 0.07, white: 0.85, soften: 1.2, shutter: 180 } as const;
/** Levels that end above this lie beyond what the plate records. Display-referred. */
const BRIGHTEST = 0.97;
/** Light that changes by less than this over a shot stays; keys are left out that a line tells to within so much. Stops. */
const LEAST_CHANGE = 0.06;
const KEY_WITHIN = 0.012;
/** A screen whose light leaves the room's by more than this, on so many frames, is followed itself. */
const OWN_CHANGE = 0.12;
const OWN_SHARE = 0.05;
/** So much of a lit screen must differ on some frame, darker as well as brighter, for something to stand before it. */
const CROSSED = 0.02;
/** Softness that changes by more than this share, and px, over a shot is keyed. */
const FOCUS_SHARE = 0.2;
const FOCUS_PX = 0.15;
/** A disc must leave this much less of the edges than a gaussian. */
const DISC_BETTER = 0.85;
/** So many pieces of borders are marked at the most. */
const MOST_MARKED = 160;
/** Reflections fainter than this, light, are not worth their noise. */
const FAINT = 0.0015;

type Reasons = Record<string, LookReason>;

/** A whole look from what was measured, with the reason for each value under its place in the look. */
export function proposeLook(found: LookFindings, front: MeasuredFront, shot: MeasuredShot): Look & { why: Reasons } {
  const why: Reasons = {};
  const keyed = front.keys.length > 0;
  const look: Look = { why };
  proposeExposure(look, why, found, keyed);
  proposeLevels(look, why, withinRange(look, why, found), shot);
  proposeSoftness(look, why, found);
  proposeShutter(look, why, found);
  proposeGrain(look, why, found);
  proposeFront(look, why, found, front, shot);
  proposeReflections(look, why, found, front);
  if (!keyed) {
    look.oldScreen = 'edges';
    why.oldScreen = reason(
      found.dark
        ? "The dark screen's own light is known: it is taken off where content covers a pixel in part."
        : 'What the screen shows stays the same: it is taken off where content covers a pixel in part, so that no rim of it is left.',
      found.dark ? 0.9 : 0.7,
      [found.home],
    );
  }
  return look as Look & { why: Reasons };
}

const round = (v: number, digits: number) => Number(v.toFixed(digits));

/** Levels that would end above what the plate records on the frame that light is compared with are measured at less light, and all exposures at as much more. */
function withinRange(look: Look, why: Reasons, found: LookFindings): LookFindings {
  const { levels } = found;
  if (!levels || levels.white <= BRIGHTEST || !Array.isArray(look.exposure)) return found;
  const stops = round(Math.log2(codeToLight(levels.white) / codeToLight(USUAL.white)), 3);
  const dimmed = (code: number) => lightToCode(codeToLight(code) * 2 ** -stops);
  look.exposure = keyedBy(look.exposure.map(({ frame, value }) => [frame, value + stops]));
  why.exposure = {
    ...why.exposure!,
    says: `${why.exposure!.says} Frame ${found.home} is brighter than the plate records: levels are measured at ${round(stops, 2)} stops less.`,
  };
  return { ...found, levels: { ...levels, black: dimmed(levels.black), white: dimmed(levels.white) } };
}

/** What is seen around a screen bounds its black and white from within: a lit screen may show neither. Usual values are taken where what is seen leaves room for them. */
function proposeLevels(look: Look, why: Reasons, { levels, home, dark }: LookFindings, shot: MeasuredShot): void {
  if (!levels) {
    look.levels = { black: USUAL.black, white: USUAL.white };
    why['levels/black'] = why['levels/white'] = reason(
      `Too little is seen around the screen to measure by: ${USUAL.black} and ${USUAL.white} are usual near an indoor screen (common practice).`,
      0.2,
    );
    return;
  }
  // Where light changes over a shot, and no screen is lit to tell by, the usual white belongs to no frame: what is seen around goes with the light.
  const belongsNowhere = dark && Array.isArray(look.exposure);
  const low = Math.min(0.3, levels.black);
  const over = levels.clipped > 0.1;
  const black = dark ? low : Math.min(low, USUAL.black);
  const high = Math.max(black + 0.3, Math.min(1, levels.white));
  const white = over || belongsNowhere ? high : Math.max(high, USUAL.white);
  look.levels = { black: round(black, 3), white: round(white, 3) };
  const quad = shot.quads.get(home)!;
  const wide = distance(quad[0], quad[1]);
  const places = [
    {
      frame: home,
      points: grownOutline(quad, 0.3 * wide).map(([x, y]): [number, number] => [round(x, 1), round(y, 1)]),
    },
  ];
  const many = levels.places > 600;
  const seen = (end: string, at: number) =>
    `The ${end} 1.5 % of ${levels.places} places around the screen, evened out by exposure, lie at ${round(at, 3)} (display-referred)`;
  const room = (usual: number) =>
    `; nothing seen shows what this screen ends at, so that the usual ${usual} is taken (common practice).`;
  why['levels/black'] = {
    ...reason(
      black < low ? `${seen('darkest', low)}${room(USUAL.black)}` : `${seen('darkest', low)}.`,
      black < low ? 0.5 : many ? 0.8 : 0.5,
      [home],
    ),
    places,
  };
  const tint = tintOf(levels.bright);
  const kelvin = kelvinOf(tint);
  why['levels/tint'] = {
    ...reason(
      `The brightest places around the screen are coloured ${tint.map((v) => round(v, 2)).join(' / ')} (red, green, blue), as white of about ${Math.round(kelvin / 50) * 50} K would be; a screen of its own light has a white of its own, so that this is taken only as asked.`,
      over ? 0.1 : 0.35,
      [home],
    ),
    places,
    tint: tint.map((v) => round(v, 4)) as [number, number, number],
  };
  why['levels/white'] = {
    ...reason(
      over
        ? `The surroundings are overexposed: ${Math.round(100 * levels.clipped)} % of the places are as bright as the plate records, so that white is no more than ${round(white, 3)}.`
        : white > high
          ? `${seen('brightest', high)}${room(USUAL.white)}`
          : `${seen('brightest', high)}.`,
      over ? 0.3 : white > high ? 0.45 : many ? 0.7 : 0.4,
      [home],
    ),
    places,
  };
}

function proposeExposure(look: Look, why: Reasons, { lights, dark }: LookFindings, keyed: boolean): void {
  const frames = lights.map((l) => l.frame);
  const around = filled(lights.map((l) => (l.around && l.around.agree > 0.15 ? l.around.stops : null)));
  const screen = dark ? null : filled(lights.map((l) => (l.screen && l.screen.agree > 0.25 ? l.screen.stops : null)));
  const agreeing = median(lights.flatMap((l) => (l.around ? [l.around.agree] : [])));
  const own = screen && (around ? screen.map((s, i) => s - around[i]!) : screen);
  const leads =
    own !== null &&
    median(lights.flatMap((l) => (l.screen ? [l.screen.agree] : []))) > 0.4 &&
    rangeOf(own) > 2 * OWN_CHANGE &&
    shareAway(own) > OWN_SHARE;
  if (leads) {
    // A screen that goes on and off steps: no frame of it is a spike.
    const top = screenTop(lights);
    const curve = screen!.map((s) => s - top);
    const keys = sparseKeys(
      frames.map((f, i) => [f, curve[i]!]),
      KEY_WITHIN,
    );
    look.exposure = keyedBy(keys);
    why.exposure = reason(
      `The ${keyed ? 'keyed ' : ''}screen's own light changes by ${round(rangeOf(own), 2)} stops against the room's: the content follows the screen, ${keys.length} keys.`,
      0.8,
      keys.map(([f]) => f),
    );
    return;
  }
  if (!around || frames.length < 2) return;
  const curve = withoutSpikes(around);
  if (rangeOf(curve) < LEAST_CHANGE) {
    why.exposure = reason(
      `The light around the screen stays within ${round(rangeOf(curve), 3)} stops over the shot: nothing to follow.`,
      agreeing,
      [frames[0]!, frames.at(-1)!],
    );
    return;
  }
  const keys = sparseKeys(
    frames.map((f, i) => [f, curve[i]!]),
    KEY_WITHIN,
  );
  look.exposure = keyedBy(keys);
  why.exposure = reason(
    `The light around the screen changes by ${round(rangeOf(curve), 2)} stops over the shot, on ${Math.round(100 * agreeing)} % of the places alike: ${keys.length} keys.`,
    0.5 + agreeing / 2,
    keys.map(([f]) => f),
  );
}

const keyedBy = (keys: readonly (readonly [number, number])[]): NonNullable<Look['exposure']> =>
  keys.map(([frame, value]) => ({ frame, value: round(value, 4) })) as NonNullable<Look['exposure']>;
const rangeOf = (values: readonly number[]) => Math.max(...values) - Math.min(...values);
const shareAway = (values: readonly number[]) =>
  values.filter((v) => Math.abs(v - median(values)) > OWN_CHANGE).length / values.length;

/** Gaps led over; null where nothing is known. */
function filled(values: readonly (number | null)[]): number[] | null {
  const known = values.flatMap((v, i) => (v === null ? [] : [i]));
  if (known.length === 0 || known.length < 0.4 * values.length) return null;
  return values.map((v, i) => {
    if (v !== null) return v;
    const before = known.filter((k) => k < i).at(-1);
    const after = known.find((k) => k > i);
    const at = (k: number) => values[k]!;
    return before === undefined
      ? at(after!)
      : after === undefined
        ? at(before)
        : at(before) + ((i - before) / (after - before)) * (at(after) - at(before));
  });
}

function proposeSoftness(look: Look, why: Reasons, { softness }: LookFindings): void {
  if (softness.length === 0) {
    look.soften = USUAL.soften;
    why.soften = reason(
      `No straight border of the device is seen well enough: ${USUAL.soften} px is usual for a device in focus, HD (common practice).`,
      0.15,
    );
    return;
  }
  const sigmas = softness.map((s) => s.sigma);
  const usual = median(sigmas);
  const frames = softness.map((s) => s.frame);
  const pieces = softness.reduce((n, s) => n + s.edges.length, 0);
  const off = median(softness.map((s) => s.off));
  const discs = softness.flatMap((s) =>
    s.edges.flatMap((e) => (e.disc ? [{ radius: e.disc.radius, better: e.disc.left / Math.max(1e-6, e.left) }] : [])),
  );
  const marked = Math.ceil(pieces / MOST_MARKED);
  const places = softness
    .flatMap(({ frame, edges }) => edges.map(({ from, to }) => ({ frame, points: ribbon(from, to) })))
    .filter((_, i) => i % marked === 0);
  const smooth = withoutSpikes(sigmas);
  const changes = rangeOf(smooth) > Math.max(FOCUS_PX, FOCUS_SHARE * usual) && rangeOf(smooth) > 4 * off;
  if (!changes && usual > 1 && discs.length > 0.5 * pieces && median(discs.map((d) => d.better)) < DISC_BETTER) {
    const radius = median(discs.map((d) => d.radius));
    look.disc = round(radius, 2);
    look.soften = 0.3;
    why.disc = why.soften = {
      ...reason(
        `${pieces} pieces of the device's straight borders on ${softness.length} frames spread as out of focus, a disc of ${round(radius, 2)} px.`,
        0.8,
        frames,
      ),
      places,
    };
    return;
  }
  look.soften = changes
    ? (sparseKeys(
        frames.map((f, i) => [f, smooth[i]!]),
        0.08,
      ).map(([frame, value]) => ({ frame, value: round(value, 2) })) as NonNullable<Look['soften']>)
    : round(usual, 2);
  why.soften = {
    ...reason(
      `${pieces} pieces of the device's straight borders on ${softness.length} frames spread by ${changes ? `${round(Math.min(...smooth), 2)} to ${round(Math.max(...smooth), 2)}` : `${round(usual, 2)}`} px (gaussian σ, the pixel's own and the motion's taken off), ± ${round(off, 2)} px.`,
      Math.max(0.3, 0.95 - 2 * off),
      frames,
    ),
    places,
  };
}

/** A line as a thin outline, for marking. */
function ribbon([ax, ay]: readonly [number, number], [bx, by]: readonly [number, number]): [number, number][] {
  const length = Math.max(1e-6, Math.hypot(bx - ax, by - ay));
  const nx = (-(by - ay) / length) * 1.5;
  const ny = ((bx - ax) / length) * 1.5;
  return [
    [ax + nx, ay + ny],
    [bx + nx, by + ny],
    [bx - nx, by - ny],
    [ax - nx, ay - ny],
  ].map(([x, y]): [number, number] => [round(x!, 1), round(y!, 1)]);
}

function proposeShutter(look: Look, why: Reasons, { shutter, fastest, shutterFrames, lights }: LookFindings): void {
  const blur = shutter ? shutter.open * fastest : 0;
  // What is short and slow cannot be distinguished from what is not smeared at all.
  if (!shutter || (fastest < 16 && blur < 7)) {
    look.motionBlur = { shutter: USUAL.shutter, phase: 0 };
    why['motionBlur/shutter'] = reason(
      lights.length < 2
        ? 'One frame tells no shutter: 180° is taken, half of the frame (usual for film, common practice).'
        : fastest < 16
          ? `The surface moves ${round(fastest, 1)} px a frame at most, too little to tell the shutter by: 180° is taken, half of the frame (usual for film, common practice).`
          : 'No frame is smeared clearly enough to tell the shutter by: 180° is taken, half of the frame (usual for film, common practice).',
      0.3,
    );
    return;
  }
  const degrees = round(clamp(shutter.open, 0, 1.25) * 360, 0);
  look.motionBlur = { shutter: degrees, phase: 0 };
  why['motionBlur/shutter'] = reason(
    `The still device, smeared along its way over trial lengths, fits ${shutter.frames} fast ${shutter.frames === 1 ? 'frame' : 'frames'} best at ${degrees}° ± ${Math.ceil(shutter.off * 360)}°.`,
    Math.max(0.4, 0.95 - 4 * shutter.off),
    shutterFrames,
  );
}

function proposeGrain(look: Look, why: Reasons, { grain, grainFrames }: LookFindings): void {
  if (!grain) {
    why.grain = reason(
      'Nothing flat is seen to measure grain by: none is added. Set it by hand where the plate shows some.',
      0.1,
      grainFrames,
    );
    return;
  }
  const { levels, size = [0, 0], together = 0 } = grain.grain;
  const middle = levels[Math.floor(levels.length / 2)]!;
  look.grain = { ...grain.grain };
  why.grain = reason(
    `${grain.blocks} flat squares on ${grainFrames.length} frames: σ ${middle.sigma.map((s) => round(255 * s, 2)).join(' / ')} of 255 codes at mid level (red, green, blue), ${size[0] === 0 && size[1] === 0 ? 'white' : `smoothed by ${size[0]} × ${size[1]} px`}${together > 0 ? `, ${Math.round(100 * together)} % common to the channels` : ''}; seen from ${round(Math.min(...grain.seen), 2)} to ${round(Math.max(...grain.seen), 2)}.`,
    grain.blocks > 200 ? 0.9 : grain.blocks > 40 ? 0.6 : 0.35,
    grainFrames,
  );
}

function proposeFront(
  look: Look,
  why: Reasons,
  { lights, dark, home }: LookFindings,
  front: MeasuredFront,
  shot: MeasuredShot,
): void {
  if (front.keys.length > 0) {
    look.keys = [...front.keys];
    look.markers = front.markers;
    if (front.spill) look.spill = front.spill;
    Object.assign(
      why,
      frontReasons(
        front,
        framesToMeasure(
          [...shot.quads.keys()].sort((x, y) => x - y),
          (frame) => shot.quads.get(frame),
        ),
        home,
      ),
    );
    return;
  }
  if (dark) return;
  const crossed = lights
    .filter((l) => !l.fast && l.darker > CROSSED && l.darker + l.brighter > 2 * CROSSED)
    .map((l) => l.frame);
  if (crossed.length < 2 && lights.length > 1) return;
  if (crossed.length === 0) return;
  look.difference = {};
  why.difference = reason(
    `On ${crossed.length} frames something hides what the screen shows on frame ${home}: what differs from it stands in front.`,
    0.6,
    crossed,
  );
}

function proposeReflections(
  look: Look,
  why: Reasons,
  { lights, dark, cells }: LookFindings,
  { keys }: MeasuredFront,
): void {
  if (dark) {
    const most = mirroredMost(lights, cells);
    if (!(most > FAINT)) return;
    look.reflections = { from: 'dark' };
    why.reflections = reason(
      `The screen is off, and mirrors up to ${round(most, 3)} of white (light): its light, less what each place of it falls to over the shot, is laid over the content.`,
      0.8,
      lights.map((l) => l.frame).filter((_, i, all) => i % Math.ceil(all.length / 12) === 0),
    );
    return;
  }
  const key = keys[0];
  if (!key) return;
  const found = keyedMirror(lights, cells, key.colour);
  if (!found) return;
  look.reflections = { from: 'key', black: found.black };
  why.reflections = reason(
    `What the keyed screen's colour does not explain reaches ${round(found.most, 3)} of white (light): it is mirrored, and laid over the content.`,
    0.6,
  );
}

/** How much a dark screen mirrors where and when it does most: of what its places are brighter than they fall to, on the tenth of the frames that show most. */
function mirroredMost(lights: LookFindings['lights'], cells: LookFindings['cells']): number {
  const inside = Array.from(cells.inside.keys()).filter((i) => cells.inside[i] === 1);
  const lows = inside.map((i) =>
    nearestRank(
      lights.map(({ light, around }) => luminanceOf(light, i) * 2 ** -(around?.stops ?? 0)).filter((y) => y >= 0),
      0.12,
    ),
  );
  const frames = lights
    .map(({ light, around }) =>
      nearestRank(
        inside.flatMap((i, k) =>
          luminanceOf(light, i) >= 0 ? [luminanceOf(light, i) * 2 ** -(around?.stops ?? 0) - lows[k]!] : [],
        ),
        0.98,
      ),
    )
    .filter((v) => !Number.isNaN(v));
  return nearestRank(frames, 0.9);
}

/** The keyed screen's colour where it mirrors least, and how much it mirrors where it does most; null where that is nothing. */
function keyedMirror(
  lights: LookFindings['lights'],
  cells: LookFindings['cells'],
  colour: readonly number[],
): { black: [number, number, number]; most: number } | null {
  const main = colour.indexOf(Math.max(...colour));
  const others = [0, 1, 2].filter((c) => c !== main) as [number, number];
  const ratios: { a: number; b: number; m: number }[] = [];
  for (const { light } of lights) {
    for (let i = 0; i < cells.u.length; i++) {
      const m = light[3 * i + main]!;
      const a = light[3 * i + others[0]]!;
      const b = light[3 * i + others[1]]!;
      // Of clear screen only: markers and what is in front have little of its colour.
      if (
        cells.inside[i] === 1 &&
        m > 0.4 * colour[main]! &&
        m - (a + b) / 2 > 0.6 * (colour[main]! - (colour[others[0]]! + colour[others[1]]!) / 2)
      )
        ratios.push({ a, b, m });
    }
  }
  if (ratios.length < 100) return null;
  const grey = ratios.map(({ a, b }) => (a + b) / 2);
  const base = nearestRank(grey, 0.08);
  const most = nearestRank(grey, 0.985) - base;
  const low = nearestRank(grey, 0.15);
  const clear = ratios.filter((_, i) => grey[i]! <= low);
  if (!(most > 6 * FAINT)) return null;
  const black: [number, number, number] = [0, 0, 0];
  black[main] = round(median(clear.map((r) => r.m)), 5);
  black[others[0]] = round(median(clear.map((r) => r.a)), 5);
  black[others[1]] = round(median(clear.map((r) => r.b)), 5);
  return { black, most };
}
