/**
 * Pixels of a window put into layers by depth, spread over apertures, and laid over an area from the front;
 * `planes/lens.ts` beside it says what that is, and does the same in plain code. A pixel or cell of light has four
 * numbers of 64 bits. The caller lays out all memory from `heap()` on; places of cells are those in the picture.
 */
const PIXEL: usize = 32;
const STEPS: f64 = 4194304;
const MOST_LIGHT: f32 = 131072;
const PARTS: u8 = 16;
const FINE: f64 = 32;
const LIGHTLESS: u8 = 255;
/** Parts of a pixel whose light does not reach the area. */
const AFAR: u8 = 255;

export function heap(): usize {
  return (__heap_base + 63) & ~63;
}

/** True if there is light in a pixel that can be spread: what is finite is 0 times 0. */
function gives(at: usize, plane: usize): bool {
  const colours = load<f32>(at) * 0 + load<f32>(at + plane) * 0 + load<f32>(at + 2 * plane) * 0;
  return load<f32>(at + 3 * plane) > 0 && colours === 0;
}

/**
 * Puts the pixels of a window into layers. `table` has so many apertures and then parts by circle, `reaches` how far each
 * aperture reaches. Of each pixel there is its layer, how many parts lie in the next, and which that is; `counts` says
 * how many pixels each layer has, and is empty before.
 */
export function place(
  src: usize,
  plane: usize,
  depth: usize,
  width: i32,
  height: i32,
  margin: i32,
  focus: f64,
  size: f64,
  most: f64,
  table: usize,
  circles: i32,
  reaches: usize,
  sharp: i32,
  order: usize,
  next: usize,
  beyond: usize,
  counts: usize,
): void {
  let i: usize = 0;
  for (let y = 0; y < height; y++) {
    const awayDown = max(margin - y, y - (height - margin) + 1);
    for (let x = 0; x < width; x++, i++) {
      if (!gives(src + 4 * i, plane)) {
        store<u8>(order + i, LIGHTLESS);
        continue;
      }
      const d = <f64>load<f32>(depth + 4 * i);
      // Nothing there is infinitely far.
      const own = d - d === 0 ? size * (1 - focus / (d > 1e-6 ? d : 1e-6)) : size;
      // Shorter than min and max, which look for what is no number.
      const circle = own > most ? most : own < -most ? -most : own;
      const k = <i32>(abs(circle) * FINE + 0.5);
      const at = <i32>load<u8>(table + <usize>k);
      const parts = load<u8>(table + <usize>(circles + k));
      const side = circle < 0 ? -1 : 1;
      const layer = sharp + side * at;
      const larger = layer + side;
      const away = max(awayDown, max(margin - x, x - (width - margin) + 1));
      const reach = load<i32>(reaches + <usize>(4 * (parts > 0 ? at + 1 : at)));
      store<u8>(order + i, <u8>layer);
      store<u8>(beyond + i, <u8>larger);
      if (away > reach) {
        store<u8>(next + i, AFAR);
        continue;
      }
      store<u8>(next + i, parts);
      const count = counts + <usize>(4 * layer);
      store<u32>(count, load<u32>(count) + 1);
      if (parts > 0) {
        const more = counts + <usize>(4 * larger);
        store<u32>(more, load<u32>(more) + 1);
      }
    }
  }
}

/** Puts a pixel into a layer's list, and makes the layer's box as large as that needs. */
function give(
  starts: usize,
  boxes: usize,
  layer: usize,
  pixels: usize,
  parts: usize,
  x: i32,
  y: i32,
  pixel: usize,
  share: u8,
): void {
  const to = <usize>load<u32>(starts + 4 * layer);
  store<u32>(starts + 4 * layer, <u32>to + 1);
  store<u32>(pixels + 4 * to, <u32>pixel);
  store<u8>(parts + to, share);
  const box = boxes + 16 * layer;
  if (x < load<i32>(box)) store<i32>(box, x);
  if (x > load<i32>(box, 8)) store<i32>(box, x, 8);
  if (y < load<i32>(box, 4)) store<i32>(box, y, 4);
  if (y > load<i32>(box, 12)) store<i32>(box, y, 12);
}

