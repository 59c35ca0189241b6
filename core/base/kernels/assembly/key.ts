import { coarseAt, coarseRow, filledBlocks } from './coarse';

const FROM: f32 = 0.78, FULLY: f32 = 0.86, UP_TO: f32 = 1.3, SURE: f32 = 0.999;
const FIELD = 8, KNOWN = 2;

function shareOf(gone: f32, floor: f32, ceiling: f32): f32 {
  if (gone <= floor) return 0;
  if (gone >= ceiling) return 1;
  const share = gone / ceiling, from: f32 = floor > 1e-4 ? floor : 1e-4, knee = from < ceiling - floor ? from : ceiling - floor;
  return gone >= floor + knee ? share : (share * (gone - floor)) / knee;
}

/** The excess of three planes, four at a time. */
function excesses(m: usize, a: usize, b: usize, mix: f32, n: usize, out: usize): void {
  const larger = f32x4.splat(mix), smaller = f32x4.splat(1 - mix);
  for (let i: usize = 0; i < n << 2; i += 16) {
    const p = v128.load(a + i), q = v128.load(b + i);
    v128.store(out + i, f32x4.sub(v128.load(m + i), f32x4.add(f32x4.mul(larger, f32x4.pmax(p, q)), f32x4.mul(smaller, f32x4.pmin(p, q)))));
  }
}

/** The lowest of each value and its eight neighbours is marked where it is sure: 1 there, else 0. Returns how many. */
function seeds(matte: usize, width: i32, height: i32, solid: usize): i32 {
  let count = 0;
  for (let row = 0; row < height; row++) {
    for (let col = 0; col < width; col++) {
      const at = matte + (<usize>(row * width + col) << 2);
      let sure = load<f32>(at) >= SURE;
      for (let y = max(0, row - 1), bottom = min(height - 1, row + 1); sure && y <= bottom; y++) {
        for (let x = max(0, col - 1), right = min(width - 1, col + 1); x <= right; x++) {
          if (load<f32>(matte + (<usize>(y * width + x) << 2)) < SURE) {
            sure = false;
            break;
          }
        }
      }
      store<f32>(solid + (<usize>(row * width + col) << 2), sure ? 1 : 0);
      if (sure) count++;
    }
  }
  return count;
}

/**
 * The matte of a key and the light of the screen behind it; the twin of excessPlane, screenField, keyMatte, softEdgeAlpha and fillMarked in ../../matte. Planes
 * are `plane` bytes apart and may be read up to a vector over their end. `order`: which of them are the key's main channel and the two others, two bits each. `marked` is 0 where there is none. `values`: the
 * key's colour, its excess, mix, floor, ceiling. `scratch` takes five planes and a little more.
 */
export function keyFront(planes: usize, plane: usize, width: i32, height: i32, order: i32, inside: usize, marked: usize, values: usize, matte: usize, screen: usize, scratch: usize): void {
  const n = <usize>(width * height), m = planes + plane * <usize>(order & 3), a = planes + plane * <usize>((order >> 2) & 3), b = planes + plane * <usize>((order >> 4) & 3);
  const told = load<f32>(values, 12), mix = load<f32>(values, 16), floor = load<f32>(values, 20), ceiling = load<f32>(values, 24);
  const excess = scratch, weight = excess + plane, more = weight + plane, rest = more + plane;
  excesses(m, a, b, mix, n, excess);
  let clear: f64 = 0;
  for (let i: usize = 0; i < n << 2; i += 4) {
    const share = load<f32>(excess + i) / told, known: f32 = (share < FROM || share > UP_TO ? 0 : share < FULLY ? (share - FROM) / (FULLY - FROM) : 1) * load<f32>(inside + i);
    store<f32>(weight + i, known);
    clear += known;
  }
  // The screen alone, then its excess in place of the weights.
  if (clear < 16) {
    for (let c: usize = 0; c < 3; c++) for (let i: usize = 0; i < n << 2; i += 4) store<f32>(screen + c * plane + i, load<f32>(values + (c << 2)));
  } else {
    const across = (width + FIELD - 1) / FIELD, down = (height + FIELD - 1) / FIELD, cells = <usize>(across * down) << 2;
    filledBlocks(3, planes, plane, weight, width, height, FIELD, more);
    for (let c: usize = 0; c < 3; c++) for (let row = 0; row < height; row++) coarseRow(more + c * cells, across, down, FIELD, row, width, screen + c * plane + (<usize>(row * width) << 2), rest);
  }
  const told4 = weight;
  excesses(screen + (m - planes), screen + (a - planes), screen + (b - planes), mix, n, told4);
  for (let i: usize = 0; i < n << 2; i += 4) {
    const s = load<f32>(told4 + i);
    store<f32>(matte + i, s > 1e-6 ? shareOf(1 - load<f32>(excess + i) / s, floor, ceiling) : 1);
  }
  // Soft edges, by what is in front just there.
  const solid = more, across = (width + KNOWN - 1) / KNOWN, down = (height + KNOWN - 1) / KNOWN;
  if (seeds(matte, width, height, solid) > 0) {
    filledBlocks(1, excess, plane, solid, width, height, KNOWN, rest);
    for (let row = 0, i: usize = 0; row < height; row++) {
      for (let col = 0; col < width; col++, i += 4) {
        const v = load<f32>(matte + i);
        if (v <= 0) continue;
        if (load<f32>(solid + i) == 1) {
          store<f32>(matte + i, 1);
          continue;
        }
        const s = load<f32>(told4 + i), f = coarseAt(rest, across, down, KNOWN, col, row);
        if (s - f > 0.2 * s) store<f32>(matte + i, shareOf((s - load<f32>(excess + i)) / s, floor, (s - f) / s));
      }
    }
  }
  if (!marked) return;
  // Markers: the matte from around them, then what stands beside them; first what is not on one, then what is solid and not on one.
  const free = excess, both = told4, cells = <usize>(across * down) << 2;
  for (let i: usize = 0; i < n << 2; i += 4) store<f32>(free + i, load<f32>(inside + i));
  filledBlocks(1, matte, plane, free, width, height, KNOWN, rest);
  for (let i: usize = 0; i < n << 2; i += 4) {
    store<f32>(solid + i, load<f32>(marked + i) > 0 || load<f32>(matte + i) < SURE ? 0 : 1);
    store<f32>(both + i, load<f32>(a + i) + load<f32>(b + i));
  }
  const beside = rest + cells * 2;
  filledBlocks(1, both, plane, solid, width, height, KNOWN, beside);
  for (let row = 0, i: usize = 0; row < height; row++) {
    for (let col = 0; col < width; col++, i += 4) {
      if (load<f32>(marked + i) <= 0) continue;
      const around = coarseAt(rest, across, down, KNOWN, col, row), alone = load<f32>(screen + (a - planes) + i) + load<f32>(screen + (b - planes) + i), way = coarseAt(beside, across, down, KNOWN, col, row) - alone;
      const share = (load<f32>(both + i) - alone) / way;
      store<f32>(matte + i, around < 0.02 ? 0 : around > 0.98 ? 1 : way > 0.5 * alone ? (share < 0 ? 0 : share > 1 ? 1 : share) : around);
    }
  }
}
