/** Sums for the correlation of template and picture at nearest samples; the twin of `correlate` in ../plain-correlate.ts. */
export function correlate(
  value: usize, width: i32, height: i32, xs: usize, ys: usize, count: i32, blurred: usize, prior: usize, h: usize, step: i32, out: usize,
): void {
  const h0 = load<f32>(h), h1 = load<f32>(h, 4), h2 = load<f32>(h, 8), h3 = load<f32>(h, 12), h4 = load<f32>(h, 16), h5 = load<f32>(h, 20);
  const h6 = load<f32>(h, 24), h7 = load<f32>(h, 28), h8 = load<f32>(h, 32);
  const complete = blurred + (<usize>count << 2) * 3;
  let n: f64 = 0, st: f64 = 0, sp: f64 = 0, stt: f64 = 0, spp: f64 = 0, stp: f64 = 0;
  for (let i = 0; i < count; i += step) {
    const at = <usize>i << 2;
    const weight = load<f32>(prior + at);
    if (weight == 0 || load<f32>(complete + at) == 0) continue;
    const x = load<f32>(xs + at), y = load<f32>(ys + at);
    const w: f32 = <f32>1 / (h6 * x + h7 * y + h8);
    const u = (h0 * x + h1 * y + h2) * w + <f32>0.5, v = (h3 * x + h4 * y + h5) * w + <f32>0.5;
    if (!(w > 0 && u >= 0 && v >= 0 && u < <f32>width && v < <f32>height)) continue;
    const p: f64 = load<f32>(value + (<usize>(<i32>v * width + <i32>u) << 2)), t: f64 = load<f32>(blurred + at);
    n += 1;
    st += t;
    sp += p;
    stt += t * t;
    spp += p * p;
    stp += t * p;
  }
  store<f64>(out, n);
  store<f64>(out, st, 8);
  store<f64>(out, sp, 16);
  store<f64>(out, stt, 24);
  store<f64>(out, spp, 32);
  store<f64>(out, stp, 40);
}