/**
 * Lists of the pixels of all layers, one behind the other; `starts` says where each begins, and afterwards where it ends.
 * `boxes` has four numbers for each layer, the first and last column and row that it has pixels in, turned round before.
 */
export function sort(
  width: i32,
  height: i32,
  order: usize,
  next: usize,
  beyond: usize,
  starts: usize,
  boxes: usize,
  pixels: usize,
  parts: usize,
): void {
  let i: usize = 0;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const layer = load<u8>(order + i);
      if (layer === LIGHTLESS) continue;
      const share = load<u8>(next + i);
      if (share === AFAR) continue;
      give(starts, boxes, layer, pixels, parts, x, y, i, PARTS - share);
      if (share > 0) give(starts, boxes, load<u8>(beyond + i), pixels, parts, x, y, i, share);
    }
}

/** Lists the whole pixels of a part of the window that lie behind a layer; returns how many there are. */
export function behind(
  order: usize,
  width: i32,
  x0: i32,
  y0: i32,
  x1: i32,
  y1: i32,
  layer: i32,
  pixels: usize,
  parts: usize,
): u32 {
  let count: u32 = 0;
  for (let y = y0; y < y1; y++)
    for (let x = x0; x < x1; x++) {
      const i = y * width + x;
      const own = load<u8>(order + <usize>i);
      if (own === LIGHTLESS || <i32>own <= layer) continue;
      store<u32>(pixels + <usize>(4 * count), <u32>i);
      store<u8>(parts + <usize>count, PARTS);
      count++;
    }
  return count;
}

/** Lays pixels that are in focus, each at its own place; marks in `kept` those that have nothing in front of them. */
export function layInFocus(
  src: usize,
  plane: usize,
  width: i32,
  margin: i32,
  pixels: usize,
  parts: usize,
  count: i32,
  laid: usize,
  across: i32,
  down: i32,
  kept: usize,
): void {
  for (let i = 0; i < count; i++) {
    const pixel = load<u32>(pixels + <usize>(4 * i));
    const x = <i32>(pixel % <u32>width) - margin;
    const y = <i32>(pixel / <u32>width) - margin;
    if (x < 0 || y < 0 || x >= across || y >= down) continue;
    const place = <usize>(y * across + x);
    const to = laid + place * PIXEL;
    const before = load<f64>(to, 24);
    const share = load<u8>(parts + <usize>i);
    if (before === 0 && share === PARTS) store<u8>(kept + place, 1);
    const at = src + <usize>pixel * 4;
    const seen = min((<f64>load<f32>(at + 3 * plane) * <f64>share) / <f64>PARTS, 1 - before);
    if (!(seen > 0)) continue;
    store<f64>(to, load<f64>(to) + <f64>load<f32>(at) * seen);
    store<f64>(to, load<f64>(to, 8) + <f64>load<f32>(at + plane) * seen, 8);
    store<f64>(to, load<f64>(to, 16) + <f64>load<f32>(at + 2 * plane) * seen, 16);
    store<f64>(to, before + seen, 24);
  }
}

/** Writes an area: what was laid there by how much of it is covered, or pixels as they are; `out` has three planes of it. */
export function finish(
  src: usize,
  plane: usize,
  width: i32,
  margin: i32,
  order: usize,
  laid: usize,
  across: i32,
  down: i32,
  kept: usize,
  out: usize,
): void {
  const outPlane = <usize>(4 * across * down);
  let to: usize = 0;
  for (let y = 0; y < down; y++)
    for (let x = 0; x < across; x++, to++) {
      const pixel = <usize>((y + margin) * width + x + margin);
      const at = laid + to * PIXEL;
      const cover = load<f64>(at, 24);
      const own = load<u8>(kept + to) === 1 || load<u8>(order + pixel) === LIGHTLESS || !(cover > 0);
      for (let k: usize = 0; k < 3; k++)
        store<f32>(
          out + k * outPlane + 4 * to,
          own ? load<f32>(src + k * plane + 4 * pixel) : <f32>(load<f64>(at + 8 * k) / cover),
        );
    }
}

