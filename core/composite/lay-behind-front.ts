import type { CodedPicture } from '../image/picture.ts';
import { lightWriter, type PlateColour } from '../image/plate-colour.ts';
import { primariesMatrix } from '../image/primaries.ts';
import type { SpillSettings } from '../schemas/types.ts';
import { channelsOf, excess } from '../matte/colour-key.ts';
import type { FrontMatte } from '../matte/front-of-frame.ts';
import { applyHueCurves, changeColour } from '../matte/hue-curves.ts';
import { pushPull } from '../matte/push-pull.ts';
import { replaceSpill, SPILL_DEFAULTS, type NewLight } from '../matte/spill.ts';
import type { InsertLayer } from './pin-layer.ts';

type Planes = [Float32Array, Float32Array, Float32Array];

/** Where and how much spilled light is worked on, and windows of their own change. */
export interface SpillWork {
  readonly settings: SpillSettings;
  readonly screen: readonly [number, number, number];
  /** How much at each pixel of the front's box, and 1 where what has the screen's colour has it from the screen. */
  readonly weight: Float32Array;
  readonly near: Float32Array;
  readonly areas: readonly { readonly saturation: number; readonly hue: number; readonly weight: Float32Array }[];
}

/** Pixels that are so much in front tell the colours of what is. */
const SOLID = 0.998;

/**
 * Lays the insert behind what stands in front, and over the plate; writes codes into `out`.
 *
 * Of each pixel C = P + M·B, M being how much of it is screen, B the screen's light, the part P of what is in front is what remains: C − M·B. Spilled
 * light is taken off it, then out = P + M·content. Where nothing was keyed the plate behind a soft edge is unknown; there P is a share of the
 * known colours of what is in front, grown outward under the edge. Only pixels that change are written.
 */
export function layBehindFront(matte: FrontMatte, insert: InsertLayer | null, opacity: number, spill: SpillWork | null, edgeReach: number, out: CodedPicture, colour: PlateColour): Float32Array {
  const { box, region: { width, height, planes }, front, limit, screen } = matte, n = width * height, seen = new Float32Array(n);
  const content = insert && contentInBox(insert, matte), front3: Planes = [planes[0].slice(), planes[1].slice(), planes[2].slice()];
  for (let i = 0; i < n; i++) seen[i] = content && content.alpha[i]! > 0 ? (1 - front[i]!) * limit[i]! : 0;
  if (screen) takeScreenOff(front3, screen, seen, matte, edgeReach);
  else growKnownColours(front3, front, seen, width, height, edgeReach);
  if (spill) workOnSpill(front3, spill, content, seen, width, height);
  const toCode = lightWriter(colour.transfer, out.peak), matrix = primariesMatrix('bt709', colour.primaries), light = [0, 0, 0], result = new Float32Array(n);
  for (let row = 0, i = 0; row < height; row++) {
    for (let col = 0, at = ((box.top + row) * out.width + box.left) * 3; col < width; col++, i++, at += 3) {
      const m = seen[i]!;
      if (m <= 0) {
        if (!spill || (spill.weight[i]! <= 0 && spill.areas.every((area) => area.weight[i]! <= 0))) continue;
        if (front3[0][i] === planes[0][i] && front3[1][i] === planes[1][i] && front3[2][i] === planes[2][i]) continue;
      }
      const shown = content ? opacity * content.alpha[i]! : 0;
      for (let c = 0; c < 3; c++) {
        // What of the screen the content does not hide stays: it is faint, faded at its side, or transparent.
        const behind = m <= 0 ? 0 : opacity * content!.planes[c]![i]! + (1 - shown) * (screen ? screen[c]![i]! : planes[c]![i]!);
        light[c] = front3[c]![i]! + m * behind;
      }
      result[i] = m * shown;
      const [r, g, b] = light as [number, number, number];
      for (let c = 0; c < 3; c++) (out.data as Float32Array)[at + c] = toCode(matrix ? matrix[c * 3]! * r + matrix[c * 3 + 1]! * g + matrix[c * 3 + 2]! * b : light[c]!);
    }
  }
  return result;
}

interface BoxContent {
  readonly planes: Planes;
  readonly alpha: Float32Array;
}

/** Less of a pixel than this does not tell what the surface shows there. */
const LEAST_COVER = 0.02;

/** The insert's premultiplied light over the front's box. Where the screen is keyed, the plate tells how much of a pixel is screen: there it is the light of the whole pixel. */
function contentInBox({ layer, box: from, cover }: InsertLayer, { box, screen, region: { width, height } }: FrontMatte): BoxContent {
  const n = width * height, planes: Planes = [new Float32Array(n), new Float32Array(n), new Float32Array(n)], alpha = new Float32Array(n);
  const left = Math.max(box.left, from.left), right = Math.min(box.right, from.right);
  for (let row = Math.max(box.top, from.top); row < Math.min(box.bottom, from.bottom); row++) {
    for (let col = left, i = (row - box.top) * width + left - box.left, at = ((row - from.top) * layer.width + left - from.left) * 4; col < right; col++, i++, at += 4) {
      const covered = cover[at >> 2]!, gain = !screen ? 1 : covered > LEAST_COVER ? 1 / covered : 0;
      planes[0][i] = gain * layer.data[at]!;
      planes[1][i] = gain * layer.data[at + 1]!;
      planes[2][i] = gain * layer.data[at + 2]!;
      alpha[i] = Math.min(1, gain * layer.data[at + 3]!);
    }
  }
  return { planes, alpha };
}

