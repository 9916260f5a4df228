/**
 * The ID index of a band of rows: from pixels with ranks of IDs to runs of equal ID and coverage.
 * `idindex/band.ts` says how it works; this is its loop. The caller lays out all memory from `heap()` on.
 */
/** Coverage that has no ID counts from here on; less is rounding by the writer. */
const LEAST_NOTHING: f32 = 0.004;
const NO_SLOT: u64 = 1 << 40;
/** Sums of coverage up to this are rounding. */
const MOST_SUM: f32 = 1.01;

/** First address that is free for the caller. */
export function heap(): usize {
  return (__heap_base + 63) & ~63;
}

let tableAt: usize = 0;
let tableMask: u32 = 0;
let idsAt: usize = 0;
let runsOfAt: usize = 0;
let pixelsAt: usize = 0;
let coverageAt: usize = 0;
let slots: u32 = 0;
/** None at first: a number no 32-bit ID has. */
let lastId: u64 = NO_SLOT;
let lastSlot: u32 = 0;
let runsAt: usize = 0;
let runs: u32 = 0;
let mostRuns: u32 = 0;
/** Bytes from one array of the runs to the next. */
let plane: usize = 0;
let over: u32 = 0;
let broken: u32 = 0;

/**
 * @param table pairs of ID and slot + 1, `mask + 1` of them, zeroed
 * @param ids of each slot; `runsOf`, `pixels` (32 bits) and `coverage` (64 bits) as well
 * @param out arrays of `most` numbers each: slot, pixel, length and coverage of the runs
 */
export function begin(
  table: usize,
  mask: u32,
  ids: usize,
  runsOf: usize,
  pixels: usize,
  coverage: usize,
  out: usize,
  most: u32,
): void {
  tableAt = table;
  tableMask = mask;
  idsAt = ids;
  runsOfAt = runsOf;
  pixelsAt = pixels;
  coverageAt = coverage;
  runsAt = out;
  mostRuns = most;
  plane = 4 * <usize>most;
  slots = 0;
  lastId = NO_SLOT;
  runs = 0;
  over = 0;
  broken = 0;
}
export function slotCount(): u32 {
  return slots;
}
export function runCount(): u32 {
  return runs;
}
/** Pixels whose coverages sum to more than 1. */
export function overCount(): u32 {
  return over;
}
/** Pixels whose coverages are not numbers. */
export function brokenCount(): u32 {
  return broken;
}

function slotOf(id: u32): u32 {
  let at = (id * 0x9e3779b1) >>> 7;
  while (true) {
    at &= tableMask;
    const entry = tableAt + 8 * at;
    const slot = load<u32>(entry + 4);
    if (slot == 0) {
      store<u32>(entry, id);
      store<u32>(entry + 4, slots + 1);
      store<u32>(idsAt + 4 * slots, id);
      store<u32>(runsOfAt + 4 * slots, 0);
      store<u32>(pixelsAt + 4 * slots, 0);
      store<f64>(coverageAt + 8 * slots, 0);
      return slots++;
    }
    if (load<u32>(entry) == id) return slot - 1;
    at++;
  }
}

/** Adds a run; of its pixels `again` were met in an earlier rank. */
function add(id: u32, pixel: u32, length: u32, coverage: f32, again: u32): void {
  // Neighbours are mostly of the same ID.
  const slot = <u64>id == lastId ? lastSlot : slotOf(id);
  lastId = <u64>id;
  lastSlot = slot;
  store<u32>(runsOfAt + 4 * slot, load<u32>(runsOfAt + 4 * slot) + 1);
  store<u32>(pixelsAt + 4 * slot, load<u32>(pixelsAt + 4 * slot) + length - again);
  store<f64>(coverageAt + 8 * slot, load<f64>(coverageAt + 8 * slot) + <f64>length * <f64>coverage);
  const out = runsAt + 4 * runs++;
  store<u32>(out, slot);
  store<u32>(out + plane, pixel);
  store<u32>(out + 2 * plane, length);
  store<f32>(out + 3 * plane, coverage);
}

/** True if the coverages of any of the 16 numbers from `p` on is above 0. */
function anyAbove(p: usize): bool {
  const zero = f32x4.splat(0);
  return v128.any_true(
    v128.or(
      v128.or(f32x4.gt(v128.load(p), zero), f32x4.gt(v128.load(p, 16), zero)),
      v128.or(f32x4.gt(v128.load(p, 32), zero), f32x4.gt(v128.load(p, 48), zero)),
    ),
  );
}