/** The first two numbers as whole steps. */
function stepsOf(light: v128, weight: v128): v128 {
  const exact = f64x2.mul(f64x2.promote_low_f32x4(light), weight);
  return f64x2.floor(f64x2.add(exact, f64x2.splat(0.5)));
}

function add(to: usize, rg: v128, bw: v128): void {
  v128.store(to, f64x2.add(v128.load(to), rg));
  v128.store(to, f64x2.add(v128.load(to, 16), bw), 16);
}

function sub(from: usize, rg: v128, bw: v128): void {
  v128.store(from, f64x2.sub(v128.load(from), rg));
  v128.store(from, f64x2.sub(v128.load(from, 16), bw), 16);
}

/**
 * Adds the light of `count` cells that lie beside each other, from (`x`, `y`) on, along every row of an aperture: where
 * a span begins, and off again where it has ended. What begins before the first cell begins with it.
 */
function alongRows(
  light: usize,
  count: i32,
  x: i32,
  y: i32,
  top: i32,
  rows: i32,
  spans: usize,
  across: i32,
  down: i32,
  sums: usize,
): void {
  const to = min(rows, down - (y + top));
  const line = <usize>across * PIXEL;
  for (let i = max(0, -(y + top)); i < to; i++) {
    const left = x + load<i32>(spans + <usize>(8 * i));
    const behind = x + load<i32>(spans + <usize>(8 * i), 4) + 1;
    const first = max(0, 1 - behind);
    const end = min(count, across - left);
    if (left >= behind || first >= end) continue;
    const row = sums + <usize>(y + top + i) * line;
    const within = min(end, max(first, -left));
    let from = light + <usize>first * PIXEL;
    const inside = light + <usize>within * PIXEL;
    if (first < within) {
      let rg = f64x2.splat(0);
      let bw = f64x2.splat(0);
      for (; from < inside; from += PIXEL) {
        rg = f64x2.add(rg, v128.load(from));
        bw = f64x2.add(bw, v128.load(from, 16));
      }
      add(row, rg, bw);
    }
    const last = light + <usize>end * PIXEL;
    let p = row + <usize>(left + within) * PIXEL;
    for (from = inside; from < last; from += PIXEL, p += PIXEL) add(p, v128.load(from), v128.load(from, 16));
    const ended = light + <usize>max(first, min(end, across - behind)) * PIXEL;
    p = row + <usize>(behind + first) * PIXEL;
    for (from = light + <usize>first * PIXEL; from < ended; from += PIXEL, p += PIXEL)
      sub(p, v128.load(from), v128.load(from, 16));
  }
}

/**
 * Adds what pixels give to the sums of `across` by `down` cells from (`left`, `upper`) on, as differences along rows.
 * `src` holds the window's three colours and its weights, `plane` bytes apart; (`x0`, `y0`) is its first pixel in the
 * picture. `cells` has room for its cells of 2x2 pixels, which are empty and stay so, `beside` for a row of its pixels.
 */
