const levels = memory.data(32 * 16, 16);

/** Fills what is not known of planes, one after the other, in place; the twin of `pushPull` in ../../matte/push-pull.ts. `scratch` takes a third more than planes and weight. */
export function pushPull(count: i32, values: usize, weight: usize, width: i32, height: i32, scratch: usize): void {
  const n = <usize>(width * height);
  for (let k = 0; k < count; k++) {
    const plane = values + (<usize>k * n << 2);
    for (let i: usize = 0; i < n << 2; i += 4) store<f32>(plane + i, load<f32>(plane + i) * load<f32>(weight + i));
  }
  let top = 0, free = scratch;
  put(0, width, height, values, weight);
  for (let w = width, h = height; w > 1 || h > 1;) {
    const across = (w + 1) >> 1, down = (h + 1) >> 1, m = <usize>(across * down), to = free, toWeight = to + (<usize>count * m << 2);
    free = toWeight + (m << 2);
    memory.fill(to, 0, free - to);
    const from = load<u32>(levels + (<usize>top << 4), 8), fromWeight = load<u32>(levels + (<usize>top << 4), 12), size = <usize>(w * h);
    for (let k = 0; k < count; k++) sumByTwo(<usize>from + (<usize>k * size << 2), w, h, across, to + (<usize>k * m << 2));
    sumByTwo(<usize>fromWeight, w, h, across, toWeight);
    for (let i: usize = 0; i < m << 2; i += 4) {
      const sum = load<f32>(toWeight + i);
      if (sum <= 1) continue;
      store<f32>(toWeight + i, 1);
      for (let k = 0; k < count; k++) store<f32>(to + (<usize>k * m << 2) + i, load<f32>(to + (<usize>k * m << 2) + i) / sum);
    }
    put(++top, across, down, to, toWeight);
    w = across;
    h = down;
  }
  const last = levels + (<usize>top << 4), sum = load<f32>(<usize>load<u32>(last, 12));
  for (let k = 0; k < count; k++) {
    const at = <usize>load<u32>(last, 8) + (<usize>k << 2);
    store<f32>(at, sum > 0 ? load<f32>(at) / sum : 0);
  }
  for (let l = top - 1; l >= 0; l--) {
    const fine = levels + (<usize>l << 4), coarse = fine + 16, w = load<i32>(fine), h = load<i32>(fine, 4), cw = load<i32>(coarse), ch = load<i32>(coarse, 4), known = <usize>load<u32>(fine, 12);
    for (let k = 0; k < count; k++) finer(<usize>load<u32>(coarse, 8) + (<usize>(k * cw * ch) << 2), cw, ch, <usize>load<u32>(fine, 8) + (<usize>(k * w * h) << 2), known, w, h, free);
  }
}

function put(level: i32, width: i32, height: i32, values: usize, weight: usize): void {
  const at = levels + (<usize>level << 4);
  store<i32>(at, width);
  store<i32>(at, height, 4);
  store<u32>(at, <u32>values, 8);
  store<u32>(at, <u32>weight, 12);
}

function sumByTwo(from: usize, width: i32, height: i32, across: i32, to: usize): void {
  for (let row = 0; row < height; row++) {
    const line = from + (<usize>(row * width) << 2), out = to + (<usize>((row >> 1) * across) << 2);
    let col = 0;
    for (; col + 1 < width; col += 2) {
      const at = out + (<usize>(col >> 1) << 2);
      store<f32>(at, load<f32>(at) + load<f32>(line + (<usize>col << 2)) + load<f32>(line + (<usize>col << 2), 4));
    }
    if (col < width) {
      const at = out + (<usize>(col >> 1) << 2);
      store<f32>(at, load<f32>(at) + load<f32>(line + (<usize>col << 2)));
    }
  }
}

/** `own` holds what is known times its weight, and is filled between the coarser level's middles. */
function finer(coarse: usize, cw: i32, ch: i32, own: usize, known: usize, width: i32, height: i32, line: usize): void {
  for (let row = 0; row < height; row++) {
    const near = row >> 1, far = min(ch - 1, max(0, (row & 1) == 0 ? near - 1 : near + 1)), a = coarse + (<usize>(near * cw) << 2), b = coarse + (<usize>(far * cw) << 2);
    for (let i: usize = 0; i < <usize>cw << 2; i += 16) v128.store(line + i, f32x4.add(f32x4.mul(f32x4.splat(0.75), v128.load(a + i)), f32x4.mul(f32x4.splat(0.25), v128.load(b + i))), 4);
    store<f32>(line, load<f32>(line, 4));
    store<f32>(line + (<usize>cw << 2), load<f32>(line + (<usize>cw << 2)), 4);
    for (let col = 0, at = <usize>(row * width) << 2; col < width; col++, at += 4) {
      const nearest = line + (<usize>(col >> 1) << 2), value: f32 = 0.75 * load<f32>(nearest, 4) + 0.25 * ((col & 1) == 0 ? load<f32>(nearest) : load<f32>(nearest, 8)), w = load<f32>(known + at);
      store<f32>(own + at, w > 0 ? load<f32>(own + at) + (1 - w) * value : value);
    }
  }
}

