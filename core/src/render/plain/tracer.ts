import { MAX_DEPTH, type Bvh, type PrunedTree } from '../bvh.ts';

/** Kinds of rays, as bits: what an object can be hidden from. */
export const RAY = { camera: 1, reflection: 2, refraction: 4, shadow: 8, bounce: 16 } as const;

/** A search tree with what its triangles mean to rays; both arrays in leaf order. */
export interface Tree {
  bvh: Bvh;
  /** Bits of the kinds of rays that see the triangle. */
  visible: Uint8Array;
  /** Three floats a triangle: the share of light that passes it; the first is ASK where a texture decides. */
  tint: Float32Array;
}
/** Tint of triangles whose transparency differs from point to point. */
export const ASK = -1;

/** All triangles that some rays from one point at rest can meet, with the numbers that a test from there needs. */
export interface EyeList {
  count: number;
  /**
   * EYE_STRIDE a triangle: three vectors whose products with a ray's direction are the determinant and, divided by
   * it, the barycentric coordinates; and what divided by it is the distance.
   */
  numbers: Float64Array;
  /** Distance from the point before which the triangle cannot be met; the triangles stand in this order. */
  from: Float64Array;
  /** Tree of all of them, and number of each in leaf order. */
  tree: number;
  leaf: Int32Array;
}
export const EYE_STRIDE = 10;

export const noEyeList = (most: number): EyeList => ({
  count: 0,
  numbers: new Float64Array(EYE_STRIDE * most),
  from: new Float64Array(most),
  tree: 0,
  leaf: new Int32Array(most),
});

/** One over a component of a direction; a huge number instead of infinity, which times zero would be no number. */
const slope = (d: number) => (Math.abs(d) > 1e-30 ? 1 / d : d < 0 ? -1e30 : 1e30);

/**
 * Finds what rays hit. The result of the last {@link nearest} call stands in the public fields, because returning
 * an object for every ray would cost more than the search.
 * Triangle test: Möller and Trumbore, "Fast, Minimum Storage Ray/Triangle Intersection" (1997).
 */
export class Tracer {
  /** Distance and barycentric coordinates of the last hit. */
  t = 0;
  u = 0;
  v = 0;
  /** Tree and triangle in leaf order of the last hit, -1 for none. */
  tree = -1;
  leaf = -1;
  /** When the rays are traced: 0 as the shutter opens, 1 as it closes. */
  time = 0;
  /** For rays from the camera: the parts of the trees that they can reach, if they are known. */
  reach: readonly PrunedTree[] | undefined;
  /** For rays from the camera that start at its point: all triangles that they can meet, if they are few. */
  list: EyeList | undefined;
  /** Rays traced so far, shadow rays included. */
  rays = 0;
  /** What is left of the light of the last {@link transmittance} call. */
  passR = 1;
  passG = 1;
  passB = 1;

  private readonly stack = new Int32Array(2 * MAX_DEPTH + 4);
  private readonly stackT = new Float32Array(2 * MAX_DEPTH + 4);

  /**
   * @param passes for triangles whose tint is ASK: share of light that passes at a point
   */
  constructor(
    readonly trees: readonly Tree[],
    private readonly passes: (triangle: number, u: number, v: number) => number = () => 0,
  ) {}

  /** Number in the mesh of the triangle that was hit. */
  get triangle(): number {
    return this.trees[this.tree]!.bvh.order[this.leaf]!;
  }

  /** Corner and edges of the hit triangle at the ray's time, nine numbers. */
  corners(out: Float64Array): void {
    const { triangles, motion } = this.trees[this.tree]!.bvh;
    const k = 9 * this.leaf;
    for (let i = 0; i < 9; i++) out[i] = triangles[k + i]! + (motion ? this.time * motion[k + i]! : 0);
  }

  /**
   * Nearest hit nearer than `limit` on something that this kind of ray sees; false if there is none. Directions
   * need not be unit vectors.
   */
  nearest(
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    limit: number,
    kind: number,
  ): boolean {
    this.rays++;
    this.t = limit;
    this.tree = this.leaf = -1;
    if (kind === RAY.camera && this.list) return this.searchList(this.list, dx, dy, dz);
    for (let i = 0; i < this.trees.length; i++) this.search(i, ox, oy, oz, dx, dy, dz, kind);
    return this.leaf >= 0;
  }

