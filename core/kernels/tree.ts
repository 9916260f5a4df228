/**
 * Builds search trees of four children a node with packets of four triangles in the leaves, as rays/tree.ts searches
 * them: by the binned surface area heuristic (Wald, "On fast Construction of SAH-based Bounding Volume Hierarchies",
 * 2007), a packet counting as the unit of work, and of two splits in a row the larger box first. The caller lays out all
 * memory from `heap()` on.
 */
import { MOVING_NODE_BYTES, MOVING_PACKET_BYTES, NODE_BYTES, PACKET_BYTES } from './rays/layout';

const BINS: i32 = 16;
/** Packets that a leaf can name, and up to how many triangles leaves are thought of at all. */
const MOST_PACKETS: i32 = 7;
const MOST_LEAF: i32 = 16;
/** Work of choosing between two boxes, in packets. */
const CHOICE: f32 = 0.4;
/** Splits in a row after which things are only halved, so that a ray's stack is deep enough. */
const DEEPEST: i32 = 40;

/** A child that is being thought of: its box (two vectors), its range of triangles, depth, and if it is a leaf. */
const CHILD_BYTES: usize = 48;
const FROM: usize = 32;
const TO: usize = 36;
const DEPTH: usize = 40;
const LEAF: usize = 44;
const FRAME_BYTES: usize = 4 * CHILD_BYTES;

let positions: usize = 0;
let ends: usize = 0;
let indices: usize = 0;
/** Two vectors a triangle; the numbers of triangles in their present order; and for each packet its first and last. */
let boxes: usize = 0;
let order: usize = 0;
let runs: usize = 0;
let nodes: usize = 0;
let nodeCount: i32 = 0;
let packetCount: i32 = 0;

const bins = memory.data(3 * 16 * 32, 16);
const counts = memory.data(3 * 16 * 4, 16);
const rights = memory.data(16 * 4, 16);
const rightCounts = memory.data(16 * 4, 16);
const frames = memory.data(128 * 192, 16);

export function heap(): usize {
  return (__heap_base + 63) & ~63;
}
export function nodesMade(): i32 {
  return nodeCount;
}
export function packetsMade(): i32 {
  return packetCount;
}

// inline
function low(box: usize): v128 {
  return v128.load(box);
}
// inline
function high(box: usize): v128 {
  return v128.load(box + 16);
}
// inline
function area(a: v128, b: v128): f32 {
  const d = f32x4.sub(b, a);
  const x = f32x4.extract_lane(d, 0);
  const y = f32x4.extract_lane(d, 1);
  const z = f32x4.extract_lane(d, 2);
  return x < 0 ? 0 : x * y + y * z + z * x;
}
// inline
function lane(v: v128, axis: i32): f32 {
  return axis == 0
    ? f32x4.extract_lane(v, 0)
    : axis == 1
      ? f32x4.extract_lane(v, 1)
      : f32x4.extract_lane(v, 2);
}
// inline
function vertex(from: usize, index: i32): v128 {
  const at = from + 12 * <usize>(<u32>index);
  const v = f32x4.splat(load<f32>(at));
  return f32x4.replace_lane(f32x4.replace_lane(v, 1, load<f32>(at + 4)), 2, load<f32>(at + 8));
}

const EMPTY_LOW: f32 = f32.MAX_VALUE;

/**
 * Builds the tree of `count` triangles from three vertices each. `endsAt` is where the vertices are when the shutter
 * closes, or 0: boxes then hold the whole way. `nodesAt` must be the end of what is laid out: memory grows there.
 */
export function build(
  count: i32,
  positionsAt: usize,
  endsAt: usize,
  indicesAt: usize,
  boxesAt: usize,
  orderAt: usize,
  runsAt: usize,
  nodesAt: usize,
): void {
  positions = positionsAt;
  ends = endsAt;
  indices = indicesAt;
  boxes = boxesAt;
  order = orderAt;
  runs = runsAt;
  nodes = nodesAt;
  nodeCount = packetCount = 0;
  let lowest = f32x4.splat(EMPTY_LOW);
  let highest = f32x4.splat(-EMPTY_LOW);
  for (let t = 0; t < count; t++) {
    store<i32>(order + 4 * t, t);
    const box = boxes + 32 * t;
    boxOf(t, positions, box);
    if (ends) {
      const a = low(box);
      const b = high(box);
      boxOf(t, ends, box);
      v128.store(box, f32x4.min(a, low(box)));
      v128.store(box, f32x4.max(b, high(box)), 16);
    }
    lowest = f32x4.min(lowest, low(box));
    highest = f32x4.max(highest, high(box));
  }
  const root = frames;
  v128.store(root, lowest);
  v128.store(root, highest, 16);
  store<i32>(root, 0, FROM);
  store<i32>(root, count, TO);
  store<i32>(root, 0, DEPTH);
  store<i32>(root, count <= 4 ? 1 : 0, LEAF);
  makeNode(frames, 1);
}

