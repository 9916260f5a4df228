/**
 * What the mixed pixels of a tile are made of; `mixtures/solve.ts` does the same in plain code and explains it. The
 * caller fills the finest level, everything else is made here. A vector holds the parts of a pixel, or a colour.
 */
const LEVELS: i32 = 5;
const SIDE: i32 = 160;
const MEMBERS: i32 = 8;
const AROUND: i32 = 48;
const TILE: i32 = 64;
const PARTS: i32 = 4;
const OTHERS: u32 = 0xffffffff;
const NOBODY: u32 = 0xfffffffe;
const PURE: f32 = 0.996;
const LEAST: f32 = 0.004;
const RIDGE: f64 = 1e-4;
const VARIANCE: f64 = 0.005;
const ROUNDS: i32 = 6;
/** Samples of the largest window, with room for more. */
const SAMPLES: i32 = 96;
const WIDTHS: i32 = 10;

const red = memory.data(4 * 34100, 64);
const green = memory.data(4 * 34100, 64);
const blue = memory.data(4 * 34100, 64);
const counts = memory.data(34100, 64);
const slots = memory.data(32 * 34100, 64);
const coverages = memory.data(32 * 34100, 64);

/** Windows: number of samples of each, then level, dx, dy, and weight of each sample, 16 bytes. */
const windows = memory.data(10 * (16 + 96 * 16), 64);
const WINDOW: usize = 16 + 96 * 16;

/** Of each sample: shares of the parts, colour, weight. */
const shares = memory.data(16 * 96, 64);
const colours = memory.data(16 * 96, 64);
const weights = memory.data(4 * 96, 64);
/** Matrix and right sides, in numbers of 64 bits; colours and variances of the parts. */
const matrix = memory.data(8 * 16, 64);
const sides = memory.data(8 * 16, 64);
const found = memory.data(8 * 16, 64);
const sigma = memory.data(8 * 4, 64);
const lanes = memory.data(16, 64);

const places = memory.data(2 * 4096, 64);
const firsts = memory.data(4 * 4100, 64);
const partSlots = memory.data(16 * 4096, 64);
const partShares = memory.data(16 * 4096, 64);
const partRed = memory.data(16 * 4096, 64);
const partGreen = memory.data(16 * 4096, 64);
const partBlue = memory.data(16 * 4096, 64);

/** Runs of coverage in the window: first cell, the one after the last, slot, coverage; 16 bytes each. */
const runs = memory.data(16 * 4096, 64);

export function heap(): usize {
  return __heap_base;
}
export function runsAt(): usize {
  return runs;
}
export function redAt(): usize {
  return red;
}
export function greenAt(): usize {
  return green;
}
export function blueAt(): usize {
  return blue;
}
export function windowsAt(): usize {
  return windows;
}
export function placesAt(): usize {
  return places;
}
export function firstsAt(): usize {
  return firsts;
}
export function partSlotsAt(): usize {
  return partSlots;
}
export function partSharesAt(): usize {
  return partShares;
}
export function partRedAt(): usize {
  return partRed;
}
export function partGreenAt(): usize {
  return partGreen;
}
export function partBlueAt(): usize {
  return partBlue;
}

/** First cell of a level. */
const starts = memory.data(4 * 8, 64);

function sum4(v: v128): f32 {
  const half = f32x4.add(v, v128.shuffle<f32>(v, v, 2, 3, 0, 1));
  return f32x4.extract_lane(half, 0) + f32x4.extract_lane(half, 1);
}

function add(cell: i32, member: u32, share: f32): void {
  const n = <i32>load<i8>(counts + cell);
  const ids = slots + <usize>cell * 32;
  const own = coverages + <usize>cell * 32;
  for (let k: i32 = 0; k < n; k++)
    if (load<u32>(ids + 4 * k) == member) {
      store<f32>(own + 4 * k, load<f32>(own + 4 * k) + share);
      return;
    }
  if (n == MEMBERS) return;
  store<u32>(ids + 4 * n, member);
  store<f32>(own + 4 * n, share);
  store<i8>(counts + cell, <i8>(n + 1));
}