  private searchList(
    { count, numbers, from, tree, leaf }: EyeList,
    dx: number,
    dy: number,
    dz: number,
  ): boolean {
    let best = this.t;
    for (let i = 0, k = 0; i < count; i++, k += EYE_STRIDE) {
      if (from[i]! >= best) break;
      const det = dx * numbers[k]! + dy * numbers[k + 1]! + dz * numbers[k + 2]!;
      if (det === 0) continue;
      const inv = 1 / det;
      const u = (dx * numbers[k + 3]! + dy * numbers[k + 4]! + dz * numbers[k + 5]!) * inv;
      if (u < 0 || u > 1) continue;
      const v = (dx * numbers[k + 6]! + dy * numbers[k + 7]! + dz * numbers[k + 8]!) * inv;
      if (v < 0 || u + v > 1) continue;
      const t = numbers[k + 9]! * inv;
      if (t > 0 && t < best) {
        best = this.t = t;
        this.u = u;
        this.v = v;
        this.tree = tree;
        this.leaf = leaf[i]!;
      }
    }
    return this.leaf >= 0;
  }

  private search(
    tree: number,
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    kind: number,
  ): void {
    const { bvh, visible } = this.trees[tree]!;
    const { triangles, motion } = bvh;
    const reach = kind === RAY.camera ? this.reach?.[tree] : undefined;
    if (reach && !reach.reached) return;
    const { bounds, nodes } = reach ?? bvh;
    const { stack, stackT, time } = this;
    const ix = slope(dx);
    const iy = slope(dy);
    const iz = slope(dz);
    // Which side of a box comes first along each axis.
    const sx = ix < 0 ? 3 : 0;
    const sy = iy < 0 ? 3 : 0;
    const sz = iz < 0 ? 3 : 0;
    let best = this.t;
    let hit = -1;
    let hitU = 0;
    let hitV = 0;
    let top = 0;
    let node = 0;
    for (;;) {
      const count = nodes[2 * node]!;
      if (count !== 0) {
        const first = nodes[2 * node + 1]!;
        for (let i = first; i < first + count; i++) {
          const k = 9 * i;
          let ax = triangles[k]!;
          let ay = triangles[k + 1]!;
          let az = triangles[k + 2]!;
          let e1x = triangles[k + 3]!;
          let e1y = triangles[k + 4]!;
          let e1z = triangles[k + 5]!;
          let e2x = triangles[k + 6]!;
          let e2y = triangles[k + 7]!;
          let e2z = triangles[k + 8]!;
          if (motion !== undefined) {
            ax += time * motion[k]!;
            ay += time * motion[k + 1]!;
            az += time * motion[k + 2]!;
            e1x += time * motion[k + 3]!;
            e1y += time * motion[k + 4]!;
            e1z += time * motion[k + 5]!;
            e2x += time * motion[k + 6]!;
            e2y += time * motion[k + 7]!;
            e2z += time * motion[k + 8]!;
          }
          const px = dy * e2z - dz * e2y;
          const py = dz * e2x - dx * e2z;
          const pz = dx * e2y - dy * e2x;
          const det = e1x * px + e1y * py + e1z * pz;
          if (det === 0) continue;
          const inv = 1 / det;
          const tx = ox - ax;
          const ty = oy - ay;
          const tz = oz - az;
          const u = (tx * px + ty * py + tz * pz) * inv;
          if (u < 0 || u > 1) continue;
          const qx = ty * e1z - tz * e1y;
          const qy = tz * e1x - tx * e1z;
          const qz = tx * e1y - ty * e1x;
          const v = (dx * qx + dy * qy + dz * qz) * inv;
          if (v < 0 || u + v > 1) continue;
          const t = (e2x * qx + e2y * qy + e2z * qz) * inv;
          if (t > 0 && t < best && visible[i]! & kind) {
            best = t;
            hit = i;
            hitU = u;
            hitV = v;
          }
        }
      } else {
        const left = nodes[2 * node + 1]!;
        const right = left + 1;
        let b = 6 * left;
        let nearL = (bounds[b + sx]! - ox) * ix;
        let farL = (bounds[b + 3 - sx]! - ox) * ix;
        let low = (bounds[b + 1 + sy]! - oy) * iy;
        let high = (bounds[b + 4 - sy]! - oy) * iy;
        if (low > nearL) nearL = low;
        if (high < farL) farL = high;
        low = (bounds[b + 2 + sz]! - oz) * iz;
        high = (bounds[b + 5 - sz]! - oz) * iz;
        if (low > nearL) nearL = low;
        if (high < farL) farL = high;
        b += 6;
        let nearR = (bounds[b + sx]! - ox) * ix;
        let farR = (bounds[b + 3 - sx]! - ox) * ix;
        low = (bounds[b + 1 + sy]! - oy) * iy;
        high = (bounds[b + 4 - sy]! - oy) * iy;
        if (low > nearR) nearR = low;
        if (high < farR) farR = high;
        low = (bounds[b + 2 + sz]! - oz) * iz;
        high = (bounds[b + 5 - sz]! - oz) * iz;
        if (low > nearR) nearR = low;
        if (high < farR) farR = high;
        const hitL = nearL <= farL && farL >= 0 && nearL < best;
        const hitR = nearR <= farR && farR >= 0 && nearR < best;
        if (hitL && hitR) {
          if (nearL <= nearR) {
            stack[top] = right;
            stackT[top++] = nearR;
            node = left;
          } else {
            stack[top] = left;
            stackT[top++] = nearL;
            node = right;
          }
          continue;
        }
        if (hitL || hitR) {
          node = hitL ? left : right;
          continue;
        }
      }
      do {
        if (top === 0) {
          if (hit < 0) return;
          this.t = best;
          this.tree = tree;
          this.leaf = hit;
          this.u = hitU;
          this.v = hitV;
          return;
        }
        node = stack[--top]!;
      } while (stackT[top]! >= best);
    }
  }

