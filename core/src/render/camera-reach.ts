import type { Area } from '../planes/area.ts';
import { noPrunedTree, pruneTree, type PrunedTree } from './bvh.ts';
import type { CameraRays } from './plain/camera-rays.ts';
import { filterRadius } from './pixel-filter.ts';
import type { Prepared } from './prepared.ts';
import type { RenderSettings } from './settings.ts';
import { EYE_STRIDE, noEyeList, RAY, type EyeList, type Tree } from './plain/tracer.ts';

/** Most triangles that are tested one by one instead of through a tree. */
const MOST_LISTED = 64;
/** Margin for the rounding of what is compared, as a share. */
const MARGIN = 1e-9;

const NEVER = -1;

/** What all samples of a pixel are sure to see, or NOTHING, or UNSURE. */
export const SURE = { nothing: -1, unsure: -2 } as const;

/**
 * Finds what the rays of a block of pixels, and of one pixel in it, can reach at all, for a camera that is a point
 * at rest. A pixel is looked at by many samples, and few triangles are within reach of all of them together: each
 * sample then tests those few, or none, if one triangle fills the whole pixel and nothing is before it.
 */
export class CameraReach {
  /** The parts of the trees that the rays of the block, or of the pixel, can reach; undefined if not known. */
  trees: PrunedTree[] | undefined;
  /** The triangles that the rays of the pixel can reach, if they are few and plain. */
  list: EyeList | undefined;
  /** Part of the scene that every sample of the pixel sees; or one of SURE. */
  sure: number = SURE.unsure;

  private readonly usable: boolean;
  private readonly radius: number;
  private readonly planes = new Float64Array(16);
  private readonly corners = new Float64Array(12);
  /** Normals that span the planes through the camera's point, and the camera's depth axis. */
  private readonly c01: number[];
  private readonly c12: number[];
  private readonly c20: number[];
  private readonly depth: number[];
  private readonly side: number;
  private blockTrees: PrunedTree[] | undefined;
  private readonly block: PrunedTree[];
  private readonly pixel: PrunedTree[];
  /** Triangles as they are found, with their least depths, and in order of those. */
  private readonly found = noEyeList(MOST_LISTED);
  private readonly nearest = new Float64Array(MOST_LISTED);
  private readonly listed = noEyeList(MOST_LISTED);

  constructor(
    private readonly prepared: Prepared,
    private readonly rays: CameraRays,
    private readonly settings: Pick<RenderSettings, 'width' | 'height' | 'filter'>,
    private readonly searched: readonly Tree[],
  ) {
    this.usable = rays.fromOnePoint;
    // A little more, for the rounding of sample positions.
    this.radius = filterRadius(settings.filter) + 1e-3;
    this.block = searched.map(noPrunedTree);
    this.pixel = searched.map(noPrunedTree);
    const m = prepared.scene.camera.matrix;
    const cross = (a: number, b: number) => [
      m[a + 1]! * m[b + 2]! - m[a + 2]! * m[b + 1]!,
      m[a + 2]! * m[b]! - m[a]! * m[b + 2]!,
      m[a]! * m[b + 1]! - m[a + 1]! * m[b]!,
    ];
    this.c01 = cross(0, 4);
    this.c12 = cross(4, 8);
    this.c20 = cross(8, 0);
    const volume = this.c01[0]! * m[8]! + this.c01[1]! * m[9]! + this.c01[2]! * m[10]!;
    this.side = volume < 0 ? -1 : 1;
    this.depth = this.c01.map((v) => -v / volume);
  }

  /** Prunes the trees to the rays of a block. */
  enterBlock(block: Area): void {
    this.blockTrees = this.usable
      ? this.prune(
          this.searched.map((t) => t.bvh),
          block,
          this.block,
        )
      : undefined;
    this.trees = this.blockTrees;
    this.list = undefined;
    this.sure = SURE.unsure;
  }

  /** Prunes further, to the rays of one pixel of the block. */
  enterPixel(x: number, y: number): void {
    if (!this.blockTrees) return;
    this.list = undefined;
    this.sure = SURE.unsure;
    this.trees = this.prune(this.blockTrees, { x0: x, y0: y, x1: x + 1, y1: y + 1 }, this.pixel);
    if (this.trees) this.fillList();
  }

  private prune(
    from: readonly Pick<PrunedTree, 'bounds' | 'nodes' | 'reached'>[] | readonly Tree['bvh'][],
    area: Area,
    into: PrunedTree[],
  ): PrunedTree[] | undefined {
    this.setBeam(area);
    for (let i = 0; i < into.length; i++) {
      const tree = from[i]!;
      if ('reached' in tree && !tree.reached) into[i]!.reached = false;
      else if (!pruneTree(tree, this.planes, into[i]!)) return undefined;
    }
    return into;
  }

