/** The template averaged over taps, for points first…last; the twin of `blurTemplate` in ../plain-template.ts. */
export function blurTemplate(
  first: i32, last: i32, texels: usize, width: i32, height: i32, xs: usize, ys: usize, count: i32, back: usize, ahead: usize, taps: usize, tapCount: i32, darkest: f32, out: usize,
): void {
  const limitX = <f32>width - <f32>1.001, limitY = <f32>height - <f32>1.001;
  const share: f32 = back != 0 && ahead != 0 ? 0.5 : 1, bend: f32 = back != 0 && ahead != 0 ? 0.5 : 0;
  const stride = <usize>width << 4, plane = <usize>count << 2;
  // Nothing moves and nothing is lost: the template as it is.
  const still = back == 0 && ahead == 0 && tapCount == 1 && load<f32>(taps, 4) == 0 && load<f32>(taps, 8) == 0;
  for (let i = first; i < last; i++) {
    const x = load<f32>(xs + (<usize>i << 2)), y = load<f32>(ys + (<usize>i << 2));
    if (still) {
      const texel = v128.load(texels + (<usize>(<i32>y * width + <i32>x) << 4)), own = out + (<usize>i << 2);
      const value = f32x4.extract_lane(texel, 0), whole = sqrt<f32>(max(darkest, value * value)), part = value / whole;
      store<f32>(own, whole);
      store<f32>(own + plane, f32x4.extract_lane(texel, 1) * part);
      store<f32>(own + plane * 2, f32x4.extract_lane(texel, 2) * part);
      store<f32>(own + plane * 3, f32x4.extract_lane(texel, 3) > 0.999 ? 1 : 0);
      continue;
    }
    let vx: f32 = 0, vy: f32 = 0, qx: f32 = 0, qy: f32 = 0;
    if (back != 0) {
      vx = qx = mapX(back, x, y) - x;
      vy = qy = mapY(back, x, y) - y;
    }
    if (ahead != 0) {
      const ax = mapX(ahead, x, y) - x, ay = mapY(ahead, x, y) - y;
      vx -= ax;
      vy -= ay;
      qx += ax;
      qy += ay;
    }
    vx *= share;
    vy *= share;
    qx *= bend;
    qy *= bend;
    // [light, light·∂x, light·∂y, permission]: the value multiplies all but the last channel.
    let sum = f32x4.splat(0);
    for (let k = 0; k < tapCount; k++) {
      const tap = taps + (<usize>k << 4), t = load<f32>(tap);
      const px = min(limitX, max<f32>(0, x + (vx + qx * t) * t + load<f32>(tap, 4))), py = min(limitY, max<f32>(0, y + (vy + qy * t) * t + load<f32>(tap, 8)));
      const ix = <i32>px, iy = <i32>py;
      const fx = px - <f32>ix, fy = py - <f32>iy;
      const at = texels + (<usize>(iy * width + ix) << 4);
      const upper = mixed(v128.load(at), v128.load(at, 16), fx), lower = mixed(v128.load(at + stride), v128.load(at + stride, 16), fx);
      const texel = mixed(upper, lower, fy), weight = load<f32>(tap, 12);
      const v = weight * f32x4.extract_lane(texel, 0);
      sum = f32x4.add(sum, f32x4.mul(texel, f32x4.replace_lane(f32x4.splat(v), 3, weight)));
    }
    const value = sqrt<f32>(max(darkest, f32x4.extract_lane(sum, 0)));
    const own = out + (<usize>i << 2);
    store<f32>(own, value);
    store<f32>(own + plane, f32x4.extract_lane(sum, 1) / value);
    store<f32>(own + plane * 2, f32x4.extract_lane(sum, 2) / value);
    store<f32>(own + plane * 3, f32x4.extract_lane(sum, 3) > 0.999 ? 1 : 0);
  }
}

// @ts-ignore: decorator
@inline function mixed(a: v128, b: v128, t: f32): v128 {
  return f32x4.add(a, f32x4.mul(f32x4.sub(b, a), f32x4.splat(t)));
}

// @ts-ignore: decorator
@inline function mapX(h: usize, x: f32, y: f32): f32 {
  return (load<f32>(h) * x + load<f32>(h, 4) * y + load<f32>(h, 8)) / (load<f32>(h, 24) * x + load<f32>(h, 28) * y + load<f32>(h, 32));
}

// @ts-ignore: decorator
@inline function mapY(h: usize, x: f32, y: f32): f32 {
  return (load<f32>(h, 12) * x + load<f32>(h, 16) * y + load<f32>(h, 20)) / (load<f32>(h, 24) * x + load<f32>(h, 28) * y + load<f32>(h, 32));
}