/** Empties the finest level: -1 members where there is no picture, or no finite colour. */
export function begin(first: i32, end: i32, top: i32, bottom: i32): void {
  memory.fill(counts, 0xff, SIDE * SIDE);
  for (let y = top; y < bottom; y++)
    for (let cell = y * SIDE + first; cell < y * SIDE + end; cell++) {
      // What is not finite stays no number if it is taken from itself.
      const r = load<f32>(red + 4 * cell);
      const g = load<f32>(green + 4 * cell);
      const b = load<f32>(blue + 4 * cell);
      if (r - r + (g - g) + (b - b) == 0) store<i8>(counts + cell, 0);
    }
}

/** Adds so many of the runs to the finest level. */
export function addRuns(count: i32): void {
  const last = runs + 16 * <usize>count;
  for (let run = runs; run < last; run += 16) {
    const end = load<i32>(run + 4);
    const member = load<u32>(run + 8);
    const share = load<f32>(run + 12);
    for (let cell = load<i32>(run); cell < end; cell++)
      if (load<i8>(counts + cell) >= 0) add(cell, member, share);
  }
}

function sort(cell: i32): void {
  const ids = slots + <usize>cell * 32;
  const own = coverages + <usize>cell * 32;
  const n = <i32>load<i8>(counts + cell);
  for (let i: i32 = 1; i < n; i++) {
    const s = load<u32>(ids + 4 * i);
    const c = load<f32>(own + 4 * i);
    let k = i;
    for (; k > 0 && load<f32>(own + 4 * (k - 1)) < c; k--) {
      store<u32>(ids + 4 * k, load<u32>(ids + 4 * (k - 1)));
      store<f32>(own + 4 * k, load<f32>(own + 4 * (k - 1)));
    }
    store<u32>(ids + 4 * k, s);
    store<f32>(own + 4 * k, c);
  }
}

/** A cell of a coarser level that nobody has asked for yet. */
const UNKNOWN: i8 = -2;

/** Members of a cell; one of a coarser level is made when it is first asked for. */
function membersOf(l: i32, cell: i32): i32 {
  if (load<i8>(counts + cell) == UNKNOWN) join(l, cell);
  return <i32>load<i8>(counts + cell);
}

/** Makes a cell of four of the finer level. */
function join(l: i32, cell: i32): void {
  const fine = load<i32>(starts + 4 * (l - 1));
  const side = SIDE >> l;
  const place = cell - load<i32>(starts + 4 * l);
  const corner = fine + 4 * (place / side) * side + 2 * (place % side);
  let n: f32 = 0;
  for (let q: i32 = 0; q < 4; q++) if (membersOf(l - 1, corner + 2 * (q >> 1) * side + (q & 1)) >= 0) n += 1;
  if (n == 0) {
    store<i8>(counts + cell, -1);
    return;
  }
  store<i8>(counts + cell, 0);
  let r: f32 = 0;
  let g: f32 = 0;
  let b: f32 = 0;
  for (let q: i32 = 0; q < 4; q++) {
    const p = corner + 2 * (q >> 1) * side + (q & 1);
    const members = <i32>load<i8>(counts + p);
    if (members < 0) continue;
    r += load<f32>(red + 4 * p) / n;
    g += load<f32>(green + 4 * p) / n;
    b += load<f32>(blue + 4 * p) / n;
    for (let k: i32 = 0; k < members; k++)
      add(cell, load<u32>(slots + <usize>p * 32 + 4 * k), load<f32>(coverages + <usize>p * 32 + 4 * k) / n);
  }
  store<f32>(red + 4 * cell, r);
  store<f32>(green + 4 * cell, g);
  store<f32>(blue + 4 * cell, b);
  if (load<i8>(counts + cell) > 1) sort(cell);
}

/** Puts the members of the finest level in order, and forgets the coarser ones. */
function beginLevels(): void {
  for (let cell: i32 = 0; cell < SIDE * SIDE; cell++) if (load<i8>(counts + cell) > 1) sort(cell);
  let start: i32 = 0;
  for (let l: i32 = 0; l < LEVELS; l++) {
    store<i32>(starts + 4 * l, start);
    start += (SIDE >> l) * (SIDE >> l);
  }
  memory.fill(counts + SIDE * SIDE, <u8>UNKNOWN, start - SIDE * SIDE);
}

