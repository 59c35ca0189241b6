import { clamp } from '../../base/geometry/clamp.ts';
import { numberAt } from '../../base/time/keyframes.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import { lightReader, lightWriter, type PlateColour } from '../../base/image/plate-colour.ts';
import { codeToLight, lightToCode } from '../../base/image/transfer.ts';
import type { PixelBox } from '../../base/image/pixel-box.ts';
import { compositeKernels } from '../../base/kernels/composite-kernels.ts';
import type { Grain } from '../../base/schemas/types.ts';
import { grainAt, grainField, unitKernel } from './grain-field.ts';

const LEVELS = 256;

/**
 * Lays grain on what a picture shows of the content, in display-referred codes. `shown` is how much of each pixel of the box that is: the rest
 * has the plate's own grain, and variances add. What is rounded to codes later adds a twelfth of a code's square, which is left out here.
 */
export function layGrain(
  out: CodedPicture,
  shown: Float32Array,
  box: PixelBox,
  grain: Grain,
  frame: number,
  colour: PlateColour,
): void {
  const amount = Math.max(0, numberAt(grain.amount ?? 1, frame));
  if (amount === 0) return;
  const size = grain.size ?? [0, 0];
  const together = grain.together ?? 0;
  const seed = frame * 4;
  const own = Math.sqrt(1 - together);
  const shared = Math.sqrt(together);
  const plain = colour.transfer === 'srgb' && out.peak !== 1;
  const rounding = out.peak === 255 ? 1 / 12 / (255 * 255) : 0;
  const tables = ([0, 1, 2] as const).map((c) =>
    Float32Array.from({ length: LEVELS + 1 }, (_, k) =>
      Math.sqrt(Math.max(0, (amount * grainAt(grain, k / LEVELS, c)) ** 2 - rounding)),
    ),
  );
  if (
    plain &&
    out.peak === 255 &&
    compositeKernels()?.grain({
      codes: out.data as Uint8Array,
      pictureWidth: out.width,
      box,
      shown,
      across: unitKernel(size[0]),
      down: unitKernel(size[1]),
      seed,
      own,
      shared,
      tables,
    })
  )
    return;
  const fields = [1, 2, 3].map((c) => grainField(box, size, seed + c));
  const common = together > 0 ? grainField(box, size, seed) : null;
  const toLight = lightReader(colour.transfer, out.peak);
  const toCode = lightWriter(colour.transfer, out.peak);
  for (let row = box.top, i = 0; row < box.bottom; row++) {
    for (let col = box.left, at = (row * out.width + box.left) * 3; col < box.right; col++, i++, at += 3) {
      const share = shown[i]!;
      if (share <= 0) continue;
      const part = Math.sqrt(share * (2 - share));
      for (let c = 0; c < 3; c++) {
        const code = plain ? out.data[at + c]! / out.peak : lightToCode(Math.max(0, toLight(out.data[at + c]!)));
        const n = common ? own * fields[c]![i]! + shared * common[i]! : fields[c]![i]!;
        const level = clamp(code * LEVELS, 0, LEVELS) | 0;
        const noisy = code + part * n * tables[c]![level]!;
        out.data[at + c] = plain
          ? clamp(Math.round(noisy * out.peak), 0, out.peak)
          : toCode(codeToLight(Math.max(0, noisy)));
      }
    }
  }
}