function boxOf(t: i32, from: usize, to: usize): void {
  const corner = indices + 12 * t;
  const a = vertex(from, load<i32>(corner));
  const b = vertex(from, load<i32>(corner, 4));
  const c = vertex(from, load<i32>(corner, 8));
  v128.store(to, f32x4.min(a, f32x4.min(b, c)));
  v128.store(to, f32x4.max(a, f32x4.max(b, c)), 16);
}

/** Makes a node of the children in a frame, opened up to four by falling area, and all below; gives its number. */
function makeNode(frame: usize, kids: i32): i32 {
  while (kids < 4) {
    let largest = -1;
    let most: f32 = -1;
    for (let i = 0; i < kids; i++) {
      const kid = frame + CHILD_BYTES * i;
      if (load<i32>(kid, LEAF)) continue;
      const size = area(low(kid), high(kid));
      // A size that is no number is split, too.
      if (largest < 0 || size > most) {
        most = size;
        largest = i;
      }
    }
    if (largest < 0) break;
    if (split(frame + CHILD_BYTES * largest, frame + CHILD_BYTES * kids)) kids++;
  }
  const number = nodeCount++;
  const bytes: usize = ends ? MOVING_NODE_BYTES : NODE_BYTES;
  const node = nodes + bytes * number;
  const missing = <isize>(node + bytes + 65536) - <isize>((<usize>memory.size()) << 16);
  // Room for many nodes at once: growing moves the whole memory.
  if (missing > 0) memory.grow(<i32>(missing >> 16) + 64);
  for (let i = 0; i < 4; i++) {
    const kid = frame + CHILD_BYTES * i;
    for (let axis = 0; axis < 3; axis++) {
      store<f32>(node + 16 * axis + 4 * i, i < kids ? lane(low(kid), axis) : Infinity);
      store<f32>(node + 48 + 16 * axis + 4 * i, i < kids ? lane(high(kid), axis) : -Infinity);
    }
    store<i32>(node + 96 + 4 * i, 0);
    if (ends && i < kids) moveBox(kid, node + 4 * i);
  }
  for (let i = 0; i < kids; i++) {
    const kid = frame + CHILD_BYTES * i;
    let code: i32;
    if (load<i32>(kid, LEAF)) code = makeLeaf(load<i32>(kid, FROM), load<i32>(kid, TO));
    else {
      const below = frame + FRAME_BYTES;
      memory.copy(below, kid, CHILD_BYTES);
      code = makeNode(below, 1);
    }
    store<i32>(node + 96 + 4 * i, code);
  }
  return number;
}

/** Where a child's box is as the shutter opens, and how its sides move until it closes: all between moves evenly. */
function moveBox(kid: usize, to: usize): void {
  let lowOpen = f32x4.splat(EMPTY_LOW);
  let highOpen = f32x4.splat(-EMPTY_LOW);
  let lowShut = lowOpen;
  let highShut = highOpen;
  for (let i = load<i32>(kid, FROM); i < load<i32>(kid, TO); i++) {
    const t = load<i32>(order + 4 * i);
    boxOf(t, positions, bins);
    lowOpen = f32x4.min(lowOpen, low(bins));
    highOpen = f32x4.max(highOpen, high(bins));
    boxOf(t, ends, bins);
    lowShut = f32x4.min(lowShut, low(bins));
    highShut = f32x4.max(highShut, high(bins));
  }
  // Corners are sums of rounded numbers where rays meet them.
  const room = f32x4.splat(2e-6);
  const size = f32x4.max(
    f32x4.max(f32x4.abs(lowOpen), f32x4.abs(highOpen)),
    f32x4.max(f32x4.abs(lowShut), f32x4.abs(highShut)),
  );
  const more = f32x4.mul(size, room);
  lowOpen = f32x4.sub(lowOpen, more);
  highOpen = f32x4.add(highOpen, more);
  const byLow = f32x4.sub(f32x4.sub(lowShut, more), lowOpen);
  const byHigh = f32x4.sub(f32x4.add(highShut, more), highOpen);
  for (let axis = 0; axis < 3; axis++) {
    store<f32>(to + 16 * axis, lane(lowOpen, axis));
    store<f32>(to + 48 + 16 * axis, lane(highOpen, axis));
    store<f32>(to + NODE_BYTES + 16 * axis, lane(byLow, axis));
    store<f32>(to + NODE_BYTES + 48 + 16 * axis, lane(byHigh, axis));
  }
}