/** The pixel that is being looked at: slots and shares of its parts, a vector each. */
let n: i32 = 0;
let others: bool = false;
let slot: v128 = i32x4.splat(0);
let share: v128 = f32x4.splat(0);
let count: i32 = 0;
let foreign: f32 = 0;

function partsOf(cell: i32): bool {
  const members = <i32>load<i8>(counts + cell);
  const ids = slots + <usize>cell * 32;
  const own = coverages + <usize>cell * 32;
  n = 0;
  others = false;
  if (members <= 0 || load<f32>(own) > PURE) return false;
  v128.store(lanes, i32x4.splat(NOBODY));
  slot = i32x4.splat(NOBODY);
  let left: f32 = 1;
  const most = min(members, PARTS);
  for (; n < most; n++) {
    store<u32>(lanes + 4 * n, load<u32>(ids + 4 * n));
    left -= load<f32>(own + 4 * n);
  }
  share = f32x4.splat(0);
  if (n > 0) share = f32x4.replace_lane(share, 0, load<f32>(own));
  if (n > 1) share = f32x4.replace_lane(share, 1, load<f32>(own + 4));
  if (n > 2) share = f32x4.replace_lane(share, 2, load<f32>(own + 8));
  if (n > 3) share = f32x4.replace_lane(share, 3, load<f32>(own + 12));
  if (left > LEAST) {
    if (n == PARTS) left += load<f32>(own + 4 * --n);
    store<u32>(lanes + 4 * n, OTHERS);
    if (n == 1) share = f32x4.replace_lane(share, 1, left);
    else if (n == 2) share = f32x4.replace_lane(share, 2, left);
    else share = f32x4.replace_lane(share, 3, left);
    n++;
    others = true;
  }
  slot = v128.load(lanes);
  return n > 1;
}

/** Shares of the pixel's parts in a cell; `foreign` is what is none of them. */
function sharesIn(cell: i32): v128 {
  const members = <i32>load<i8>(counts + cell);
  const ids = slots + <usize>cell * 32;
  const own = coverages + <usize>cell * 32;
  let s = f32x4.splat(0);
  for (let k: i32 = 0; k < members; k++)
    s = f32x4.add(
      s,
      v128.and(i32x4.eq(slot, v128.load32_splat(ids + 4 * k)), v128.load32_splat(own + 4 * k)),
    );
  const rest: f32 = 1 - sum4(s);
  foreign = rest;
  if (!others) return s;
  foreign = 0;
  return v128.bitselect(f32x4.splat(max<f32>(rest, 0)), s, i32x4.eq(slot, i32x4.splat(OTHERS)));
}

/** Number of the window: the more any part's share changes over 5x5 pixels, the narrower. */
function windowAt(x: i32, y: i32): usize {
  let low = f32x4.splat(2);
  let high = f32x4.splat(-1);
  for (let dy: i32 = -2; dy <= 2; dy++)
    for (let dx: i32 = -2; dx <= 2; dx++) {
      const cell = (y + dy) * SIDE + x + dx;
      if (load<i8>(counts + cell) < 0) continue;
      const s = sharesIn(cell);
      low = f32x4.min(low, s);
      high = f32x4.max(high, s);
    }
  const range = f32x4.sub(high, low);
  const most = max(
    max(f32x4.extract_lane(range, 0), f32x4.extract_lane(range, 1)),
    max(f32x4.extract_lane(range, 2), f32x4.extract_lane(range, 3)),
  );
  const width: f32 = 3 / max<f32>(most, 0.02) - 2.5;
  let z: usize = 0;
  while (z < <usize>(WIDTHS - 1) && load<f32>(windows + z * WINDOW + 4) < width) z++;
  return windows + z * WINDOW;
}