/** True if any of `n` numbers is not 0: negative ones and those that are not numbers count. */
export function anyPresent(p: usize, n: u32): bool {
  const end = p + 4 * <usize>n;
  const zero = f32x4.splat(0);
  for (; p + 16 <= end; p += 16) if (v128.any_true(f32x4.ne(v128.load(p), zero))) return true;
  for (; p < end; p += 4) if (load<f32>(p) != 0) return true;
  return false;
}

/**
 * One row. `ids` and `coverage` are the first ranks' planes; the next rank's lie `stride` bytes further. `named` and
 * `all` are `width` numbers of scratch with room for 16 more. Returns false if there is no room for another row.
 */
export function row(
  ids: usize,
  coverage: usize,
  stride: u32,
  ranks: u32,
  width: u32,
  pixel: u32,
  named: usize,
  all: usize,
): bool {
  if (runs + width * (ranks + 1) > mostRuns || <u32>2 * (slots + width * ranks + 1) > tableMask) return false;
  memory.fill(named, 0, 4 * width);
  memory.fill(all, 0, 4 * width);
  for (let rank: u32 = 0; rank < ranks; rank++) {
    const a = ids + rank * stride;
    const c = coverage + rank * stride;
    for (let x: u32 = 0; x < width; x += 4) {
      if (x + 4 <= width) v128.store(all + 4 * x, f32x4.add(v128.load(all + 4 * x), v128.load(c + 4 * x)));
      else
        for (let k = x; k < width; k++)
          store<f32>(all + 4 * k, load<f32>(all + 4 * k) + load<f32>(c + 4 * k));
    }
    let x: u32 = 0;
    while (x < width) {
      while (x + 16 <= width && !anyAbove(c + 4 * x)) x += 16;
      while (x < width && !(load<f32>(c + 4 * x) > 0)) x++;
      if (x >= width) break;
      const id = load<u32>(a + 4 * x);
      const bits = load<u32>(c + 4 * x);
      const from = x++;
      if (x < width && load<u32>(a + 4 * x) == id && load<u32>(c + 4 * x) == bits) {
        const sameId = i32x4.splat(id);
        const sameBits = i32x4.splat(bits);
        while (
          x + 4 <= width &&
          i32x4.all_true(
            v128.and(i32x4.eq(v128.load(a + 4 * x), sameId), i32x4.eq(v128.load(c + 4 * x), sameBits)),
          )
        )
          x += 4;
        while (x < width && load<u32>(a + 4 * x) == id && load<u32>(c + 4 * x) == bits) x++;
      }
      if (id == 0) continue;
      const value = reinterpret<f32>(bits);
      let again: u32 = 0;
      let k = from;
      const values = f32x4.splat(value);
      for (; k + 4 <= x; k += 4) v128.store(named + 4 * k, f32x4.add(v128.load(named + 4 * k), values));
      for (; k < x; k++) store<f32>(named + 4 * k, load<f32>(named + 4 * k) + value);
      if (rank > 0)
        for (k = from; k < x; k++)
          for (let lower: u32 = 0; lower < rank; lower++)
            if (
              load<u32>(ids + lower * stride + 4 * k) == id &&
              load<f32>(coverage + lower * stride + 4 * k) > 0
            ) {
              again++;
              break;
            }
      add(id, pixel + from, x - from, value, again);
    }
  }
  const one = f32x4.splat(1);
  const least = f32x4.splat(LEAST_NOTHING);
  for (let x: u32 = 0; x < width;) {
    if (x + 4 <= width && !v128.any_true(f32x4.gt(f32x4.sub(one, v128.load(named + 4 * x)), least))) {
      x += 4;
      continue;
    }
    const left: f32 = 1 - load<f32>(named + 4 * x);
    const from = x++;
    if (!(left > LEAST_NOTHING)) continue;
    while (x < width && <f32>(1 - load<f32>(named + 4 * x)) == left) x++;
    add(0, pixel + from, x - from, left, 0);
  }
  const most = f32x4.splat(MOST_SUM);
  for (let x: u32 = 0; x < width; x++) {
    if (x + 4 <= width && i32x4.all_true(f32x4.le(v128.load(all + 4 * x), most))) {
      x += 3;
      continue;
    }
    const sum = load<f32>(all + 4 * x);
    if (sum <= MOST_SUM) continue;
    if (sum - sum == 0) over++;
    else broken++;
  }
  return true;
}