function makeLeaf(from: i32, to: i32): i32 {
  const first = packetCount;
  for (let i = from; i < to; i += 4) {
    store<i32>(runs + 8 * packetCount, i);
    store<i32>(runs + 8 * packetCount++, min<i32>(i + 4, to), 4);
  }
  return ~((first << 3) | (packetCount - first));
}

/**
 * Splits a child in two: the first takes its place, the second goes to `other`. Marks it as a leaf and gives false where
 * that is less work.
 */
function split(kid: usize, other: usize): bool {
  const from = load<i32>(kid, FROM);
  const to = load<i32>(kid, TO);
  const depth = load<i32>(kid, DEPTH) + 1;
  const count = to - from;
  let middle = from + (count >> 1);
  const axis = depth > DEEPEST ? -1 : plan(kid, from, to);
  if (axis == -2 || (axis < 0 && count <= 4 * MOST_PACKETS)) {
    store<i32>(kid, 1, LEAF);
    return false;
  }
  if (axis >= 0) {
    const parted = part(axis, from, to);
    // Where numbers are none, all may fall to one side.
    if (parted > from && parted < to) middle = parted;
  }
  take(kid, from, middle, depth);
  take(other, middle, to, depth);
  return true;
}

/** Fills a child with a range of triangles. */
function take(kid: usize, from: i32, to: i32, depth: i32): void {
  let a = f32x4.splat(EMPTY_LOW);
  let b = f32x4.splat(-EMPTY_LOW);
  for (let i = from; i < to; i++) {
    const box = boxes + 32 * load<i32>(order + 4 * i);
    a = f32x4.min(a, low(box));
    b = f32x4.max(b, high(box));
  }
  v128.store(kid, a);
  v128.store(kid, b, 16);
  store<i32>(kid, from, FROM);
  store<i32>(kid, to, TO);
  store<i32>(kid, depth, DEPTH);
  store<i32>(kid, to - from <= 4 ? 1 : 0, LEAF);
}

/** Where centres lie at least, and how many bins there are to a unit, of the split that was planned; and its bin. */
let firstCentre: v128 = f32x4.splat(0);
let binScale: v128 = f32x4.splat(0);
let bestBin: i32 = 0;

// inline
function binsOf(t: i32): v128 {
  const box = boxes + 32 * t;
  // Twice the centre: the scale is halved instead.
  const b = f32x4.mul(f32x4.sub(f32x4.add(low(box), high(box)), firstCentre), binScale);
  return i32x4.min_s(i32x4.trunc_sat_f32x4_s(b), i32x4.splat(BINS - 1));
}