function gather(x: i32, y: i32, window: usize): void {
  count = 0;
  const samples = load<i32>(window);
  for (let k: i32 = 0; k < samples; k++) {
    const sample = window + 16 + 16 * k;
    const l = load<i32>(sample);
    const cell =
      load<i32>(starts + 4 * l) +
      ((y >> l) + load<i32>(sample + 4)) * (SIDE >> l) +
      (x >> l) +
      load<i32>(sample + 8);
    if (membersOf(l, cell) < 0) continue;
    const s = sharesIn(cell);
    if (foreign > 0.5) continue;
    v128.store(shares + 16 * count, s);
    let c = f32x4.splat(0);
    c = f32x4.replace_lane(c, 0, load<f32>(red + 4 * cell));
    c = f32x4.replace_lane(c, 1, load<f32>(green + 4 * cell));
    c = f32x4.replace_lane(c, 2, load<f32>(blue + 4 * cell));
    v128.store(colours + 16 * count, c);
    store<f32>(weights + 4 * count, load<f32>(sample + 12) / (1 + 400 * foreign * foreign));
    count++;
  }
}

function spread(at: usize, a: v128, b: v128, c: v128, d: v128): void {
  row(at, a);
  row(at + 32, b);
  row(at + 64, c);
  row(at + 96, d);
}
function row(at: usize, v: v128): void {
  v128.store(at, f64x2.promote_low_f32x4(v));
  v128.store(at + 16, f64x2.promote_low_f32x4(v128.shuffle<f32>(v, v, 2, 3, 0, 1)));
}

function solve(cell: i32): void {
  let a0 = f32x4.splat(0);
  let a1 = a0;
  let a2 = a0;
  let a3 = a0;
  let b0 = a0;
  let b1 = a0;
  let b2 = a0;
  let b3 = a0;
  let total: f32 = 0;
  for (let k: i32 = 0; k < count; k++) {
    const s = v128.load(shares + 16 * k);
    const c = v128.load(colours + 16 * k);
    const weight = load<f32>(weights + 4 * k);
    total += weight;
    const ws = f32x4.mul(s, f32x4.splat(weight));
    const w0 = v128.shuffle<f32>(ws, ws, 0, 0, 0, 0);
    const w1 = v128.shuffle<f32>(ws, ws, 1, 1, 1, 1);
    const w2 = v128.shuffle<f32>(ws, ws, 2, 2, 2, 2);
    const w3 = v128.shuffle<f32>(ws, ws, 3, 3, 3, 3);
    a0 = f32x4.add(a0, f32x4.mul(w0, s));
    a1 = f32x4.add(a1, f32x4.mul(w1, s));
    a2 = f32x4.add(a2, f32x4.mul(w2, s));
    a3 = f32x4.add(a3, f32x4.mul(w3, s));
    b0 = f32x4.add(b0, f32x4.mul(w0, c));
    b1 = f32x4.add(b1, f32x4.mul(w1, c));
    b2 = f32x4.add(b2, f32x4.mul(w2, c));
    b3 = f32x4.add(b3, f32x4.mul(w3, c));
  }
  spread(matrix, a0, a1, a2, a3);
  spread(sides, b0, b1, b2, b3);
  const ridge = RIDGE * <f64>total;
  const r = ridge * <f64>load<f32>(red + 4 * cell);
  const g = ridge * <f64>load<f32>(green + 4 * cell);
  const b = ridge * <f64>load<f32>(blue + 4 * cell);
  for (let i: i32 = 0; i < n; i++) {
    store<f64>(matrix + 40 * i, load<f64>(matrix + 40 * i) + ridge);
    store<f64>(sides + 32 * i, load<f64>(sides + 32 * i) + r);
    store<f64>(sides + 32 * i + 8, load<f64>(sides + 32 * i + 8) + g);
    store<f64>(sides + 32 * i + 16, load<f64>(sides + 32 * i + 16) + b);
  }
  for (let j: i32 = 0; j < n; j++) {
    let d = load<f64>(matrix + 40 * j);
    for (let k: i32 = 0; k < j; k++) {
      const v = load<f64>(matrix + 32 * j + 8 * k);
      d -= v * v;
    }
    d = sqrt(max(d, 1e-12));
    store<f64>(matrix + 40 * j, d);
    for (let i = j + 1; i < n; i++) {
      let v = load<f64>(matrix + 32 * i + 8 * j);
      for (let k: i32 = 0; k < j; k++)
        v -= load<f64>(matrix + 32 * i + 8 * k) * load<f64>(matrix + 32 * j + 8 * k);
      store<f64>(matrix + 32 * i + 8 * j, v / d);
    }
  }
  for (let p: i32 = 0; p < 3; p++) {
    for (let i: i32 = 0; i < n; i++) {
      let v = load<f64>(sides + 32 * i + 8 * p);
      for (let k: i32 = 0; k < i; k++)
        v -= load<f64>(matrix + 32 * i + 8 * k) * load<f64>(found + 32 * k + 8 * p);
      store<f64>(found + 32 * i + 8 * p, v / load<f64>(matrix + 40 * i));
    }
    for (let i = n - 1; i >= 0; i--) {
      let v = load<f64>(found + 32 * i + 8 * p);
      for (let k = i + 1; k < n; k++)
        v -= load<f64>(matrix + 32 * k + 8 * i) * load<f64>(found + 32 * k + 8 * p);
      store<f64>(found + 32 * i + 8 * p, v / load<f64>(matrix + 40 * i));
    }
  }
}

