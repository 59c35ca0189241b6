import type { CodedPicture } from '../../base/image/picture.ts';
import type { LayTask } from '../../base/kernels/composite-kernels.ts';
import { lightReader, type PlateColour } from '../../base/image/plate-colour.ts';
import { primariesMatrix } from '../../base/image/primaries.ts';
import type { PixelBox } from '../../base/image/pixel-box.ts';
import { filledBlocks } from '../matte/coarse-fill.ts';
import type { FrontMatte } from '../matte/front-of-frame.ts';
import { applyHueTable, changeColour, hueTable } from '../matte/hue-curves.ts';
import { replaceSpill, spillValues, SPILL_DEFAULTS, type LightRows, type NewLight } from '../matte/despill.ts';
import type { SpillSettings } from '../../base/schemas/types.ts';
import type { WriteLight } from '../../base/image/code-writer.ts';

type Planes = readonly [Float32Array, Float32Array, Float32Array];

/** An insert's premultiplied light over a front's box. */
export interface BoxContent {
  readonly planes: Planes;
  readonly alpha: Float32Array;
}

/** Where and how much spilled light is worked on, and windows of their own change. */
export interface SpillWork {
  readonly settings: SpillSettings;
  readonly screen: readonly [number, number, number];
  readonly box: PixelBox;
  /** How much at each pixel of the box, and 1 where what has the screen's colour has it from the screen. */
  readonly weight: Float32Array;
  readonly near: Float32Array;
  readonly areas: readonly { readonly saturation: number; readonly hue: number; readonly weight: Float32Array }[];
}

/**
 * Works on the spill over its own box, of which the front's is a part; what is beyond the front's is written into the picture here, what is within it is
 * given back in `front3`.
 */
export function laySpill(
  plate: CodedPicture,
  colour: PlateColour,
  matte: FrontMatte,
  front3: Planes,
  { settings, screen, box, weight, near, areas }: SpillWork,
  content: BoxContent | null,
  write: WriteLight,
): void {
  const width = box.right - box.left;
  const height = box.bottom - box.top;
  const table = settings.hues && settings.hues.length > 0 ? hueTable(settings.hues) : null;
  const after =
    !table && areas.length === 0
      ? undefined
      : (row: number, light: Planes) => {
          const from = row * width;
          const to = from + width;
          if (table) applyHueTable(light, weight.subarray(from, to), table);
          for (const area of areas)
            for (let col = 0, i = from; col < width; col++, i++)
              if (area.weight[i]! > 0)
                changeColour(light, col, area.weight[i]! * area.hue, 1 + area.weight[i]! * (area.saturation - 1));
        };
  replaceSpill(
    plateRows(plate, colour, matte, front3, box, write),
    { width, height, weight, near },
    screen,
    settings,
    content && newLight(settings, content, matte, box),
    after,
  );
}

/** The same as work for the compiled loops; undefined where they cannot do it: colours that change by hue or area, light that differs from place to place, or a box that does not hold the front's. */
export function spillTask(
  { settings, screen, box, weight, near, areas }: SpillWork,
  front: PixelBox,
): LayTask['spill'] | undefined {
  const {
    channels: { main, others },
    ...told
  } = spillValues(screen, settings);
  const replace = settings.replace ?? SPILL_DEFAULTS.replace;
  if (
    replace === 'nearest' ||
    (settings.hues?.length ?? 0) > 0 ||
    areas.length > 0 ||
    front.left < box.left ||
    front.top < box.top ||
    front.right > box.right ||
    front.bottom > box.bottom
  )
    return undefined;
  return told.share > 1e-6 ? { box, weight, near, channels: [main, ...others], ...told, screen, replace } : null;
}