export function spread(
  src: usize,
  plane: usize,
  width: i32,
  x0: i32,
  y0: i32,
  pixels: usize,
  parts: usize,
  count: i32,
  cell: i32,
  top: i32,
  rows: i32,
  spans: usize,
  cells: usize,
  beside: usize,
  sums: usize,
  left: i32,
  upper: i32,
  across: i32,
  down: i32,
): void {
  if (count === 0) return;
  const coarse = cell === 2;
  const firstX = x0 >> 1;
  const firstY = y0 >> 1;
  const wide = ((x0 + width - 1) >> 1) - firstX + 1;
  let run: i32 = 0;
  let before: u32 = 0;
  // Lists are in order: rows need not be found by dividing.
  let y = -1;
  let begin: u32 = 0;
  let end: u32 = 0;
  let cellAt: usize = 0;
  let cellRg = f64x2.splat(0);
  let cellBw = cellRg;
  for (let i = 0; i < count; i++) {
    const pixel = load<u32>(pixels + <usize>(4 * i));
    // Pixels that lie beside each other go together.
    if (run > 0 && (pixel !== before + 1 || pixel >= end)) {
      const x = x0 + <i32>(before - begin) - run + 1;
      alongRows(beside, run, x - left, y0 + y - upper, top, rows, spans, across, down, sums);
      run = 0;
    }
    for (; pixel >= end; end += <u32>width) {
      begin = end;
      y++;
    }
    const at = src + <usize>pixel * 4;
    const weight = f64x2.splat(
      <f64>load<f32>(at + 3 * plane) * <f64>load<u8>(parts + <usize>i) * (STEPS / <f64>PARTS),
    );
    let rg = f64x2.splat(0);
    let bw = stepsOf(f32x4.splat(1), weight);
    if (f64x2.extract_lane(bw, 1) > 0) {
      let light = v128.load32_zero(at);
      light = v128.load32_lane(at + plane, light, 1);
      light = f32x4.pmax(f32x4.pmin(light, f32x4.splat(MOST_LIGHT)), f32x4.splat(-MOST_LIGHT));
      rg = stepsOf(light, weight);
      light = f32x4.splat(1);
      light = v128.load32_lane(at + 2 * plane, light, 0);
      light = f32x4.pmax(f32x4.pmin(light, f32x4.splat(MOST_LIGHT)), f32x4.splat(-MOST_LIGHT));
      bw = stepsOf(light, weight);
    } else bw = rg;
    if (coarse) {
      // Two pixels of a row have one cell: together they are added faster.
      const x = (x0 + <i32>(pixel - begin)) >> 1;
      const own = cells + <usize>((((y0 + y) >> 1) - firstY) * wide + x - firstX) * PIXEL;
      if (own !== cellAt) {
        if (cellAt !== 0) add(cellAt, cellRg, cellBw);
        cellAt = own;
        cellRg = rg;
        cellBw = bw;
      } else {
        cellRg = f64x2.add(cellRg, rg);
        cellBw = f64x2.add(cellBw, bw);
      }
      continue;
    }
    const to = beside + <usize>run * PIXEL;
    v128.store(to, rg);
    v128.store(to, bw, 16);
    run++;
    before = pixel;
  }
  if (!coarse) {
    const x = x0 + <i32>(before - begin) - run + 1;
    alongRows(beside, run, x - left, y0 + y - upper, top, rows, spans, across, down, sums);
    return;
  }
  add(cellAt, cellRg, cellBw);
  const endY = ((y0 + y) >> 1) - firstY;
  for (y = ((y0 + <i32>(load<u32>(pixels) / <u32>width)) >> 1) - firstY; y <= endY; y++) {
    const row = cells + <usize>(y * wide) * PIXEL;
    for (let x = 0; x < wide; x++) {
      const first = x;
      while (x < wide && load<f64>(row + <usize>x * PIXEL, 24) !== 0) x++;
      if (x === first) continue;
      const light = row + <usize>first * PIXEL;
      const at = first + firstX - left;
      alongRows(light, x - first, at, y + firstY - upper, top, rows, spans, across, down, sums);
      memory.fill(light, 0, <usize>(x - first) * PIXEL);
    }
  }
}

/** Differences along rows to sums. */
export function total(sums: usize, across: i32, down: i32): void {
  for (let y = 0; y < down; y++) {
    let rg = f64x2.splat(0);
    let bw = f64x2.splat(0);
    for (let x = 0; x < across; x++, sums += PIXEL) {
      rg = f64x2.add(rg, v128.load(sums));
      bw = f64x2.add(bw, v128.load(sums, 16));
      v128.store(sums, rg);
      v128.store(sums, bw, 16);
    }
  }
}

/** One, two and one of three numbers above each other. */
function softDown(above: usize, own: usize, below: usize): v128 {
  const twice = f64x2.mul(f64x2.splat(2), v128.load(own));
  return f64x2.add(f64x2.add(v128.load(above), twice), v128.load(below));
}

