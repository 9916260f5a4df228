/**
 * A bounding volume hierarchy over triangles in flat typed arrays, built by the binned surface area heuristic
 * (Wald, "On fast Construction of SAH-based Bounding Volume Hierarchies", 2007).
 */
export interface Bvh {
  /** Six floats a node: minimum x, y, z, maximum x, y, z. Siblings stand side by side, to be fetched together. */
  bounds: Float32Array;
  /** Two a node: number of triangles (0 for an inner node); first triangle, or the left child. */
  nodes: Int32Array;
  /** Nine floats a triangle in leaf order: one corner and the two edges from it. */
  triangles: Float32Array;
  /** Number in the scene of each triangle in leaf order. */
  order: Uint32Array;
}

const BINS = 16;
const LEAF = 6;
const TRAVERSAL_COST = 1.6;
/** Deepest tree that the traversal's stack can hold; splits stop there. */
export const MAX_DEPTH = 60;

export function buildBvh(positions: Float32Array, indices: Uint32Array): Bvh {
  const count = indices.length / 3;
  const box = new Float32Array(count * 6);
  const centre = new Float32Array(count * 3);
  for (let t = 0; t < count; t++)
    for (let axis = 0; axis < 3; axis++) {
      const a = positions[indices[3 * t]! * 3 + axis]!;
      const b = positions[indices[3 * t + 1]! * 3 + axis]!;
      const c = positions[indices[3 * t + 2]! * 3 + axis]!;
      box[6 * t + axis] = Math.min(a, b, c);
      box[6 * t + 3 + axis] = Math.max(a, b, c);
      centre[3 * t + axis] = (box[6 * t + axis]! + box[6 * t + 3 + axis]!) / 2;
    }
  const order = Uint32Array.from({ length: count }, (_, i) => i);
  const bounds = new Float32Array(Math.max(1, 2 * count) * 6);
  const nodes = new Int32Array(Math.max(1, 2 * count) * 2);
  let used = 1;

  const binBox = new Float32Array(BINS * 6);
  const binCount = new Uint32Array(BINS);
  const rightArea = new Float64Array(BINS);
  const emptyBox = (b: Float32Array, at: number) => {
    b[at] = b[at + 1] = b[at + 2] = Infinity;
    b[at + 3] = b[at + 4] = b[at + 5] = -Infinity;
  };
  const grow = (b: Float32Array, at: number, from: Float32Array, f: number) => {
    for (let k = 0; k < 3; k++) {
      if (from[f + k]! < b[at + k]!) b[at + k] = from[f + k]!;
      if (from[f + 3 + k]! > b[at + 3 + k]!) b[at + 3 + k] = from[f + 3 + k]!;
    }
  };
  const area = (b: Float32Array, at: number) => {
    const x = b[at + 3]! - b[at]!;
    const y = b[at + 4]! - b[at + 1]!;
    const z = b[at + 5]! - b[at + 2]!;
    return x < 0 ? 0 : x * y + y * z + z * x;
  };
  const sweep = new Float32Array(6);

  const build = (node: number, from: number, to: number, depth: number): void => {
    const at = 6 * node;
    emptyBox(bounds, at);
    const lowest = [Infinity, Infinity, Infinity];
    const highest = [-Infinity, -Infinity, -Infinity];
    for (let i = from; i < to; i++) {
      const t = order[i]!;
      grow(bounds, at, box, 6 * t);
      for (let k = 0; k < 3; k++) {
        const c = centre[3 * t + k]!;
        if (c < lowest[k]!) lowest[k] = c;
        if (c > highest[k]!) highest[k] = c;
      }
    }
    nodes[2 * node] = to - from;
    nodes[2 * node + 1] = from;
    if (to - from <= 1 || depth >= MAX_DEPTH) return;

    let best = Infinity;
    let bestAxis = -1;
    let bestBin = 0;
    const whole = area(bounds, at);
    for (let axis = 0; axis < 3; axis++) {
      const extent = highest[axis]! - lowest[axis]!;
      if (!(extent > 0)) continue;
      const scale = BINS / extent;
      binCount.fill(0);
      for (let b = 0; b < BINS; b++) emptyBox(binBox, 6 * b);
      for (let i = from; i < to; i++) {
        const t = order[i]!;
        const bin = Math.min(BINS - 1, ((centre[3 * t + axis]! - lowest[axis]!) * scale) | 0);
        binCount[bin]!++;
        grow(binBox, 6 * bin, box, 6 * t);
      }
      emptyBox(sweep, 0);
      let n = 0;
      for (let b = BINS - 1; b > 0; b--) {
        n += binCount[b]!;
        grow(sweep, 0, binBox, 6 * b);
        rightArea[b] = n * area(sweep, 0);
      }
      emptyBox(sweep, 0);
      n = 0;
      for (let b = 0; b < BINS - 1; b++) {
        n += binCount[b]!;
        grow(sweep, 0, binBox, 6 * b);
        if (n === 0 || n === to - from) continue;
        const cost = TRAVERSAL_COST + (n * area(sweep, 0) + rightArea[b + 1]!) / whole;
        if (cost < best) {
          best = cost;
          bestAxis = axis;
          bestBin = b;
        }
      }
    }
    if (bestAxis < 0 || (to - from <= LEAF && best >= to - from)) return;
    const scale = BINS / (highest[bestAxis]! - lowest[bestAxis]!);
    let i = from;
    let j = to - 1;
    while (i <= j) {
      const bin = Math.min(BINS - 1, ((centre[3 * order[i]! + bestAxis]! - lowest[bestAxis]!) * scale) | 0);
      if (bin <= bestBin) i++;
      else {
        const swap = order[i]!;
        order[i] = order[j]!;
        order[j--] = swap;
      }
    }
    const left = used;
    used += 2;
    nodes[2 * node] = 0;
    nodes[2 * node + 1] = left;
    build(left, from, i, depth + 1);
    build(left + 1, i, to, depth + 1);
  };
  build(0, 0, count, 0);

  const triangles = new Float32Array(count * 9);
  for (let i = 0; i < count; i++) {
    const t = order[i]!;
    for (let k = 0; k < 3; k++) {
      const a = positions[indices[3 * t]! * 3 + k]!;
      triangles[9 * i + k] = a;
      triangles[9 * i + 3 + k] = positions[indices[3 * t + 1]! * 3 + k]! - a;
      triangles[9 * i + 6 + k] = positions[indices[3 * t + 2]! * 3 + k]! - a;
    }
  }
  return { bounds: bounds.slice(0, used * 6), nodes: nodes.slice(0, used * 2), triangles, order };
}
