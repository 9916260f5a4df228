/**
 * RGBA bytes of a square tile at half its side: means of four pixels as they are shown. What lies right of `width` or
 * below `height` is no part of the picture: its last pixels stand in.
 */
export function halved(
  data: Uint8ClampedArray,
  side: number,
  width: number,
  height: number,
): Uint8ClampedArray<ArrayBuffer> {
  const half = side >> 1;
  const out = new Uint8ClampedArray(4 * half * half);
  const [right, bottom] = [Math.min(side, width) - 1, Math.min(side, height) - 1];
  for (let y = 0, to = 0; y < half; y++) {
    const upper = Math.min(2 * y, bottom) * side;
    const lower = Math.min(2 * y + 1, bottom) * side;
    for (let x = 0; x < half; x++) {
      const left = Math.min(2 * x, right);
      const next = Math.min(2 * x + 1, right);
      const [a, b, c, d] = [4 * (upper + left), 4 * (upper + next), 4 * (lower + left), 4 * (lower + next)];
      for (let k = 0; k < 4; k++)
        out[to++] = (data[a + k]! + data[b + k]! + data[c + k]! + data[d + k]! + 2) >> 2;
    }
  }
  return out;
}
