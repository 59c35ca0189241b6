import { codeToLight } from '../image/transfer.ts';
import { createPlane, type Plane } from '../image/plane.ts';

/**
 * What the follower looks at: the square root of (light + ε). Close to the eye's and the camera's own
 * coding, so that noise is about equally strong everywhere, and light is one squaring away, which is
 * what blur has to be averaged in.
 */
export const DARK_OFFSET = 0.005;

const signalTables = new Map<number, Float32Array>();

function signalTable(peak: number): Float32Array {
  let table = signalTables.get(peak);
  if (!table) {
    table = new Float32Array(peak + 1);
    for (let code = 0; code <= peak; code++) table[code] = Math.sqrt(codeToLight(code / peak) + DARK_OFFSET);
    signalTables.set(peak, table);
  }
  return table;
}

/**
 * The signal of a picture of luma codes (full range, 0…peak), smoothed by 1-2-1 in both directions:
 * sub-pixel interpolation is only honest on a picture without detail at the sampling limit.
 */
export function signalFromLuma(codes: Uint8Array | Uint16Array, width: number, height: number, peak: 255 | 65535): Plane {
  if (codes.length !== width * height) throw new RangeError(`${codes.length} luma codes do not fill ${width}×${height}`);
  const table = signalTable(peak);
  const raw = new Float32Array(codes.length);
  for (let i = 0; i < raw.length; i++) raw[i] = table[codes[i]!]!;
  return smooth121(raw, width, height);
}

function smooth121(raw: Float32Array, width: number, height: number): Plane {
  const across = new Float32Array(raw.length);
  for (let row = 0; row < height; row++) {
    const base = row * width;
    for (let col = 0; col < width; col++) {
      const at = base + col;
      const left = col > 0 ? raw[at - 1]! : raw[at]!;
      const right = col < width - 1 ? raw[at + 1]! : raw[at]!;
      across[at] = (left + 2 * raw[at]! + right) * 0.25;
    }
  }
  const out = createPlane(width, height);
  for (let row = 0; row < height; row++) {
    const up = row > 0 ? -width : 0;
    const down = row < height - 1 ? width : 0;
    for (let col = 0; col < width; col++) {
      const at = row * width + col;
      out.data[at] = (across[at + up]! + 2 * across[at]! + across[at + down]!) * 0.25;
    }
  }
  return out;
}