/**
 * Known values of planes `stride` bytes apart averaged over blocks and filled between these; the twin of `filledBlocks` in ../../matte/coarse-fill.ts. The
 * blocks' planes are written one after the other into `to`, their shares behind them; what follows these is used as scratch.
 */
export function filledBlocks(count: i32, values: usize, stride: usize, weight: usize, width: i32, height: i32, block: i32, to: usize): void {
  const across = (width + block - 1) / block, down = (height + block - 1) / block, m = <usize>(across * down) << 2, shares = to + <usize>count * m;
  memory.fill(to, 0, <usize>(count + 1) * m);
  for (let row = 0; row < height; row++) {
    const line = <usize>((row / block) * across) << 2, from = <usize>(row * width) << 2;
    for (let cell = 0, col = 0; cell < across; cell++) {
      const end = min(width, (cell + 1) * block);
      for (; col < end; col++) {
        const at = from + (<usize>col << 2), w = load<f32>(weight + at);
        if (w <= 0) continue;
        const into = line + (<usize>cell << 2);
        store<f32>(shares + into, load<f32>(shares + into) + w);
        for (let k: usize = 0; k < <usize>count; k++) store<f32>(to + k * m + into, load<f32>(to + k * m + into) + w * load<f32>(values + k * stride + at));
      }
    }
  }
  const full: f32 = 2 / <f32>(block * block);
  for (let i: usize = 0; i < m; i += 4) {
    const share = load<f32>(shares + i);
    if (share <= 0) continue;
    for (let k: usize = 0; k < <usize>count; k++) store<f32>(to + k * m + i, load<f32>(to + k * m + i) / share);
    store<f32>(shares + i, Mathf.min(1, share * full));
  }
  pushPull(count, to, shares, across, down, shares + m);
}

/** A coarse plane read over a whole row, its ends repeated; `block` is even. `line` takes a coarse row. */
export function coarseRow(plane: usize, across: i32, down: i32, block: i32, row: i32, width: i32, out: usize, line: usize): void {
  let y: f32 = (<f32>row + 0.5) / <f32>block - 0.5;
  y = y < 0 ? 0 : y > <f32>(down - 1) ? <f32>(down - 1) : y;
  const iy = <i32>y, fy: f32 = y - <f32>iy, a = plane + (<usize>(iy * across) << 2), b = iy < down - 1 ? a + (<usize>across << 2) : a, half = block >> 1, step: f32 = 1 / <f32>block;
  const part = f32x4.splat(fy), steps = f32x4(0.5, 1.5, 2.5, 3.5), four = f32x4.splat(4);
  for (let i: usize = 0; i < <usize>across << 2; i += 16) {
    const top = v128.load(a + i);
    v128.store(line + i, f32x4.add(top, f32x4.mul(part, f32x4.sub(v128.load(b + i), top))));
  }
  for (let cell = -1; cell < across; cell++) {
    const from = load<f32>(line + (<usize>max(cell, 0) << 2)), slope: f32 = (load<f32>(line + (<usize>min(cell + 1, across - 1) << 2)) - from) * step, first = cell * block + half;
    if (first >= 0 && first + block <= width && (block & 3) == 0) {
      const base = f32x4.splat(from), rise = f32x4.splat(slope);
      let at = steps;
      for (let to = out + (<usize>first << 2), end = to + (<usize>block << 2); to < end; to += 16) {
        v128.store(to, f32x4.add(base, f32x4.mul(rise, at)));
        at = f32x4.add(at, four);
      }
      continue;
    }
    for (let col = max(0, first), end = min(width, first + block); col < end; col++) store<f32>(out + (<usize>col << 2), from + slope * (<f32>(col - first) + 0.5));
  }
}

/** A coarse plane at one pixel. */
export function coarseAt(plane: usize, across: i32, down: i32, block: i32, col: i32, row: i32): f32 {
  let x: f32 = (<f32>col + 0.5) / <f32>block - 0.5, y: f32 = (<f32>row + 0.5) / <f32>block - 0.5;
  x = x < 0 ? 0 : x > <f32>(across - 1) ? <f32>(across - 1) : x;
  y = y < 0 ? 0 : y > <f32>(down - 1) ? <f32>(down - 1) : y;
  const ix = <i32>x, iy = <i32>y, fx: f32 = x - <f32>ix, fy: f32 = y - <f32>iy, a = plane + (<usize>(iy * across + ix) << 2), right: usize = ix < across - 1 ? 4 : 0, b = iy < down - 1 ? a + (<usize>across << 2) : a;
  const top: f32 = load<f32>(a) + fx * (load<f32>(a + right) - load<f32>(a)), bottom: f32 = load<f32>(b) + fx * (load<f32>(b + right) - load<f32>(b));
  return top + fy * (bottom - top);
}

/** The whole plane read like that. */
export function enlarge(plane: usize, across: i32, down: i32, block: i32, width: i32, height: i32, out: usize, line: usize): void {
  for (let row = 0; row < height; row++) coarseRow(plane, across, down, block, row, width, out + (<usize>(row * width) << 2), line);
}
