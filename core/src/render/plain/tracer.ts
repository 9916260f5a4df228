import type { Scene } from '../../scene/scene.ts';
import { ALL_RAYS, RAY } from '../ray-kinds.ts';
import { ASK, shadowTint } from '../shadow-tint.ts';
import { opacityAt } from './textures.ts';

/**
 * Finds what rays hit by trying every triangle, in 64 bits: what the ray kernel is tested against. The result of the
 * last {@link nearest} call stands in the public fields.
 */
export class Tracer {
  /** Distance and barycentric coordinates of the last hit, and its triangle, -1 for none. */
  t = 0;
  u = 0;
  v = 0;
  triangle = -1;
  /** When the rays are traced: 0 as the shutter opens, 1 as it closes. */
  time = 0;
  /** Rays traced so far, shadow rays included. */
  rays = 0;
  /** What is left of the light of the last {@link transmittance} call. */
  passR = 1;
  passG = 1;
  passB = 1;

  private readonly tints: (readonly [number, number, number])[];
  private readonly visible: number[];
  /** Corner and edges of each triangle as the shutter opens, and how they move until it closes. */
  private readonly triangles: Float32Array;
  private readonly motion: Float32Array;

  constructor(private readonly scene: Scene) {
    this.tints = scene.materials.map(shadowTint);
    this.visible = scene.parts.map((part) => {
      const seen = scene.objects[part.object]!.visible ?? ALL_RAYS;
      return part.role === 'away' ? seen & ~RAY.camera : seen;
    });
    const corner = (from: Float32Array, i: number) => {
      const vertex = (k: number) => 3 * scene.indices[3 * Math.floor(i / 9) + k]!;
      const [k, axis] = [Math.floor((i % 9) / 3), i % 3];
      return from[vertex(k) + axis]! - (k > 0 ? from[vertex(0) + axis]! : 0);
    };
    this.triangles = Float32Array.from({ length: 3 * scene.indices.length }, (_, i) =>
      corner(scene.positions, i),
    );
    this.motion = this.triangles.map((v, i) => corner(scene.positionsEnd, i) - v);
  }

  /** Corner and edges of a triangle at the time of the rays, nine numbers. */
  corners(triangle: number, out: Float64Array): void {
    for (let i = 0; i < 9; i++)
      out[i] = this.triangles[9 * triangle + i]! + this.time * this.motion[9 * triangle + i]!;
  }

  private readonly corner = new Float64Array(9);

  /**
   * Visits every triangle that a ray meets before `limit`; ends where `visit` says so. Test: Möller and Trumbore, "Fast,
   * Minimum Storage Ray/Triangle Intersection" (1997).
   */
  private each(
    [ox, oy, oz]: readonly [number, number, number],
    [dx, dy, dz]: readonly [number, number, number],
    limit: number,
    visit: (triangle: number, t: number, u: number, v: number) => boolean,
  ): void {
    this.rays++;
    const k = this.corner;
    for (let i = 0; i < this.triangles.length / 9; i++) {
      this.corners(i, k);
      const px = dy * k[8]! - dz * k[7]!;
      const py = dz * k[6]! - dx * k[8]!;
      const pz = dx * k[7]! - dy * k[6]!;
      const det = k[3]! * px + k[4]! * py + k[5]! * pz;
      if (det === 0) continue;
      const tx = ox - k[0]!;
      const ty = oy - k[1]!;
      const tz = oz - k[2]!;
      const u = (tx * px + ty * py + tz * pz) / det;
      if (u < 0 || u > 1) continue;
      const qx = ty * k[5]! - tz * k[4]!;
      const qy = tz * k[3]! - tx * k[5]!;
      const qz = tx * k[4]! - ty * k[3]!;
      const v = (dx * qx + dy * qy + dz * qz) / det;
      if (v < 0 || u + v > 1) continue;
      const t = (k[6]! * qx + k[7]! * qy + k[8]! * qz) / det;
      if (t > 0 && t < limit && visit(i, t, u, v)) return;
    }
  }

  /**
   * Nearest hit nearer than `limit` on something that this kind of ray sees; false if there is none. Directions need not
   * be unit vectors.
   */
  nearest(
    origin: readonly [number, number, number],
    direction: readonly [number, number, number],
    limit: number,
    kind: number,
  ): boolean {
    this.t = limit;
    this.triangle = -1;
    this.each(origin, direction, limit, (triangle, t, u, v) => {
      if (t < this.t && this.visible[this.scene.trianglePart[triangle]!]! & kind) {
        this.t = t;
        this.u = u;
        this.v = v;
        this.triangle = triangle;
      }
      return false;
    });
    return this.triangle >= 0;
  }

  /** Light that gets from a point to a distance `limit`; false, and nothing, if an opaque thing is between. */
  transmittance(
    origin: readonly [number, number, number],
    direction: readonly [number, number, number],
    limit: number,
  ): boolean {
    const { scene, tints } = this;
    this.passR = this.passG = this.passB = 1;
    let free = true;
    this.each(origin, direction, limit, (triangle, _, u, v) => {
      const part = scene.trianglePart[triangle]!;
      if (!(this.visible[part]! & RAY.shadow)) return false;
      const { material } = scene.parts[part]!;
      let [r, g, b] = tints[material]!;
      if (r === ASK) r = g = b = 1 - opacityAt(scene, scene.materials[material]!, triangle, u, v);
      this.passR *= r;
      this.passG *= g;
      this.passB *= b;
      free = r > 0;
      return !free;
    });
    return free;
  }
}
