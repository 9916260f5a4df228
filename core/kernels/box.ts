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

/** Both halves as four numbers of 32 bits. */
function together(lo: v128, hi: v128): v128 {
  return v128.shuffle<i64>(f32x4.demote_f64x2_zero(lo), f32x4.demote_f64x2_zero(hi), 0, 2);
}

/** One pass along a row; `count` pixels of it do not look beyond its ends. */
function alongRow(src: usize, dst: usize, count: u32, whole: u32, rest: f64, norm: f64): void {
  const ends = rest > 0;
  const r = f64x2.splat(rest);
  const n = f64x2.splat(norm);
  let left = ends ? src + PIXEL : src;
  let right = left + PIXEL * <usize>(2 * whole + 1);
  let lo = f64x2.splat(0);
  let hi = f64x2.splat(0);
  for (let p = left; p < right; p += PIXEL) {
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
      const before = v128.load(left - PIXEL);
      a = f64x2.add(a, f64x2.mul(r, f64x2.add(low(before), nextLow)));
      b = f64x2.add(b, f64x2.mul(r, f64x2.add(high(before), nextHigh)));
    }
    v128.store(dst, together(f64x2.mul(a, n), f64x2.mul(b, n)));
    lo = f64x2.add(lo, f64x2.sub(nextLow, low(last)));
    hi = f64x2.add(hi, f64x2.sub(nextHigh, high(last)));
    left += PIXEL;
    right += PIXEL;
    dst += PIXEL;
  }
}

/** One pass down all columns, row after row, as memory lies; `sums` has room for two vectors a column. */
function alongColumns(
  src: usize,
  dst: usize,
  width: u32,
  count: u32,
  whole: u32,
  rest: f64,
  norm: f64,
  sums: usize,
): void {
  const ends = rest > 0;
  const r = f64x2.splat(rest);
  const n = f64x2.splat(norm);
  const row = PIXEL * <usize>width;
  let left = ends ? src + row : src;
  let right = left;
  memory.fill(sums, 0, 2 * row);
  for (let k: u32 = 0; k < 2 * whole + 1; k++)
    for (let s = sums; s < sums + 2 * row; s += 2 * PIXEL, right += PIXEL) {
      const v = v128.load(right);
      v128.store(s, f64x2.add(v128.load(s), low(v)));
      v128.store(s, f64x2.add(v128.load(s, PIXEL), high(v)), PIXEL);
    }
  for (let y: u32 = 0; y < count; y++)
    for (let s = sums; s < sums + 2 * row; s += 2 * PIXEL) {
      const next = v128.load(right);
      const last = v128.load(left);
      const nextLow = low(next);
      const nextHigh = high(next);
      const lo = v128.load(s);
      const hi = v128.load(s, PIXEL);
      let a = lo;
      let b = hi;
      if (ends) {
        const before = v128.load(left - row);
        a = f64x2.add(a, f64x2.mul(r, f64x2.add(low(before), nextLow)));
        b = f64x2.add(b, f64x2.mul(r, f64x2.add(high(before), nextHigh)));
      }
      v128.store(dst, together(f64x2.mul(a, n), f64x2.mul(b, n)));
      v128.store(s, f64x2.add(lo, f64x2.sub(nextLow, low(last))));
      v128.store(s, f64x2.add(hi, f64x2.sub(nextHigh, high(last))), PIXEL);
      left += PIXEL;
      right += PIXEL;
      dst += PIXEL;
    }
}

/** Four vectors as four pixels. */
function interleave(r: v128, g: v128, b: v128, w: v128, dst: usize): void {
  const rg = v128.shuffle<i32>(r, g, 0, 4, 1, 5);
  const bw = v128.shuffle<i32>(b, w, 0, 4, 1, 5);
  const rg2 = v128.shuffle<i32>(r, g, 2, 6, 3, 7);
  const bw2 = v128.shuffle<i32>(b, w, 2, 6, 3, 7);
  v128.store(dst, v128.shuffle<i64>(rg, bw, 0, 2));
  v128.store(dst, v128.shuffle<i64>(rg, bw, 1, 3), PIXEL);
  v128.store(dst, v128.shuffle<i64>(rg2, bw2, 0, 2), 2 * PIXEL);
  v128.store(dst, v128.shuffle<i64>(rg2, bw2, 1, 3), 3 * PIXEL);
}

/**
 * Four planes, `plane` bytes apart from `src` on, side by side: three of colours times the fourth, and the fourth. What
 * is no finite colour weighs nothing. `plane` is a multiple of a vector.
 */