/**
 * Lays sums, made light by `norm`, behind what lies in the pixels (`x0`, `y0`) to (`x1`, `y1`) of an area; `laid` is that
 * of its first pixel (`ax`, `ay`), `width` its width. `map` has a number for each of its pixels: those with `is` are
 * meant, all of them if that is below 0.
 */
export function lay(
  sums: usize,
  left: i32,
  upper: i32,
  across: i32,
  cell: i32,
  norm: f64,
  laid: usize,
  ax: i32,
  ay: i32,
  width: i32,
  x0: i32,
  y0: i32,
  x1: i32,
  y1: i32,
  map: usize,
  is: i32,
): void {
  const line = <usize>across * PIXEL;
  const coarse = cell === 2;
  const two = f64x2.splat(2);
  const three = f64x2.splat(3);
  for (let y = y0; y < y1; y++) {
    const own = sums + <usize>((coarse ? y >> 1 : y) - upper) * line;
    const above = own - line;
    const below = own + line;
    // Of cells of 2x2 pixels only the row that is nearer counts beside their own.
    const near = y & 1 ? below : above;
    // Columns of fine cells, softened down: those on both sides of the next pixel, as it goes along.
    let leftRg = f64x2.splat(0);
    let leftBw = leftRg;
    let midRg = leftRg;
    let midBw = leftRg;
    if (!coarse) {
      const at = <usize>(x0 - 1 - left) * PIXEL;
      leftRg = softDown(above + at, own + at, below + at);
      leftBw = softDown(above + at + 16, own + at + 16, below + at + 16);
      midRg = softDown(above + at + PIXEL, own + at + PIXEL, below + at + PIXEL);
      midBw = softDown(above + at + PIXEL + 16, own + at + PIXEL + 16, below + at + PIXEL + 16);
    }
    for (let x = x0; x < x1; x++) {
      const pixel = <usize>((y - ay) * width + x - ax);
      const at = <usize>((coarse ? x >> 1 : x) - left) * PIXEL;
      let rg: v128;
      let bw: v128;
      if (coarse) {
        if (is >= 0 && load<u8>(map + pixel) !== <u8>is) continue;
        const beside = x & 1 ? at + PIXEL : at - PIXEL;
        rg = f64x2.add(f64x2.mul(three, v128.load(own + at)), v128.load(near + at));
        bw = f64x2.add(f64x2.mul(three, v128.load(own + at, 16)), v128.load(near + at, 16));
        rg = f64x2.add(
          f64x2.mul(three, rg),
          f64x2.add(f64x2.mul(three, v128.load(own + beside)), v128.load(near + beside)),
        );
        bw = f64x2.add(
          f64x2.mul(three, bw),
          f64x2.add(f64x2.mul(three, v128.load(own + beside, 16)), v128.load(near + beside, 16)),
        );
      } else {
        const b = at + PIXEL;
        const nextRg = softDown(above + b, own + b, below + b);
        const nextBw = softDown(above + b + 16, own + b + 16, below + b + 16);
        rg = f64x2.add(f64x2.add(leftRg, f64x2.mul(two, midRg)), nextRg);
        bw = f64x2.add(f64x2.add(leftBw, f64x2.mul(two, midBw)), nextBw);
        leftRg = midRg;
        leftBw = midBw;
        midRg = nextRg;
        midBw = nextBw;
        if (is >= 0 && load<u8>(map + pixel) !== <u8>is) continue;
      }
      const cover = f64x2.extract_lane(bw, 1) * norm;
      const to = laid + pixel * PIXEL;
      const seen = min(cover, 1 - load<f64>(to, 24));
      if (!(seen > 0)) continue;
      const share = (seen / cover) * norm;
      v128.store(to, f64x2.add(v128.load(to), f64x2.mul(rg, f64x2.splat(share))));
      store<f64>(to, load<f64>(to, 16) + f64x2.extract_lane(bw, 0) * share, 16);
      store<f64>(to, load<f64>(to, 24) + seen, 24);
    }
  }
}
