import { MAX_DEPTH, type Bvh } from './bvh.ts';

/**
 * Finds what rays hit. The result of the last {@link nearest} call stands in the public fields, because returning
 * an object for every ray would cost more than the search.
 * Triangle test: Möller and Trumbore, "Fast, Minimum Storage Ray/Triangle Intersection" (1997).
 */
export class Tracer {
  /** Distance, triangle in leaf order (-1 for none) and barycentric coordinates of the last hit. */
  t = 0;
  triangle = -1;
  u = 0;
  v = 0;
  /** Rays traced so far, shadow rays included. */
  rays = 0;
  /** What is left of the light of the last {@link transmittance} call. */
  passR = 1;
  passG = 1;
  passB = 1;

  private readonly stack = new Int32Array(2 * MAX_DEPTH + 4);
  private readonly stackT = new Float32Array(2 * MAX_DEPTH + 4);

  /**
   * @param shadowTint three floats a triangle in leaf order: the share of light that passes it, 0 for opaque ones
   */
  constructor(
    private readonly bvh: Bvh,
    private readonly shadowTint: Float32Array,
  ) {}

  /** Nearest hit nearer than `limit`; false if there is none. Directions need not be unit vectors. */
  nearest(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, limit: number): boolean {
    this.rays++;
    const { bounds, nodes, triangles } = this.bvh;
    const { stack, stackT } = this;
    const ix = 1 / dx;
    const iy = 1 / dy;
    const iz = 1 / dz;
    let best = limit;
    let hit = -1;
    let hitU = 0;
    let hitV = 0;
    let top = 0;
    let node = 0;
    for (;;) {
      const count = nodes[2 * node]!;
      if (count > 0) {
        const first = nodes[2 * node + 1]!;
        for (let i = first; i < first + count; i++) {
          const k = 9 * i;
          const e1x = triangles[k + 3]!;
          const e1y = triangles[k + 4]!;
          const e1z = triangles[k + 5]!;
          const e2x = triangles[k + 6]!;
          const e2y = triangles[k + 7]!;
          const e2z = triangles[k + 8]!;
          const px = dy * e2z - dz * e2y;
          const py = dz * e2x - dx * e2z;
          const pz = dx * e2y - dy * e2x;
          const det = e1x * px + e1y * py + e1z * pz;
          if (det === 0) continue;
          const inv = 1 / det;
          const sx = ox - triangles[k]!;
          const sy = oy - triangles[k + 1]!;
          const sz = oz - triangles[k + 2]!;
          const u = (sx * px + sy * py + sz * pz) * inv;
          if (u < 0 || u > 1) continue;
          const qx = sy * e1z - sz * e1y;
          const qy = sz * e1x - sx * e1z;
          const qz = sx * e1y - sy * e1x;
          const v = (dx * qx + dy * qy + dz * qz) * inv;
          if (v < 0 || u + v > 1) continue;
          const t = (e2x * qx + e2y * qy + e2z * qz) * inv;
          if (t > 0 && t < best) {
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
        let x0 = (bounds[b]! - ox) * ix;
        let x1 = (bounds[b + 3]! - ox) * ix;
        let y0 = (bounds[b + 1]! - oy) * iy;
        let y1 = (bounds[b + 4]! - oy) * iy;
        let z0 = (bounds[b + 2]! - oz) * iz;
        let z1 = (bounds[b + 5]! - oz) * iz;
        const nearL = Math.max(Math.min(x0, x1), Math.min(y0, y1), Math.min(z0, z1), 0);
        const farL = Math.min(Math.max(x0, x1), Math.max(y0, y1), Math.max(z0, z1), best);
        b += 6;
        x0 = (bounds[b]! - ox) * ix;
        x1 = (bounds[b + 3]! - ox) * ix;
        y0 = (bounds[b + 1]! - oy) * iy;
        y1 = (bounds[b + 4]! - oy) * iy;
        z0 = (bounds[b + 2]! - oz) * iz;
        z1 = (bounds[b + 5]! - oz) * iz;
        const nearR = Math.max(Math.min(x0, x1), Math.min(y0, y1), Math.min(z0, z1), 0);
        const farR = Math.min(Math.max(x0, x1), Math.max(y0, y1), Math.max(z0, z1), best);
        const hitL = nearL <= farL;
        const hitR = nearR <= farR;
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
          this.t = best;
          this.triangle = hit;
          this.u = hitU;
          this.v = hitV;
          return hit >= 0;
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
    const { bounds, nodes, triangles } = this.bvh;
    const { stack, shadowTint } = this;
    const ix = 1 / dx;
    const iy = 1 / dy;
    const iz = 1 / dz;
    this.passR = this.passG = this.passB = 1;
    let top = 0;
    stack[top++] = 0;
    while (top > 0) {
      const node = stack[--top]!;
      const b = 6 * node;
      const x0 = (bounds[b]! - ox) * ix;
      const x1 = (bounds[b + 3]! - ox) * ix;
      const y0 = (bounds[b + 1]! - oy) * iy;
      const y1 = (bounds[b + 4]! - oy) * iy;
      const z0 = (bounds[b + 2]! - oz) * iz;
      const z1 = (bounds[b + 5]! - oz) * iz;
      const near = Math.max(Math.min(x0, x1), Math.min(y0, y1), Math.min(z0, z1), 0);
      const far = Math.min(Math.max(x0, x1), Math.max(y0, y1), Math.max(z0, z1), limit);
      if (!(near <= far)) continue;
      const count = nodes[2 * node]!;
      if (count === 0) {
        stack[top++] = nodes[2 * node + 1]!;
        stack[top++] = nodes[2 * node + 1]! + 1;
        continue;
      }
      const first = nodes[2 * node + 1]!;
      for (let i = first; i < first + count; i++) {
        const k = 9 * i;
        const e1x = triangles[k + 3]!;
        const e1y = triangles[k + 4]!;
        const e1z = triangles[k + 5]!;
        const e2x = triangles[k + 6]!;
        const e2y = triangles[k + 7]!;
        const e2z = triangles[k + 8]!;
        const px = dy * e2z - dz * e2y;
        const py = dz * e2x - dx * e2z;
        const pz = dx * e2y - dy * e2x;
        const det = e1x * px + e1y * py + e1z * pz;
        if (det === 0) continue;
        const inv = 1 / det;
        const sx = ox - triangles[k]!;
        const sy = oy - triangles[k + 1]!;
        const sz = oz - triangles[k + 2]!;
        const u = (sx * px + sy * py + sz * pz) * inv;
        if (u < 0 || u > 1) continue;
        const qx = sy * e1z - sz * e1y;
        const qy = sz * e1x - sx * e1z;
        const qz = sx * e1y - sy * e1x;
        const v = (dx * qx + dy * qy + dz * qz) * inv;
        if (v < 0 || u + v > 1) continue;
        const t = (e2x * qx + e2y * qy + e2z * qz) * inv;
        if (!(t > 0 && t < limit)) continue;
        if (shadowTint[3 * i]! <= 0) return false;
        this.passR *= shadowTint[3 * i]!;
        this.passG *= shadowTint[3 * i + 1]!;
        this.passB *= shadowTint[3 * i + 2]!;
      }
    }
    return true;
  }
}