export function weigh(src: usize, plane: usize, dst: usize): void {
  const most = f32x4.splat(f32.MAX_VALUE);
  const zero = f32x4.splat(0);
  for (let p = src; p < src + plane; p += PIXEL, dst += 4 * PIXEL) {
    const r = v128.load(p);
    const g = v128.load(p + plane);
    const b = v128.load(p + 2 * plane);
    const w = v128.load(p + 3 * plane);
    const counts = v128.and(
      v128.and(f32x4.gt(w, zero), f32x4.le(f32x4.abs(r), most)),
      v128.and(f32x4.le(f32x4.abs(g), most), f32x4.le(f32x4.abs(b), most)),
    );
    interleave(
      v128.and(f32x4.mul(r, w), counts),
      v128.and(f32x4.mul(g, w), counts),
      v128.and(f32x4.mul(b, w), counts),
      v128.and(w, counts),
      dst,
    );
  }
}

/** The other way: pixels with four numbers each to four planes, `plane` bytes apart. */
export function part(src: usize, dst: usize, plane: usize): void {
  for (let p = dst; p < dst + plane; p += PIXEL, src += 4 * PIXEL) {
    const a = v128.load(src);
    const b = v128.load(src, PIXEL);
    const c = v128.load(src, 2 * PIXEL);
    const d = v128.load(src, 3 * PIXEL);
    const ab = v128.shuffle<i32>(a, b, 0, 4, 1, 5);
    const cd = v128.shuffle<i32>(c, d, 0, 4, 1, 5);
    const ab2 = v128.shuffle<i32>(a, b, 2, 6, 3, 7);
    const cd2 = v128.shuffle<i32>(c, d, 2, 6, 3, 7);
    v128.store(p, v128.shuffle<i64>(ab, cd, 0, 2));
    v128.store(p + plane, v128.shuffle<i64>(ab, cd, 1, 3));
    v128.store(p + 2 * plane, v128.shuffle<i64>(ab2, cd2, 0, 2));
    v128.store(p + 3 * plane, v128.shuffle<i64>(ab2, cd2, 1, 3));
  }
}

/**
 * Blurred pixels, four numbers each, to colours: `own` holds three planes, `plane` bytes apart, which go by so much
 * towards the mean that is there. Where next to nothing counts, and where a pixel is no finite colour, they stay.
 */
export function towards(src: usize, own: usize, plane: usize, by: f32): void {
  const b = f32x4.splat(by);
  const rest = f32x4.splat(1 - by);
  const most = f32x4.splat(f32.MAX_VALUE);
  // Behind them there is room for the four planes of the means.
  const mean = own + 3 * plane;
  part(src, mean, plane);
  for (let o = own; o < own + plane; o += PIXEL) {
    const w = v128.load(o + 6 * plane);
    const counts = f32x4.gt(w, f32x4.splat(<f32>1e-6));
    for (let p = o; p < o + 3 * plane; p += plane) {
      const v = v128.load(p);
      const m = f32x4.div(v128.load(p + 3 * plane), w);
      const moved = f32x4.add(f32x4.mul(v, rest), f32x4.mul(m, b));
      v128.store(p, v128.bitselect(moved, v, v128.and(counts, f32x4.le(f32x4.abs(v), most))));
    }
  }
}

/**
 * Blurs a window of `width` by `height` pixels across and down, so many times. `a` holds it, `b` is as large; both are
 * followed by a row that may be read; `sums` has room for two vectors a column. Returns where the result is, smaller on every side by what the box reaches.
 */
export function blur(
  a: usize,
  b: usize,
  sums: usize,
  width: u32,
  height: u32,
  whole: u32,
  rest: f64,
  times: u32,
): usize {
  const less = 2 * (whole + (rest > 0 ? 1 : 0));
  const norm = 1 / (2 * <f64>whole + 1 + 2 * rest);
  for (let t: u32 = 0; t < times; t++) {
    const across = width - less;
    for (let y: usize = 0; y < <usize>height; y++)
      alongRow(a + y * width * PIXEL, b + y * across * PIXEL, across, whole, rest, norm);
    width = across;
    const other = a;
    a = b;
    b = other;
  }
  for (let t: u32 = 0; t < times; t++) {
    const down = height - less;
    alongColumns(a, b, width, down, whole, rest, norm, sums);
    height = down;
    const other = a;
    a = b;
    b = other;
  }
  return a;
}
