import { clamp } from '../../base/geometry/clamp.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { applyToPoint, type Point } from '../../base/geometry/homography.ts';
import { distance } from '../../base/geometry/quad.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import type { PlateColour } from '../../base/image/plate-colour.ts';
import { coverageOf } from '../matte/coverage.ts';
import { codesOfLight } from '../composite/layer-pictures.ts';
import { alignPair, type AlignPlan } from './align-pair.ts';
import { lightOfWhole, meeting, type Join } from './join-pictures.ts';
import { warpLight } from './warp-light.ts';

/** What is left between two pictures once they meet half way: px over the region, and the difference of their means in levels of 255. */
export interface JumpLeft {
  readonly px: number | null;
  readonly levels: number;
}

export async function jumpLeft(
  a: CodedPicture,
  b: CodedPicture,
  { map, gains }: Pick<Join, 'map' | 'gains'>,
  colour: PlateColour,
  region: readonly Point[],
  plan: AlignPlan,
): Promise<JumpLeft> {
  const { width, height } = a;
  const to = meeting(map, 0.5, width, height);
  const first = to && warpLight(lightOfWhole(a, colour), width, height, to.first);
  const second = to && warpLight(lightOfWhole(b, colour), width, height, to.second);
  if (!to || !first || !second) return { px: null, levels: 0 };
  const there = region.map((p) => applyToPoint(to.first, p));
  const { data: inside } = coverageOf([there], { left: 0, top: 0, right: width, bottom: height });
  const codes = (
    [
      [first, 0.5],
      [second, -0.5],
    ] as const
  ).map(([{ planes }, power]) => {
    const light = new Float32Array(3 * width * height);
    for (let at = 0; at < width * height; at++)
      for (let c = 0; c < 3; c++) light[3 * at + c] = planes[c as 0][at]! * gains[c]! ** power;
    return codesOfLight(light, 3, colour, a.peak);
  }) as [CodedPicture['data'], CodedPicture['data']];
  let sum = 0;
  let n = 0;
  const seen = (at: number) => inside[at]! >= 1 && first.seen[at]! >= 1 && second.seen[at]! >= 1;
  for (let at = 0; at < width * height; at++)
    if (seen(at)) {
      for (let c = 0; c < 3; c++) sum += codes[1][3 * at + c]! - codes[0][3 * at + c]!;
      n += 3;
    }
  const scale = 255 / (a.peak === 1 ? 1 : a.peak);
  const fit = await alignPair(lumaOf(codes[0], a), lumaOf(codes[1], a), { ...plan, region: there });
  return {
    px: fit && Math.sqrt(there.reduce((s, p) => s + distance(applyToPoint(fit.map, p), p) ** 2, 0) / there.length),
    levels: Math.abs((sum / Math.max(1, n)) * scale),
  };
}

/** Luma of codes as following takes it. Source: ITU-R BT.709-6, item 3.2. */
function lumaOf(codes: CodedPicture['data'], { width, height, peak }: CodedPicture): LumaFrame {
  const most = peak === 255 ? 255 : 65535;
  const scale = peak === 1 ? most : most / peak;
  const out = most === 255 ? new Uint8Array(width * height) : new Uint16Array(width * height);
  for (let at = 0; at < out.length; at++)
    out[at] = clamp(
      Math.round(scale * (0.2126 * codes[3 * at]! + 0.7152 * codes[3 * at + 1]! + 0.0722 * codes[3 * at + 2]!)),
      0,
      most,
    );
  return { width, height, codes: out, peak: most };
}
