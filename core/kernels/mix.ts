/**
 * Lets the result of a step count as much as shares say, pixel by pixel; `planes/mixing.ts` beside it does the same in
 * plain code. The caller lays out all memory from `heap()` on: three planes `plane` bytes apart, a multiple of a vector.
 */
const VECTOR: usize = 16;
const MOST: f32 = f32.MAX_VALUE;

export function heap(): usize {
  return (__heap_base + 63) & ~63;
}

/** What is beyond 32 bits becomes the largest number; what is none becomes what it was. */
function held(v: v128, was: v128): v128 {
  const most = f32x4.splat(MOST);
  const bounded = f32x4.max(f32x4.splat(-MOST), f32x4.min(most, v));
  return v128.bitselect(bounded, was, f32x4.eq(v, v));
}

/** `now` is written: it counts as much as `amount` times its share, and what was before the rest. */
export function mix(before: usize, now: usize, plane: usize, shares: usize, amount: f32): void {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const most = f32x4.splat(MOST);
  for (let o: usize = 0; o < plane; o += VECTOR) {
    const share = f32x4.mul(v128.load(shares + o), f32x4.splat(amount));
    const rest = f32x4.sub(one, share);
    const whole = f32x4.ge(share, one);
    let counts = f32x4.gt(share, zero);
    for (let p = before + o; p < before + 3 * plane; p += plane)
      counts = v128.and(counts, f32x4.le(f32x4.abs(v128.load(p)), most));
    for (let p: usize = o; p < 3 * plane; p += plane) {
      const was = v128.load(before + p);
      const is = held(v128.load(now + p), was);
      const some = f32x4.add(f32x4.mul(was, rest), f32x4.mul(is, share));
      v128.store(now + p, v128.bitselect(v128.bitselect(is, some, whole), was, counts));
    }
  }
}
