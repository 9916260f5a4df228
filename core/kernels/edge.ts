/**
 * Moves the edge of a mask outwards; `src/kernels/move-edge.ts` does the same in plain code and explains it. The caller
 * lays out all memory from `heap()` on: planes of the window, rows of `width` numbers, with room to read on behind each.
 */
const NUMBER: usize = 4;
const VECTOR: usize = 16;

export function heap(): usize {
  return (__heap_base + 63) & ~63;
}

/** The largest of `count` vectors, `step` bytes apart. */
function largest(from: usize, step: usize, count: u32): v128 {
  let most = v128.load(from);
  for (let i: u32 = 1; i < count; i++) {
    from += step;
    most = f32x4.max(most, v128.load(from));
  }
  return most;
}

/**
 * @param offsets places around a pixel: bytes from it to the upper left of four pixels, then, 16 bytes on, their weights;
 *   32 bytes each
 * @param by half of the side of a square that holds all of them, no more than the margin
 * @param out the area of the window, row after row, each as long as the window's
 */
export function grow(
  src: usize,
  width: u32,
  height: u32,
  margin: u32,
  by: u32,
  offsets: usize,
  count: u32,
  rows: usize,
  out: usize,
): void {
  const line = NUMBER * <usize>width;
  const across = NUMBER * <usize>(width - 2 * margin);
  const side = 2 * by + 1;
  const left = NUMBER * <usize>margin;
  for (let y: u32 = 0; y < height; y++)
    for (let x: usize = 0; x < across; x += VECTOR) {
      const at = <usize>y * line + left + x;
      v128.store(rows + at, largest(src + at - NUMBER * <usize>by, NUMBER, side));
    }
  const end = offsets + 32 * <usize>count;
  for (let y: u32 = margin; y < height - margin; y++)
    for (let x: usize = 0; x < across; x += VECTOR) {
      const at = <usize>y * line + left + x;
      let best = v128.load(src + at);
      const limit = largest(rows + at - <usize>by * line, line, side);
      for (let o = offsets; o < end && v128.any_true(f32x4.lt(best, limit)); o += 32) {
        const p = src + at + <isize>load<i32>(o);
        const upper = f32x4.add(
          f32x4.mul(v128.load(p), v128.load32_splat(o + 16)),
          f32x4.mul(v128.load(p + NUMBER), v128.load32_splat(o + 20)),
        );
        const lower = f32x4.add(
          f32x4.mul(v128.load(p + line), v128.load32_splat(o + 24)),
          f32x4.mul(v128.load(p + line + NUMBER), v128.load32_splat(o + 28)),
        );
        best = f32x4.max(best, f32x4.add(upper, lower));
      }
      v128.store(out + <usize>(y - margin) * line + x, f32x4.min(best, limit));
    }
}
