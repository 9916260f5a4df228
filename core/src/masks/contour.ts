/**
 * The line along which a mask crosses one half, by marching squares (Lorensen and Cline's cases in the plane)
 * with linear interpolation, for drawing at any zoom.
 *
 * @returns segments x0, y0, x1, y1 end to end, in pixels, pixel centres at .5. The mask counts as 0 outside.
 */
export function contourSegments(mask: Float32Array, width: number, height: number): Float32Array {
  const level = 0.5;
  let out = new Float32Array(4096);
  let n = 0;
  const at = (x: number, y: number) =>
    x < 0 || y < 0 || x >= width || y >= height ? 0 : mask[y * width + x]!;
  const push = (x0: number, y0: number, x1: number, y1: number) => {
    if (n + 4 > out.length) {
      const more = new Float32Array(out.length * 2);
      more.set(out);
      out = more;
    }
    out[n++] = x0;
    out[n++] = y0;
    out[n++] = x1;
    out[n++] = y1;
  };
  const cut = (a: number, b: number) => (level - a) / (b - a);
  for (let y = -1; y < height; y++) {
    for (let x = -1; x < width; x++) {
      const a = at(x, y);
      const b = at(x + 1, y);
      const c = at(x + 1, y + 1);
      const d = at(x, y + 1);
      const kind = (a >= level ? 1 : 0) | (b >= level ? 2 : 0) | (c >= level ? 4 : 0) | (d >= level ? 8 : 0);
      if (kind === 0 || kind === 15) continue;
      const cx = x + 0.5;
      const cy = y + 0.5;
      const top = cx + cut(a, b);
      const right = cy + cut(b, c);
      const bottom = cx + cut(d, c);
      const left = cy + cut(a, d);
      const case1 = kind > 7 ? 15 - kind : kind;
      if (case1 === 1) push(cx, left, top, cy);
      else if (case1 === 2) push(top, cy, cx + 1, right);
      else if (case1 === 3) push(cx, left, cx + 1, right);
      else if (case1 === 4) push(cx + 1, right, bottom, cy + 1);
      else if (case1 === 6) push(top, cy, bottom, cy + 1);
      else if (case1 === 7) push(cx, left, bottom, cy + 1);
      else {
        // Two opposite corners: the middle decides whether they are joined.
        const joined = (a + b + c + d) / 4 >= level;
        if (joined === (kind === 5)) {
          push(cx, left, bottom, cy + 1);
          push(top, cy, cx + 1, right);
        } else {
          push(cx, left, top, cy);
          push(cx + 1, right, bottom, cy + 1);
        }
      }
    }
  }
  return out.slice(0, n);
}
