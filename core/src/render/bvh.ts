/**
 * A bounding volume hierarchy over triangles in flat typed arrays, built by the binned surface area heuristic
 * (Wald, "On fast Construction of SAH-based Bounding Volume Hierarchies", 2007).
 */
export interface Bvh {
  /** Six floats a node: minimum x, y, z, maximum x, y, z. Siblings stand side by side, to be fetched together. */
  bounds: Float32Array;
  /** Two a node: number of triangles (0 for an inner node); first triangle, or the left child. */
  nodes: Int32Array;
  /** Nine floats a triangle in leaf order: one corner and the two edges from it, when the shutter opens. */
  triangles: Float32Array;
  /** What is added to `triangles` until the shutter closes; absent for triangles at rest. */
  motion?: Float32Array;
  /** Number in the mesh of each triangle in leaf order. */
  order: Uint32Array;
}

const BINS = 16;
const LEAF = 6;
const TRAVERSAL_COST = 1.6;
/** Deepest tree that the traversal's stack can hold; splits stop there. */
export const MAX_DEPTH = 60;

/** Triangles of a mesh that one tree holds, numbered as in the mesh. */
export interface Range {
  from: number;
  to: number;
}

/**
 * Builds the tree of a range of triangles, all by default.
 * @param positionsEnd where the vertices are when the shutter closes: boxes then hold the whole way
 */
export function buildBvh(
  positions: Float32Array,
  indices: Uint32Array,
  range: Range = { from: 0, to: indices.length / 3 },
  positionsEnd?: Float32Array,
): Bvh {
  const base = range.from;
  const count = range.to - base;
  const corner = (t: number, k: number) => indices[3 * (base + t) + k]! * 3;
  const box = new Float32Array(count * 6);
  const centre = new Float32Array(count * 3);
  for (let t = 0; t < count; t++)
    for (let axis = 0; axis < 3; axis++) {
      const [p, q, r] = [corner(t, 0) + axis, corner(t, 1) + axis, corner(t, 2) + axis];
      const [a, b, c] = [positions[p]!, positions[q]!, positions[r]!];
      box[6 * t + axis] = Math.min(a, b, c);
      box[6 * t + 3 + axis] = Math.max(a, b, c);
      if (positionsEnd) {
        const [d, e, f] = [positionsEnd[p]!, positionsEnd[q]!, positionsEnd[r]!];
        box[6 * t + axis] = Math.min(box[6 * t + axis]!, d, e, f);
        box[6 * t + 3 + axis] = Math.max(box[6 * t + 3 + axis]!, d, e, f);
      }
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

  /** Corner and edges of every triangle, from one set of positions. */
  const gather = (from: Float32Array) => {
    const out = new Float32Array(count * 9);
    for (let i = 0; i < count; i++) {
      const t = order[i]!;
      for (let k = 0; k < 3; k++) {
        const a = from[corner(t, 0) + k]!;
        out[9 * i + k] = a;
        out[9 * i + 3 + k] = from[corner(t, 1) + k]! - a;
        out[9 * i + 6 + k] = from[corner(t, 2) + k]! - a;
      }
    }
    return out;
  };
  const triangles = gather(positions);
  const tree: Bvh = {
    bounds: bounds.slice(0, used * 6),
    nodes: nodes.slice(0, used * 2),
    triangles,
    order: order.map((t) => t + base),
  };
  if (positionsEnd) tree.motion = gather(positionsEnd).map((v, i) => v - triangles[i]!);
  return tree;
}

/** The part of a tree that some rays can reach. It names the triangles of the tree it was made from. */
export interface PrunedTree {
  bounds: Float32Array;
  nodes: Int32Array;
  /** Number of nodes in use. */
  used: number;
  /** False if the rays reach nothing of it. */
  reached: boolean;
}

export const noPrunedTree = (): PrunedTree => ({
  bounds: new Float32Array(6 * 256),
  nodes: new Int32Array(2 * 256),
  used: 0,
  reached: false,
});

/** Most nodes of a pruned tree; beyond it the whole tree would be no slower. */
const MOST_PRUNED = 1 << 15;

/** True if a node's box reaches into the convex volume between planes, or might. */
function touches(bounds: Float32Array, node: number, planes: Float64Array): boolean {
  const b = 6 * node;
  for (let p = 0; p < planes.length; p += 4) {
    const x = planes[p]!;
    const y = planes[p + 1]!;
    const z = planes[p + 2]!;
    // The corner that lies farthest along the plane's normal.
    const far =
      x * bounds[b + (x > 0 ? 3 : 0)]! +
      y * bounds[b + (y > 0 ? 4 : 1)]! +
      z * bounds[b + (z > 0 ? 5 : 2)]! +
      planes[p + 3]!;
    if (far < 0) return false;
  }
  return true;
}

/** Makes room for two more nodes; false if the tree grows too large. */
function makeRoom(tree: PrunedTree): boolean {
  if (2 * (tree.used + 2) <= tree.nodes.length) return true;
  if (tree.used > MOST_PRUNED) return false;
  const { bounds, nodes } = tree;
  tree.bounds = new Float32Array(2 * bounds.length);
  tree.nodes = new Int32Array(2 * nodes.length);
  tree.bounds.set(bounds);
  tree.nodes.set(nodes);
  return true;
}

/**
 * Copies the nodes that a convex volume touches and leaves out those with one child: rays from one block of pixels
 * then begin near the leaves instead of at the root.
 * @param planes x, y, z, w for each plane; inside is where x px + y py + z pz + w >= 0
 * @returns false if the tree is too large to be worth it
 */
export function pruneTree(
  tree: Pick<Bvh, 'bounds' | 'nodes'>,
  planes: Float64Array,
  into: PrunedTree,
): boolean {
  into.used = 1;
  into.bounds.set(tree.bounds.subarray(0, 6));
  into.reached = touches(tree.bounds, 0, planes);
  return !into.reached || copyTouched(tree, planes, into, 0, 0);
}

function copyTouched(
  tree: Pick<Bvh, 'bounds' | 'nodes'>,
  planes: Float64Array,
  into: PrunedTree,
  from: number,
  to: number,
): boolean {
  const { bounds, nodes } = tree;
  for (;;) {
    const count = nodes[2 * from]!;
    const first = nodes[2 * from + 1]!;
    if (count !== 0) {
      into.nodes[2 * to] = count;
      into.nodes[2 * to + 1] = first;
      return true;
    }
    const left = touches(bounds, first, planes);
    const right = touches(bounds, first + 1, planes);
    if (left && right) {
      if (!makeRoom(into)) return false;
      const pair = into.used;
      into.used += 2;
      into.nodes[2 * to] = 0;
      into.nodes[2 * to + 1] = pair;
      for (let k = 0; k < 12; k++) into.bounds[6 * pair + k] = bounds[6 * first + k]!;
      if (!copyTouched(tree, planes, into, first, pair)) return false;
      to = pair + 1;
      from = first + 1;
      continue;
    }
    if (!left && !right) {
      // A leaf without triangles.
      into.nodes[2 * to] = -1;
      into.nodes[2 * to + 1] = 0;
      return true;
    }
    from = left ? first : first + 1;
  }
}