function colourOf(i: i32): v128 {
  return v128.shuffle<f32>(
    f32x4.demote_f64x2_zero(v128.load(found + 32 * i)),
    f32x4.demote_f64x2_zero(v128.load(found + 32 * i + 16)),
    0,
    1,
    4,
    6,
  );
}

function variances(): f64 {
  const none = f32x4.splat(0);
  const f0 = colourOf(0);
  const f1 = colourOf(1);
  const f2 = n > 2 ? colourOf(2) : none;
  const f3 = n > 3 ? colourOf(3) : none;
  let m0 = none;
  let m1 = none;
  let m2 = none;
  let m3 = none;
  let v = none;
  let total: f32 = 0;
  let mean: f64 = 0;
  for (let k: i32 = 0; k < count; k++) {
    const s = v128.load(shares + 16 * k);
    let r = v128.load(colours + 16 * k);
    r = f32x4.sub(r, f32x4.mul(v128.shuffle<f32>(s, s, 0, 0, 0, 0), f0));
    r = f32x4.sub(r, f32x4.mul(v128.shuffle<f32>(s, s, 1, 1, 1, 1), f1));
    r = f32x4.sub(r, f32x4.mul(v128.shuffle<f32>(s, s, 2, 2, 2, 2), f2));
    r = f32x4.sub(r, f32x4.mul(v128.shuffle<f32>(s, s, 3, 3, 3, 3), f3));
    const r2 = sum4(f32x4.mul(r, r));
    const weight = load<f32>(weights + 4 * k);
    total += weight;
    mean += <f64>(weight * r2);
    const q = f32x4.mul(s, s);
    const wq = f32x4.mul(q, f32x4.splat(weight));
    m0 = f32x4.add(m0, f32x4.mul(v128.shuffle<f32>(wq, wq, 0, 0, 0, 0), q));
    m1 = f32x4.add(m1, f32x4.mul(v128.shuffle<f32>(wq, wq, 1, 1, 1, 1), q));
    m2 = f32x4.add(m2, f32x4.mul(v128.shuffle<f32>(wq, wq, 2, 2, 2, 2), q));
    m3 = f32x4.add(m3, f32x4.mul(v128.shuffle<f32>(wq, wq, 3, 3, 3, 3), q));
    v = f32x4.add(v, f32x4.mul(wq, f32x4.splat(r2)));
  }
  spread(matrix, m0, m1, m2, m3);
  row(sides, v);
  mean /= <f64>total + 1e-30;
  const ridge = VARIANCE * <f64>total;
  for (let i: i32 = 0; i < n; i++) {
    store<f64>(matrix + 40 * i, load<f64>(matrix + 40 * i) + ridge);
    store<f64>(sides + 8 * i, load<f64>(sides + 8 * i) + ridge * mean);
    store<f64>(sigma + 8 * i, mean);
  }
  for (let round: i32 = 0; round < ROUNDS; round++)
    for (let i: i32 = 0; i < n; i++) {
      let t = load<f64>(sides + 8 * i);
      for (let j: i32 = 0; j < n; j++)
        if (j != i) t -= load<f64>(matrix + 32 * i + 8 * j) * load<f64>(sigma + 8 * j);
      store<f64>(sigma + 8 * i, max<f64>(0, t / load<f64>(matrix + 40 * i)));
    }
  let most: f64 = 1e-12;
  for (let i: i32 = 0; i < n; i++) most = max(most, load<f64>(sigma + 8 * i));
  for (let i: i32 = 0; i < n; i++) store<f64>(sigma + 8 * i, load<f64>(sigma + 8 * i) + VARIANCE * most);
  return most;
}