  /** The four planes around the rays of an area and the directions of its corners, a filter's width further out. */
  private setBeam({ x0, y0, x1, y1 }: Area): void {
    const { rays, settings, radius, planes, corners, c01, c12, c20, side } = this;
    const m = this.prepared.scene.camera.matrix;
    // Sample positions start at the middle of a pixel.
    const out = radius - 0.5;
    const left = (((x0 - out) / settings.width) * 2 - 1) * rays.wide;
    const right = (((x1 + out) / settings.width) * 2 - 1) * rays.wide;
    const top = (1 - ((y0 - out) / settings.height) * 2) * rays.tall;
    const bottom = (1 - ((y1 + out) / settings.height) * 2) * rays.tall;
    for (let k = 0; k < 3; k++) {
      planes[k] = side * (left * c01[k]! + c12[k]!);
      planes[4 + k] = -side * (right * c01[k]! + c12[k]!);
      planes[8 + k] = side * (bottom * c01[k]! + c20[k]!);
      planes[12 + k] = -side * (top * c01[k]! + c20[k]!);
      corners[k] = m[k]! * left + m[4 + k]! * top - m[8 + k]!;
      corners[3 + k] = m[k]! * right + m[4 + k]! * top - m[8 + k]!;
      corners[6 + k] = m[k]! * right + m[4 + k]! * bottom - m[8 + k]!;
      corners[9 + k] = m[k]! * left + m[4 + k]! * bottom - m[8 + k]!;
    }
    for (let p = 0; p < 16; p += 4)
      planes[p + 3] = -(planes[p]! * m[12]! + planes[p + 1]! * m[13]! + planes[p + 2]! * m[14]!);
  }

  /** Lists the triangles in the pixel's trees, and judges whether one of them hides all that is behind it. */
  private fillList(): void {
    const { found, listed, nearest, searched } = this;
    const { scene } = this.prepared;
    found.count = 0;
    for (let t = 0; t < searched.length; t++) {
      const { reached, nodes, used } = this.pixel[t]!;
      if (!reached) continue;
      const { bvh, visible } = searched[t]!;
      for (let node = 0; node < used; node++) {
        const first = nodes[2 * node + 1]!;
        for (let i = first; i < first + nodes[2 * node]!; i++) {
          if (!(visible[i]! & RAY.camera) || this.outside(bvh.triangles, i)) continue;
          // What moves is elsewhere for every ray, and what has holes may let it pass.
          const part = scene.parts[scene.trianglePart[bvh.order[i]!]!]!;
          if (bvh.motion || scene.materials[part.material]!.alphaMode !== 'opaque') return;
          if (found.count === MOST_LISTED) return;
          found.tree = t;
          this.add(bvh.triangles, i);
        }
      }
    }
    let hidden = Infinity;
    for (let i = 0; i < found.count; i++) {
      const depth = this.filledUpTo(i);
      if (depth === NEVER) nearest[i] = Infinity;
      else hidden = Math.min(hidden, depth);
    }
    this.sortInto(listed, hidden * (1 + MARGIN));
    this.list = listed;
    if (listed.count === 0) this.sure = SURE.nothing;
    else if (hidden < Infinity) {
      const { order } = searched[listed.tree]!.bvh;
      const part = scene.trianglePart[order[listed.leaf[0]!]!]!;
      let same = true;
      for (let i = 1; i < listed.count; i++) same &&= scene.trianglePart[order[listed.leaf[i]!]!] === part;
      if (same) this.sure = part;
    }
  }

  /** Orders the triangles that were found by their least depth and leaves out those beyond `hidden`. */
  private sortInto(out: EyeList, hidden: number): void {
    const { found, nearest } = this;
    out.count = 0;
    out.tree = found.tree;
    for (let i = 0; i < found.count; i++) {
      const depth = nearest[i]!;
      if (depth === Infinity || depth > hidden) continue;
      let at = out.count++;
      for (; at > 0 && out.from[at - 1]! > depth; at--) {
        out.from[at] = out.from[at - 1]!;
        out.leaf[at] = out.leaf[at - 1]!;
      }
      out.from[at] = depth;
      // For now the place among the found ones.
      out.leaf[at] = i;
    }
    for (let at = 0; at < out.count; at++) {
      const k = EYE_STRIDE * out.leaf[at]!;
      for (let j = 0; j < EYE_STRIDE; j++) out.numbers[EYE_STRIDE * at + j] = found.numbers[k + j]!;
      out.leaf[at] = found.leaf[out.leaf[at]!]!;
    }
  }