  /** Light that gets from a point to a distance `limit`; false, and nothing, if an opaque thing is between. */
  transmittance(
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    limit: number,
  ): boolean {
    this.rays++;
    this.passR = this.passG = this.passB = 1;
    for (const tree of this.trees) if (!this.pass(tree, ox, oy, oz, dx, dy, dz, limit)) return false;
    return true;
  }

  private pass(
    { bvh, visible, tint }: Tree,
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    limit: number,
  ): boolean {
    const { bounds, nodes, triangles, motion, order } = bvh;
    const { stack, time } = this;
    const ix = slope(dx);
    const iy = slope(dy);
    const iz = slope(dz);
    // Which side of a box comes first along each axis.
    const sx = ix < 0 ? 3 : 0;
    const sy = iy < 0 ? 3 : 0;
    const sz = iz < 0 ? 3 : 0;
    let top = 0;
    stack[top++] = 0;
    while (top > 0) {
      const node = stack[--top]!;
      const b = 6 * node;
      let near = (bounds[b + sx]! - ox) * ix;
      let far = (bounds[b + 3 - sx]! - ox) * ix;
      let low = (bounds[b + 1 + sy]! - oy) * iy;
      let high = (bounds[b + 4 - sy]! - oy) * iy;
      if (low > near) near = low;
      if (high < far) far = high;
      low = (bounds[b + 2 + sz]! - oz) * iz;
      high = (bounds[b + 5 - sz]! - oz) * iz;
      if (low > near) near = low;
      if (high < far) far = high;
      if (!(near <= far && far >= 0 && near < limit)) continue;
      const count = nodes[2 * node]!;
      if (count === 0) {
        stack[top++] = nodes[2 * node + 1]!;
        stack[top++] = nodes[2 * node + 1]! + 1;
        continue;
      }
      const first = nodes[2 * node + 1]!;
      for (let i = first; i < first + count; i++) {
        const k = 9 * i;
        let ax = triangles[k]!;
        let ay = triangles[k + 1]!;
        let az = triangles[k + 2]!;
        let e1x = triangles[k + 3]!;
        let e1y = triangles[k + 4]!;
        let e1z = triangles[k + 5]!;
        let e2x = triangles[k + 6]!;
        let e2y = triangles[k + 7]!;
        let e2z = triangles[k + 8]!;
        if (motion !== undefined) {
          ax += time * motion[k]!;
          ay += time * motion[k + 1]!;
          az += time * motion[k + 2]!;
          e1x += time * motion[k + 3]!;
          e1y += time * motion[k + 4]!;
          e1z += time * motion[k + 5]!;
          e2x += time * motion[k + 6]!;
          e2y += time * motion[k + 7]!;
          e2z += time * motion[k + 8]!;
        }
        const px = dy * e2z - dz * e2y;
        const py = dz * e2x - dx * e2z;
        const pz = dx * e2y - dy * e2x;
        const det = e1x * px + e1y * py + e1z * pz;
        if (det === 0) continue;
        const inv = 1 / det;
        const tx = ox - ax;
        const ty = oy - ay;
        const tz = oz - az;
        const u = (tx * px + ty * py + tz * pz) * inv;
        if (u < 0 || u > 1) continue;
        const qx = ty * e1z - tz * e1y;
        const qy = tz * e1x - tx * e1z;
        const qz = tx * e1y - ty * e1x;
        const v = (dx * qx + dy * qy + dz * qz) * inv;
        if (v < 0 || u + v > 1) continue;
        const t = (e2x * qx + e2y * qy + e2z * qz) * inv;
        if (!(t > 0 && t < limit) || !(visible[i]! & RAY.shadow)) continue;
        if (tint[3 * i] === ASK) {
          const share = this.passes(order[i]!, u, v);
          if (share <= 0) return false;
          this.passR *= share;
          this.passG *= share;
          this.passB *= share;
          continue;
        }
        if (tint[3 * i]! <= 0) return false;
        this.passR *= tint[3 * i]!;
        this.passG *= tint[3 * i + 1]!;
        this.passB *= tint[3 * i + 2]!;
      }
    }
    return true;
  }
}