/** Chooses axis and bin of the split with the least work; -1 if there is none, -2 if a leaf is less work. */
function plan(kid: usize, from: i32, to: i32): i32 {
  let lowest = f32x4.splat(EMPTY_LOW);
  let highest = f32x4.splat(-EMPTY_LOW);
  for (let i = from; i < to; i++) {
    const box = boxes + 32 * load<i32>(order + 4 * i);
    const centre = f32x4.add(low(box), high(box));
    lowest = f32x4.min(lowest, centre);
    highest = f32x4.max(highest, centre);
  }
  const extent = f32x4.sub(highest, lowest);
  firstCentre = lowest;
  const scale = f32x4.div(f32x4.splat(<f32>BINS), extent);
  binScale = v128.and(scale, f32x4.lt(scale, f32x4.splat(f32.MAX_VALUE)));
  for (let b: usize = 0; b < 3 * 16; b++) {
    v128.store(bins + 32 * b, f32x4.splat(EMPTY_LOW));
    v128.store(bins + 32 * b, f32x4.splat(-EMPTY_LOW), 16);
    store<i32>(counts + 4 * b, 0);
  }
  for (let i = from; i < to; i++) {
    const t = load<i32>(order + 4 * i);
    const box = boxes + 32 * t;
    const a = low(box);
    const b = high(box);
    const where = binsOf(t);
    addToBin(i32x4.extract_lane(where, 0), a, b);
    addToBin(BINS + i32x4.extract_lane(where, 1), a, b);
    addToBin(2 * BINS + i32x4.extract_lane(where, 2), a, b);
  }
  const count = to - from;
  const whole = area(low(kid), high(kid));
  let least = f32.MAX_VALUE;
  let best = -1;
  for (let axis = 0; axis < 3; axis++) {
    if (!(lane(extent, axis) > 0)) continue;
    const row = bins + 32 * BINS * axis;
    const numbers = counts + 4 * BINS * axis;
    let a = f32x4.splat(EMPTY_LOW);
    let b = f32x4.splat(-EMPTY_LOW);
    let n = 0;
    for (let bin = BINS - 1; bin > 0; bin--) {
      n += load<i32>(numbers + 4 * bin);
      a = f32x4.min(a, low(row + 32 * bin));
      b = f32x4.max(b, high(row + 32 * bin));
      store<i32>(rightCounts + 4 * bin, n);
      store<f32>(rights + 4 * bin, area(a, b));
    }
    a = f32x4.splat(EMPTY_LOW);
    b = f32x4.splat(-EMPTY_LOW);
    n = 0;
    for (let bin = 0; bin < BINS - 1; bin++) {
      n += load<i32>(numbers + 4 * bin);
      a = f32x4.min(a, low(row + 32 * bin));
      b = f32x4.max(b, high(row + 32 * bin));
      if (n == 0 || n == count) continue;
      const left: f32 = area(a, b) * <f32>((n + 3) >> 2);
      const right: f32 =
        load<f32>(rights + 4 * (bin + 1)) * <f32>((load<i32>(rightCounts + 4 * (bin + 1)) + 3) >> 2);
      const work: f32 = CHOICE + (left + right) / whole;
      if (work < least) {
        least = work;
        best = axis;
        bestBin = bin;
      }
    }
  }
  if (best >= 0 && count <= MOST_LEAF && least >= <f32>((count + 3) >> 2)) return -2;
  return best;
}

// inline
function addToBin(bin: i32, a: v128, b: v128): void {
  const at = bins + 32 * bin;
  v128.store(at, f32x4.min(low(at), a));
  v128.store(at, f32x4.max(high(at), b), 16);
  store<i32>(counts + 4 * bin, load<i32>(counts + 4 * bin) + 1);
}

/** Puts the triangles up to the planned bin before the others; gives the first of those. */
function part(axis: i32, from: i32, to: i32): i32 {
  let i = from;
  let j = to - 1;
  while (i <= j) {
    const t = load<i32>(order + 4 * i);
    const where = binsOf(t);
    const bin =
      axis == 0
        ? i32x4.extract_lane(where, 0)
        : axis == 1
          ? i32x4.extract_lane(where, 1)
          : i32x4.extract_lane(where, 2);
    if (bin <= bestBin) i++;
    else {
      store<i32>(order + 4 * i, load<i32>(order + 4 * j));
      store<i32>(order + 4 * j--, t);
    }
  }
  return i;
}

/** Writes all packets; `base` is the number in the mesh of the first triangle. Places without one have number -1. */
export function writePackets(packetsAt: usize, base: i32): void {
  const bytes: usize = ends ? MOVING_PACKET_BYTES : PACKET_BYTES;
  for (let p = 0; p < packetCount; p++) {
    const packet = packetsAt + bytes * p;
    const from = load<i32>(runs + 8 * p);
    const count = load<i32>(runs + 8 * p, 4) - from;
    memory.fill(packet, 0, bytes);
    for (let i = 0; i < 4; i++) {
      const t = i < count ? load<i32>(order + 4 * (from + i)) : -1;
      store<i32>(packet + 144 + 4 * i, t < 0 ? -1 : base + t);
      if (t < 0) continue;
      writeTriangle(t, packet + 4 * i);
    }
  }
}

function writeTriangle(t: i32, to: usize): void {
  const corner = indices + 12 * t;
  for (let k = 0; k < 3; k++) {
    const index = load<i32>(corner + 4 * k);
    for (let axis = 0; axis < 3; axis++) {
      const row = 16 * (3 * k + axis);
      const open = edge(positions, index, load<i32>(corner), k, axis);
      store<f32>(to + row, open);
      if (ends) store<f32>(to + PACKET_BYTES + row, edge(ends, index, load<i32>(corner), k, axis) - open);
    }
  }
}
// inline
function edge(from: usize, index: i32, first: i32, k: i32, axis: i32): f32 {
  const value = load<f32>(from + 12 * <usize>(<u32>index) + 4 * axis);
  return k > 0 ? value - load<f32>(from + 12 * <usize>(<u32>first) + 4 * axis) : value;
}