/** The plate's light over the spill's box with what is in front in place of it where the two meet. */
function plateRows(
  plate: CodedPicture,
  colour: PlateColour,
  { box, region: { width: across } }: FrontMatte,
  front3: Planes,
  own: PixelBox,
  write: WriteLight,
): LightRows {
  const width = own.right - own.left;
  const toLight = lightReader(colour.transfer, plate.peak);
  const matrix = primariesMatrix(colour.primaries, 'bt709');
  const { data } = plate;
  const left = Math.max(0, box.left - own.left);
  const right = Math.min(width, box.right - own.left);
  const before = [new Float32Array(width), new Float32Array(width), new Float32Array(width)] as const;
  const shared = (row: number) => right > left && row + own.top >= box.top && row + own.top < box.bottom;
  const mine = (row: number) => (row + own.top - box.top) * across + left + own.left - box.left;
  const read = (row: number, [red, green, blue]: Planes): void => {
    const skips = shared(row);
    for (let col = 0, at = ((own.top + row) * plate.width + own.left) * 3; col < width; col++, at += 3) {
      if (skips && col === left) {
        at += 3 * (right - left);
        col = right;
        if (col >= width) break;
      }
      red[col] = toLight(data[at]!);
      green[col] = toLight(data[at + 1]!);
      blue[col] = toLight(data[at + 2]!);
      if (!matrix) continue;
      const r = red[col]!;
      const g = green[col]!;
      const b = blue[col]!;
      red[col] = matrix[0] * r + matrix[1] * g + matrix[2] * b;
      green[col] = matrix[3] * r + matrix[4] * g + matrix[5] * b;
      blue[col] = matrix[6] * r + matrix[7] * g + matrix[8] * b;
    }
    if (skips)
      [red, green, blue].forEach((plane, c) =>
        plane.set(front3[c]!.subarray(mine(row), mine(row) + right - left), left),
      );
  };
  return {
    read,
    write: (row, light) => {
      read(row, before);
      const [r, g, b] = light;
      const skips = shared(row);
      for (let col = 0, at = ((own.top + row) * plate.width + own.left) * 3; col < width; col++, at += 3) {
        if (skips && col >= left && col < right) continue;
        if (r[col] !== before[0][col] || g[col] !== before[1][col] || b[col] !== before[2][col])
          write(at, r[col]!, g[col]!, b[col]!);
      }
      if (!skips) return;
      for (
        let col = left, i = mine(row), at = ((own.top + row) * plate.width + own.left + left) * 3;
        col < right;
        col++, i++, at += 3
      ) {
        if (r[col] === before[0][col] && g[col] === before[1][col] && b[col] === before[2][col]) continue;
        write(at, r[col]!, g[col]!, b[col]!);
        front3[0][i] = r[col]!;
        front3[1][i] = g[col]!;
        front3[2][i] = b[col]!;
      }
    },
  };
}

/** Finer than so many pixels the nearest light does not follow the content: it comes from all around. */
const NEAR = 32;

function newLight(
  { replace = SPILL_DEFAULTS.replace }: SpillSettings,
  { planes, alpha }: BoxContent,
  { box, region: { width: across, height: down } }: FrontMatte,
  own: PixelBox,
): NewLight | null {
  if (replace === 'none') return null;
  if (replace === 'nearest') {
    const width = own.right - own.left;
    const height = own.bottom - own.top;
    const dx = box.left - own.left;
    const dy = box.top - own.top;
    const wide = [0, 1, 2, 3].map(() => new Float32Array(width * height));
    for (let row = Math.max(0, -dy); row < Math.min(down, height - dy); row++) {
      for (let col = Math.max(0, -dx); col < Math.min(across, width - dx); col++) {
        const i = row * across + col;
        const at = (row + dy) * width + col + dx;
        const a = alpha[i]!;
        for (let c = 0; c < 3; c++) wide[c]![at] = a > 0 ? planes[c]![i]! / a : 0;
        wide[3]![at] = a;
      }
    }
    return filledBlocks(wide.slice(0, 3), wide[3]!, width, height, NEAR) as unknown as NewLight;
  }
  let total = 0;
  const sum = [0, 0, 0];
  for (let i = 0; i < alpha.length; i++) {
    total += alpha[i]!;
    for (let c = 0; c < 3; c++) sum[c]! += planes[c]![i]!;
  }
  return total > 0 ? [sum[0]! / total, sum[1]! / total, sum[2]! / total] : null;
}