  /** True if a triangle lies wholly outside one of the beam's planes. */
  private outside(triangles: Float32Array, i: number): boolean {
    const { planes } = this;
    const k = 9 * i;
    for (let p = 0; p < 16; p += 4) {
      const x = planes[p]!;
      const y = planes[p + 1]!;
      const z = planes[p + 2]!;
      const a = x * triangles[k]! + y * triangles[k + 1]! + z * triangles[k + 2]! + planes[p + 3]!;
      const b = x * triangles[k + 3]! + y * triangles[k + 4]! + z * triangles[k + 5]!;
      const c = x * triangles[k + 6]! + y * triangles[k + 7]! + z * triangles[k + 8]!;
      if (a + Math.max(0, b, c) < 0) return true;
    }
    return false;
  }

  /**
   * Adds a triangle with what its test needs for rays that all leave from the camera's point: with the corner A,
   * edges E1 and E2 and T = O - A, the terms of Möller and Trumbore are products of the direction with
   * -(E1 x E2), E2 x T and T x E1, and the constant E2 (T x E1).
   */
  private add(triangles: Float32Array, i: number): void {
    const { found, nearest, depth } = this;
    const { numbers } = found;
    const m = this.prepared.scene.camera.matrix;
    const k = 9 * i;
    const at = EYE_STRIDE * found.count;
    const e1x = triangles[k + 3]!;
    const e1y = triangles[k + 4]!;
    const e1z = triangles[k + 5]!;
    const e2x = triangles[k + 6]!;
    const e2y = triangles[k + 7]!;
    const e2z = triangles[k + 8]!;
    const tx = m[12]! - triangles[k]!;
    const ty = m[13]! - triangles[k + 1]!;
    const tz = m[14]! - triangles[k + 2]!;
    numbers[at] = e2y * e1z - e2z * e1y;
    numbers[at + 1] = e2z * e1x - e2x * e1z;
    numbers[at + 2] = e2x * e1y - e2y * e1x;
    numbers[at + 3] = e2y * tz - e2z * ty;
    numbers[at + 4] = e2z * tx - e2x * tz;
    numbers[at + 5] = e2x * ty - e2y * tx;
    const qx = (numbers[at + 6] = ty * e1z - tz * e1y);
    const qy = (numbers[at + 7] = tz * e1x - tx * e1z);
    const qz = (numbers[at + 8] = tx * e1y - ty * e1x);
    numbers[at + 9] = e2x * qx + e2y * qy + e2z * qz;
    const a = -(depth[0]! * tx + depth[1]! * ty + depth[2]! * tz);
    const b = depth[0]! * e1x + depth[1]! * e1y + depth[2]! * e1z;
    const c = depth[0]! * e2x + depth[1]! * e2y + depth[2]! * e2z;
    nearest[found.count] = a + Math.min(0, b, c);
    found.leaf[found.count++] = i;
  }

  /**
   * Greatest depth of a triangle if it fills the whole pixel, infinity if it does not, NEVER if it is not in it: the
   * pixel's corners then all lie beyond one of its edges, or before it.
   */
  private filledUpTo(i: number): number {
    const { corners } = this;
    const { numbers } = this.found;
    const k = EYE_STRIDE * i;
    let deepest = 0;
    let turn = 0;
    let inside = 0;
    let beyondU = 0;
    let beyondV = 0;
    let beyondW = 0;
    let behind = 0;
    for (let c = 0; c < 12; c += 3) {
      const x = corners[c]!;
      const y = corners[c + 1]!;
      const z = corners[c + 2]!;
      const det = x * numbers[k]! + y * numbers[k + 1]! + z * numbers[k + 2]!;
      // Seen edge-on from within the pixel.
      if (det === 0 || det * turn < 0) return Infinity;
      turn = det;
      const u = (x * numbers[k + 3]! + y * numbers[k + 4]! + z * numbers[k + 5]!) / det;
      const v = (x * numbers[k + 6]! + y * numbers[k + 7]! + z * numbers[k + 8]!) / det;
      const t = numbers[k + 9]! / det;
      if (u > MARGIN && v > MARGIN && u + v < 1 - MARGIN && t > 0) inside++;
      if (t <= 0) behind++;
      if (u < -MARGIN) beyondU++;
      if (v < -MARGIN) beyondV++;
      if (u + v > 1 + MARGIN) beyondW++;
      // One over the depth changes evenly over the pixel: the corners hold its extremes.
      deepest = Math.max(deepest, t);
    }
    if (behind === 4 || beyondU === 4 || beyondV === 4 || beyondW === 4) return NEVER;
    return inside === 4 ? deepest : Infinity;
  }
}
