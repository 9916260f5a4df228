/**
 * PIZ's two-dimensional Haar wavelet and its inverse, in place.
 * Words below 2^14 use plain 16-bit averages and differences; above that, the arithmetic wraps modulo 2^16.
 */
const OFFSET = 1 << 15;

/**
 * Pairs become average and difference, level by level from the finest.
 * @param nx columns, `ox` words from one column to the next
 * @param ny rows, `oy` words from one row to the next
 * @param maximum largest word that occurs; it decides between the two kinds of arithmetic
 */
export function wavelet(
  words: Uint16Array,
  start: number,
  nx: number,
  ox: number,
  ny: number,
  oy: number,
  maximum: number,
): void {
  const plain = maximum < 1 << 14;
  // The average is returned in the high, the difference in the low 16 bits.
  const pair = plain
    ? (a: number, b: number): number => {
        const as = (a << 16) >> 16;
        const bs = (b << 16) >> 16;
        return ((((as + bs) >> 1) & 0xffff) << 16) | ((as - bs) & 0xffff);
      }
    : (a: number, b: number): number => {
        const shifted = (a + OFFSET) & 0xffff;
        const difference = shifted - b;
        const average = ((shifted + b) >> 1) + (difference < 0 ? OFFSET : 0);
        return ((average & 0xffff) << 16) | (difference & 0xffff);
      };
  const n = Math.min(nx, ny);
  for (let p = 1; 2 * p <= n; p *= 2) {
    const oy1 = oy * p;
    const ox1 = ox * p;
    let py = start;
    const yEnd = start + oy * (ny - 2 * p);
    const across = (from: number, work: (px: number) => void): number => {
      let px = from;
      for (const xEnd = from + ox * (nx - 2 * p); px <= xEnd; px += 2 * ox1) work(px);
      return px;
    };
    for (; py <= yEnd; py += 2 * oy1) {
      const rest = across(py, (px) => {
        const top = pair(words[px]!, words[px + ox1]!);
        const bottom = pair(words[px + oy1]!, words[px + oy1 + ox1]!);
        const left = pair(top >>> 16, bottom >>> 16);
        const right = pair(top & 0xffff, bottom & 0xffff);
        words[px] = left >>> 16;
        words[px + oy1] = left;
        words[px + ox1] = right >>> 16;
        words[px + oy1 + ox1] = right;
      });
      if (nx & p) {
        const column = pair(words[rest]!, words[rest + oy1]!);
        words[rest] = column >>> 16;
        words[rest + oy1] = column;
      }
    }
    if (ny & p)
      across(py, (px) => {
        const row = pair(words[px]!, words[px + ox1]!);
        words[px] = row >>> 16;
        words[px + ox1] = row;
      });
  }
}

/**
 * The inverse of {@link wavelet}.
 */
export function unwavelet(
  words: Uint16Array,
  start: number,
  nx: number,
  ox: number,
  ny: number,
  oy: number,
  maximum: number,
): void {
  const plain = maximum < 1 << 14;
  // Undo one average/difference pair (l, h): a is returned in the high, b in the low 16 bits.
  const undo = plain
    ? (l: number, h: number): number => {
        const hi = (h << 16) >> 16;
        const ai = ((l << 16) >> 16) + (hi & 1) + (hi >> 1);
        return ((ai & 0xffff) << 16) | ((ai - hi) & 0xffff);
      }
    : (l: number, h: number): number => {
        const b = (l - (h >> 1)) & 0xffff;
        const a = (h + b - OFFSET) & 0xffff;
        return (a << 16) | b;
      };

  const n = Math.min(nx, ny);
  let p = 1;
  while (p <= n) p <<= 1;
  p >>= 1;
  let p2 = p;
  p >>= 1;
  while (p >= 1) {
    const oy1 = oy * p;
    const oy2 = oy * p2;
    const ox1 = ox * p;
    const ox2 = ox * p2;
    let py = start;
    const yEnd = start + oy * (ny - p2);
    for (; py <= yEnd; py += oy2) {
      let px = py;
      const xEnd = py + ox * (nx - p2);
      for (; px <= xEnd; px += ox2) {
        const p01 = px + ox1;
        const p10 = px + oy1;
        const p11 = p10 + ox1;
        const left = undo(words[px]!, words[p10]!);
        const right = undo(words[p01]!, words[p11]!);
        const top = undo(left >>> 16, right >>> 16);
        const bottom = undo(left & 0xffff, right & 0xffff);
        words[px] = top >>> 16;
        words[p01] = top;
        words[p10] = bottom >>> 16;
        words[p11] = bottom;
      }
      if (nx & p) {
        const p10 = px + oy1;
        const pair = undo(words[px]!, words[p10]!);
        words[p10] = pair;
        words[px] = pair >>> 16;
      }
    }
    if (ny & p) {
      let px = py;
      const xEnd = py + ox * (nx - p2);
      for (; px <= xEnd; px += ox2) {
        const p01 = px + ox1;
        const pair = undo(words[px]!, words[p01]!);
        words[p01] = pair;
        words[px] = pair >>> 16;
      }
    }
    p2 = p;
    p >>= 1;
  }
}