/** C − M·B, never below nothing; on markers, which are no mixture of the two, the share of the colours around. */
function takeScreenOff(front3: Planes, screen: NonNullable<FrontMatte['screen']>, seen: Float32Array, { front, marked, region: { width, height } }: FrontMatte, edgeReach: number): void {
  for (let c = 0; c < 3; c++) {
    const plane = front3[c]!, behind = screen[c]!;
    for (let i = 0; i < plane.length; i++) {
      const m = seen[i]!;
      if (m <= 0) continue;
      const rest = plane[i]! - m * behind[i]!;
      plane[i] = front[i]! <= 0 || rest < 0 ? 0 : rest;
    }
  }
  holdToKnown(front3, front, seen, marked, screen, width, height, edgeReach);
}

/**
 * Under a soft edge the share of what is in front keeps the hue of the solid parts beside it: its excess in the screen's channel is held to theirs.
 * On markers the whole colour is theirs.
 */
function holdToKnown(front3: Planes, front: Float32Array, seen: Float32Array, marked: Float32Array | null, screen: Planes | NonNullable<FrontMatte['screen']>, width: number, height: number, edgeReach: number): void {
  if (edgeReach <= 0 && !marked) return;
  const solid = new Float32Array(front.length);
  let soft = false;
  for (let i = 0; i < front.length; i++) {
    solid[i] = front[i]! >= SOLID ? 1 : 0;
    soft ||= seen[i]! > 0 && front[i]! > 0;
  }
  if (!soft) return;
  const known = pushPull(front3, solid, width, height) as Planes, { main, others: [a, b] } = channelsOf([screen[0][0]!, screen[1][0]!, screen[2][0]!]);
  for (let i = 0; i < front.length; i++) {
    const share = front[i]!;
    if (seen[i]! <= 0 || share <= 0) continue;
    if (marked && marked[i]! > 0) {
      for (let c = 0; c < 3; c++) front3[c]![i] = share * known[c]![i]!;
      continue;
    }
    const most = Math.max(0, share * excess(known[main][i]!, known[a][i]!, known[b][i]!, 0.5)), over = excess(front3[main][i]!, front3[a][i]!, front3[b][i]!, 0.5) - most;
    if (over > 0) front3[main][i] = Math.max(0, front3[main][i]! - over);
  }
}

/** Without a known screen: solid parts keep the plate's light, soft ones take a share of the colours grown outward from them. */
function growKnownColours(front3: Planes, front: Float32Array, seen: Float32Array, width: number, height: number, edgeReach: number): void {
  const solid = new Float32Array(front.length);
  let soft = false, any = false;
  for (let i = 0; i < front.length; i++) {
    if (front[i]! >= SOLID) {
      solid[i] = 1;
      any = true;
    } else soft ||= front[i]! > 0 && seen[i]! > 0;
  }
  const known = soft && any && edgeReach > 0 ? pushPull(front3, solid, width, height) : front3;
  for (let c = 0; c < 3; c++) {
    const plane = front3[c]!, from = known[c]!;
    for (let i = 0; i < front.length; i++) if (seen[i]! > 0) plane[i] = (front[i]! <= 0 ? 0 : front[i]! >= SOLID ? front[i]! * plane[i]! : front[i]! * from[i]!) + (1 - front[i]! - seen[i]!) * plane[i]!;
  }
}

function workOnSpill(front3: Planes, { settings, screen, weight, near, areas }: SpillWork, content: BoxContent | null, seen: Float32Array, width: number, height: number): void {
  replaceSpill(front3, { width, height, weight, near }, screen, settings, content && newLight(settings, content, seen, width, height));
  if (settings.hues) applyHueCurves(front3, weight, settings.hues);
  for (const area of areas) {
    for (let i = 0; i < weight.length; i++) if (area.weight[i]! > 0) changeColour(front3, i, area.weight[i]! * area.hue, 1 + area.weight[i]! * (area.saturation - 1));
  }
}

/** Finer than 2^this pixels the nearest light does not follow the content: it comes from all around. */
const NEAR = 5;

function newLight({ replace = SPILL_DEFAULTS.replace }: SpillSettings, { planes, alpha }: BoxContent, seen: Float32Array, width: number, height: number): NewLight | null {
  if (replace === 'none') return null;
  if (replace === 'nearest') return pushPull(planes.map((plane) => plane.map((v, i) => (alpha[i]! > 0 ? v / alpha[i]! : 0))), alpha, width, height, NEAR) as unknown as NewLight;
  let total = 0;
  const sum = [0, 0, 0];
  for (let i = 0; i < seen.length; i++) {
    total += alpha[i]!;
    for (let c = 0; c < 3; c++) sum[c]! += planes[c]![i]!;
  }
  return total > 0 ? [sum[0]! / total, sum[1]! / total, sum[2]! / total] : null;
}