function reweigh(most: f64): void {
  for (let i = n; i < PARTS; i++) store<f64>(sigma + 8 * i, 0);
  const v = v128.shuffle<f32>(
    f32x4.demote_f64x2_zero(f64x2.mul(v128.load(sigma), f64x2.splat(1 / most))),
    f32x4.demote_f64x2_zero(f64x2.mul(v128.load(sigma + 16), f64x2.splat(1 / most))),
    0,
    1,
    4,
    5,
  );
  for (let k: i32 = 0; k < count; k++) {
    const s = v128.load(shares + 16 * k);
    store<f32>(
      weights + 4 * k,
      load<f32>(weights + 4 * k) / (sum4(f32x4.mul(f32x4.mul(s, s), v)) + <f32>0.05),
    );
  }
}

/** Whether a part takes some of the rest: every one at first, then those that are not held. */
function takes(round: i32, rest: f64, f: f64, a: f64, all: f64): bool {
  return round == 0 || (rest > 0 ? a * f < all : f > 0);
}

function shareRest(cell: i32): void {
  v128.store(lanes, share);
  for (let round: i32 = 0; round < 3; round++) {
    let clipped = false;
    for (let p: i32 = 0; p < 3; p++) {
      const all = <f64>load<f32>((p == 0 ? red : p == 1 ? green : blue) + 4 * cell);
      let rest = all;
      for (let i: i32 = 0; i < n; i++)
        rest -= <f64>load<f32>(lanes + 4 * i) * load<f64>(found + 32 * i + 8 * p);
      let sum: f64 = 0;
      for (let i: i32 = 0; i < n; i++) {
        const a = <f64>load<f32>(lanes + 4 * i);
        if (takes(round, rest, load<f64>(found + 32 * i + 8 * p), a, all))
          sum += a * a * load<f64>(sigma + 8 * i);
      }
      for (let i: i32 = 0; i < n; i++) {
        const a = <f64>load<f32>(lanes + 4 * i);
        let f = load<f64>(found + 32 * i + 8 * p);
        if (sum > 0 && takes(round, rest, f, a, all)) f += ((a * load<f64>(sigma + 8 * i)) / sum) * rest;
        if (all >= 0) {
          const held = min(all / a, max<f64>(0, f));
          if (held != f) clipped = true;
          f = held;
        }
        store<f64>(found + 32 * i + 8 * p, f);
      }
    }
    if (!clipped) return;
  }
}

/** Solves all mixed pixels of the tile; returns how many there are. */
export function solveTile(): i32 {
  beginLevels();
  let pixels: i32 = 0;
  let parts: i32 = 0;
  for (let place: i32 = 0; place < TILE * TILE; place++) {
    const x = AROUND + (place & (TILE - 1));
    const y = AROUND + place / TILE;
    const cell = y * SIDE + x;
    if (!partsOf(cell)) continue;
    gather(x, y, windowAt(x, y));
    solve(cell);
    reweigh(variances());
    solve(cell);
    variances();
    shareRest(cell);
    store<u16>(places + 2 * pixels, <u16>place);
    store<i32>(firsts + 4 * pixels, parts);
    pixels++;
    v128.store(lanes, share);
    for (let i: i32 = 0; i < n; i++) {
      store<f32>(partShares + 4 * parts, load<f32>(lanes + 4 * i));
      store<f32>(partRed + 4 * parts, <f32>load<f64>(found + 32 * i));
      store<f32>(partGreen + 4 * parts, <f32>load<f64>(found + 32 * i + 8));
      store<f32>(partBlue + 4 * parts, <f32>load<f64>(found + 32 * i + 16));
      parts++;
    }
    v128.store(lanes, slot);
    for (let i: i32 = 0; i < n; i++) store<u32>(partSlots + 4 * (parts - n + i), load<u32>(lanes + 4 * i));
  }
  store<i32>(firsts + 4 * pixels, parts);
  return pixels;
}
