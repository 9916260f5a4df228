import { TILE } from '../planes/tiles.ts';
import { TileMask } from './tile-mask.ts';

/** Segments end to end, in memory that grows. */
class Segments {
  private out = new Float32Array(4096);
  private n = 0;
  push(x0: number, y0: number, x1: number, y1: number): void {
    if (this.n + 4 > this.out.length) {
      const more = new Float32Array(this.out.length * 2);
      more.set(this.out);
      this.out = more;
    }
    this.out[this.n++] = x0;
    this.out[this.n++] = y0;
    this.out[this.n++] = x1;
    this.out[this.n++] = y1;
  }
  done(): Float32Array<ArrayBuffer> {
    return this.out.slice(0, this.n);
  }
}

/**
 * The cells between the values of a window, `across` of which are in each of its rows.
 * @param px, py where the first value lies in the picture; @param columns, rows cells that are looked at
 */
function trace(
  values: Float32Array,
  across: number,
  px: number,
  py: number,
  columns: number,
  rows: number,
  out: Segments,
): void {
  const level = 0.5;
  const cut = (a: number, b: number) => (level - a) / (b - a);
  for (let row = 0; row < rows; row++) {
    const y = py + row;
    let i = row * across;
    let b = values[i]!;
    let c = values[i + across]!;
    for (let column = 0; column < columns; column++) {
      const x = px + column;
      const a = b;
      const d = c;
      i++;
      b = values[i]!;
      c = values[i + across]!;
      const kind = (a >= level ? 1 : 0) | (b >= level ? 2 : 0) | (c >= level ? 4 : 0) | (d >= level ? 8 : 0);
      if (kind === 0 || kind === 15) continue;
      const cx = x + 0.5;
      const cy = y + 0.5;
      const top = cx + cut(a, b);
      const right = cy + cut(b, c);
      const bottom = cx + cut(d, c);
      const left = cy + cut(a, d);
      const case1 = kind > 7 ? 15 - kind : kind;
      if (case1 === 1) out.push(cx, left, top, cy);
      else if (case1 === 2) out.push(top, cy, cx + 1, right);
      else if (case1 === 3) out.push(cx, left, cx + 1, right);
      else if (case1 === 4) out.push(cx + 1, right, bottom, cy + 1);
      else if (case1 === 6) out.push(top, cy, bottom, cy + 1);
      else if (case1 === 7) out.push(cx, left, bottom, cy + 1);
      else {
        // Two opposite corners: the middle decides whether they are joined.
        const joined = (a + b + c + d) / 4 >= level;
        if (joined === (kind === 5)) {
          out.push(cx, left, bottom, cy + 1);
          out.push(top, cy, cx + 1, right);
        } else {
          out.push(cx, left, top, cy);
          out.push(cx + 1, right, bottom, cy + 1);
        }
      }
    }
  }
}

/**
 * The line along which a mask crosses one half, by marching squares (Lorensen and Cline's cases in the plane)
 * with linear interpolation, for drawing at any zoom.
 *
 * @returns segments x0, y0, x1, y1 end to end, in pixels, pixel centres at .5. The mask counts as 0 outside.
 */
export function contourSegments(
  mask: Float32Array,
  width: number,
  height: number,
): Float32Array<ArrayBuffer> {
  const out = new Segments();
  // With a border of nothing all around.
  const across = width + 2;
  const values = new Float32Array(across * (height + 2));
  for (let y = 0; y < height; y++)
    values.set(mask.subarray(y * width, (y + 1) * width), (y + 1) * across + 1);
  trace(values, across, -1, -1, width + 1, height + 1, out);
  return out.done();
}

/** True if the values lie all on one side of one half. */
function isFlat(values: Float32Array): boolean {
  const inside = values[0]! >= 0.5;
  for (let i = 1; i < values.length; i++) if (values[i]! >= 0.5 !== inside) return false;
  return true;
}

/** A mask at a part of its size: of each square of 2^level pixels the most, so that thin things are not lost. */
function reducedMask(mask: TileMask, level: number): TileMask {
  const step = 2 ** level;
  const { width, height } = mask.size;
  const out = new TileMask({ width: Math.ceil(width / step), height: Math.ceil(height / step) });
  const side = TILE / step;
  for (let t = 0; t < mask.tileCount; t++) {
    const from = mask.tile(t);
    if (!from) continue;
    const [x0, y0] = [(t % mask.tilesX) * side, Math.floor(t / mask.tilesX) * side];
    const at = Math.floor(y0 / TILE) * out.tilesX + Math.floor(x0 / TILE);
    const to = out.tile(at) ?? out.cleared(at);
    for (let y = 0; y < TILE; y++) {
      const row = ((y0 + (y >> level)) % TILE) * TILE + (x0 % TILE);
      for (let x = 0; x < TILE; x++) {
        const v = from[y * TILE + x]!;
        if (v > to[row + (x >> level)]!) to[row + (x >> level)] = v;
      }
    }
  }
  return out;
}

/**
 * The same of a mask in tiles; tiles that are the same all over cost next to nothing.
 * @param level halvings, 0 to 6: from afar an outline of every pixel is more than can be seen, or drawn in time
 */
export function maskContour(mask: TileMask, level = 0): Float32Array<ArrayBuffer> {
  if (level > 0) {
    const segments = maskContour(reducedMask(mask, level));
    for (let i = 0; i < segments.length; i++) segments[i]! *= 2 ** level;
    return segments;
  }
  const out = new Segments();
  const { tilesX, tilesY, size } = mask;
  const side = TILE + 1;
  const window = new Float32Array(side * side);
  // The cells of a tile lie between its pixels and those left of and above it; past the last tile there is one more row.
  for (let ty = 0; ty <= tilesY; ty++)
    for (let tx = 0; tx <= tilesX; tx++) {
      const tile = (x: number, y: number) =>
        x < 0 || y < 0 || x >= tilesX || y >= tilesY ? undefined : mask.tile(y * tilesX + x);
      const [here, left, above, corner] = [
        tile(tx, ty),
        tile(tx - 1, ty),
        tile(tx, ty - 1),
        tile(tx - 1, ty - 1),
      ];
      if (!here && !left && !above && !corner) continue;
      window.fill(0);
      if (corner) window[0] = corner[TILE * TILE - 1]!;
      if (above) window.set(above.subarray(TILE * (TILE - 1)), 1);
      for (let y = 0; y < TILE; y++) {
        if (left) window[(y + 1) * side] = left[y * TILE + TILE - 1]!;
        if (here) window.set(here.subarray(y * TILE, (y + 1) * TILE), (y + 1) * side + 1);
      }
      if (isFlat(window)) continue;
      const [px, py] = [tx * TILE - 1, ty * TILE - 1];
      const columns = Math.min(px + TILE, size.width) - px;
      const rows = Math.min(py + TILE, size.height) - py;
      trace(window, side, px, py, columns, rows, out);
    }
  return out.done();
}
