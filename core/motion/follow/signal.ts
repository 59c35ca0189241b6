import { plainKernels } from '../../base/kernels/index.ts';
import { codeToLight } from '../../base/image/transfer.ts';
import { createPlane, type Plane } from '../../base/image/plane.ts';

/**
 * What the follower looks at: the square root of (light + ε). Close to the eye's and the camera's own
 * coding, so that noise is about equally strong everywhere, and light is one squaring away, which is
 * what blur has to be averaged in.
 */
export const DARK_OFFSET = 0.005;

const tables = new Map<number, Float32Array>();

/** What the kernels take as a table: light + ε of every luma code 0…peak. */
export function signalTable(peak: number): Float32Array {
  let table = tables.get(peak);
  if (!table) {
    table = new Float32Array(peak + 1);
    for (let code = 0; code <= peak; code++) table[code] = codeToLight(code / peak) + DARK_OFFSET;
    tables.set(peak, table);
  }
  return table;
}

/**
 * The signal of a picture of luma codes (full range, 0…peak). The light is smoothed by 1-2-1 in both directions before
 * the root is taken: sub-pixel interpolation is only honest on a picture without detail at the sampling limit, and a root
 * taken first would bend hard edges by where they lie between the pixels.
 */
export function signalFromLuma(
  codes: Uint8Array | Uint16Array,
  width: number,
  height: number,
  peak: 255 | 65535,
): Plane {
  if (codes.length !== width * height)
    throw new RangeError(`${codes.length} luma codes do not fill ${width}×${height}`);
  const out = createPlane(width, height);
  plainKernels.open(0).signal(codes, width, height, signalTable(peak), out.data);
  return out;
}
