import type { LumaFrame } from '../../core/base/image/luma-frame.ts';
import { homographyBetweenQuads } from '../../core/base/geometry/estimate-homography.ts';
import { compose, translation } from '../../core/base/geometry/homography.ts';
import { codeToLight, lightToCode } from '../../core/base/image/transfer.ts';
import { lightPicture } from '../../core/base/image/light-sampler.ts';
import { matchCorner, movementOf } from '../../core/surface/seat/match-reference.ts';
import { randomFrom } from '../../demo/scene/random.ts';
import { quadOf, type Condition } from './condition.ts';

/** Faster corners are not asked of a match, px over the shutter. */
const MOST_BLUR = 10;

/** The same picture with so many stops more light. */
function exposed(frame: LumaFrame, stops: number): LumaFrame {
  if (stops === 0) return frame;
  const table = Float64Array.from(
    { length: frame.peak + 1 },
    (_, code) => frame.peak * lightToCode(Math.min(1, codeToLight(code / frame.peak) * 2 ** stops)),
  );
  const codes = frame.codes.slice();
  for (let i = 0; i < codes.length; i++) codes[i] = Math.round(table[codes[i]!]!);
  return { ...frame, codes };
}

export interface MatchAccuracy {
  readonly distances: number[];
  refused: number;
  asked: number;
}

/** Matches every corner of the frames that `only` lets through, each seated up to 1.5 px off. */
export function matchAccuracy(
  { truth, luma, corners }: Condition,
  stops: number,
  only: (frame: number) => boolean = () => true,
): MatchAccuracy {
  const random = randomFrom(3);
  const result: MatchAccuracy = { distances: [], refused: 0, asked: 0 };
  const { referenceFrame } = truth;
  const reference = lightPicture(luma[referenceFrame]!);
  const way = (frame: number, corner: number) =>
    movementOf(
      truth.frames[frame - 1]?.corners[corner] ?? null,
      truth.frames[frame + 1]?.corners[corner] ?? null,
      truth.shutter / 360,
    );
  for (const { frame } of truth.frames) {
    const offs = corners.map(() => [3 * (random() - 0.5), 3 * (random() - 0.5)] as const);
    if (frame === referenceFrame || !only(frame)) continue;
    const map = homographyBetweenQuads(corners, quadOf(truth, frame))!;
    const picture = lightPicture(exposed(luma[frame]!, stops));
    corners.forEach((corner, c) => {
      if (Math.hypot(...way(frame, c)) > MOST_BLUR) return;
      const [dx, dy] = offs[c]!;
      const match = matchCorner(reference, picture, compose(map, translation(dx, dy)), corner, {
        onFrame: way(frame, c),
        onReference: way(referenceFrame, c),
      });
      result.asked++;
      if (!match.ok) result.refused++;
      else result.distances.push(Math.hypot(match.dx + dx, match.dy + dy));
    });
  }
  return result;
}
