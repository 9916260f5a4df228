/**
 * Box blurs of a window of pixels with four numbers each, side by side in memory; `planes/box-blur.ts` beside it says
 * what a box is, and does the same in plain code. Sums have 64 bits. The caller lays out all memory from `heap()` on.
 */
const PIXEL: usize = 16;

export function heap(): usize {
  return (__heap_base + 63) & ~63;
}

function low(v: v128): v128 {
  return f64x2.promote_low_f32x4(v);
}
function high(v: v128): v128 {
  return f64x2.promote_low_f32x4(v128.shuffle<i64>(v, v, 1, 1));
}

/** One pass along a line of pixels `step` bytes apart; of it `count` do not look beyond its ends. */
function line(
  src: usize,
  step: usize,
  dst: usize,
  dstStep: usize,
  count: u32,
  whole: u32,
  rest: f64,
  norm: f64,
): void {
  const ends = rest > 0;
  const r = f64x2.splat(rest);
  const n = f64x2.splat(norm);
  let left = ends ? src + step : src;
  let right = left + step * <usize>(2 * whole + 1);
  let lo = f64x2.splat(0);
  let hi = f64x2.splat(0);
  for (let p = left; p < right; p += step) {
    const v = v128.load(p);
    lo = f64x2.add(lo, low(v));
    hi = f64x2.add(hi, high(v));
  }
  for (let i: u32 = 0; i < count; i++) {
    const next = v128.load(right);
    const last = v128.load(left);
    const nextLow = low(next);
    const nextHigh = high(next);
    let a = lo;
    let b = hi;
    if (ends) {
      const before = v128.load(left - step);
      a = f64x2.add(a, f64x2.mul(r, f64x2.add(low(before), nextLow)));
      b = f64x2.add(b, f64x2.mul(r, f64x2.add(high(before), nextHigh)));
    }
    v128.store(
      dst,
      v128.shuffle<i64>(
        f32x4.demote_f64x2_zero(f64x2.mul(a, n)),
        f32x4.demote_f64x2_zero(f64x2.mul(b, n)),
        0,
        2,
      ),
    );
    lo = f64x2.add(lo, f64x2.sub(nextLow, low(last)));
    hi = f64x2.add(hi, f64x2.sub(nextHigh, high(last)));
    left += step;
    right += step;
    dst += dstStep;
  }
}

/**
 * Blurs a window of `width` by `height` pixels across and down, so many times. `a` holds it, `b` is as large; both are
 * followed by a row that may be read. Returns where the result is, smaller on every side by what the box reaches.
 */
export function blur(a: usize, b: usize, width: u32, height: u32, whole: u32, rest: f64, times: u32): usize {
  const less = 2 * (whole + (rest > 0 ? 1 : 0));
  const norm = 1 / (2 * <f64>whole + 1 + 2 * rest);
  for (let t: u32 = 0; t < times; t++) {
    const across = width - less;
    for (let y: usize = 0; y < <usize>height; y++)
      line(a + y * width * PIXEL, PIXEL, b + y * across * PIXEL, PIXEL, across, whole, rest, norm);
    width = across;
    const other = a;
    a = b;
    b = other;
  }
  const row = <usize>width * PIXEL;
  for (let t: u32 = 0; t < times; t++) {
    const down = height - less;
    for (let x: usize = 0; x < <usize>width; x++)
      line(a + x * PIXEL, row, b + x * PIXEL, row, down, whole, rest, norm);
    height = down;
    const other = a;
    a = b;
    b = other;
  }
  return a;
}
