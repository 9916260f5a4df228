import type { Scene } from '../scene/index.ts';
import type { Bvh } from './bvh.ts';
import { Frame, type Scatter, type Surface } from './materials/surface.ts';
import { MATERIALS } from './materials/registry.ts';
import type { Sampler } from './sampler.ts';
import { addSky, sunRadiance } from './sky.ts';
import { Tracer } from './tracer.ts';

/** Mirror and glass events a path may have in all, and rough ones after the first. */
const MOST_SPECULAR = 16;
/** Light that arrives by a rough bounce is cut off here: rarer, brighter samples would only be specks. */
const INDIRECT_LIMIT = 8;
const OFFSET = 2e-4;

/** Follows light paths through a scene. Public fields hold the result of the last {@link trace}. */
export class PathTracer {
  readonly light = new Float64Array(3);
  /** Object and material that the ray from the camera saw, -1 for none. */
  object = -1;
  material = -1;
  readonly tracer: Tracer;

  private readonly weight = new Float64Array(3);
  private readonly share = new Float64Array(3);
  private readonly before = new Float64Array(3);
  private readonly frame = new Frame();
  private readonly disc: [number, number, number];
  private readonly surface: Surface = {
    nx: 0,
    ny: 0,
    nz: 1,
    wx: 0,
    wy: 0,
    wz: 1,
    r: 0,
    g: 0,
    b: 0,
    roughness: 1,
    ior: 1.5,
    outside: true,
    thin: false,
  };
  private readonly next: Scatter = { x: 0, y: 0, z: 0, weight: new Float64Array(3), through: false };

  constructor(
    private readonly scene: Scene,
    private readonly bvh: Bvh,
    private readonly bounces: number,
  ) {
    this.tracer = new Tracer(bvh, shadowTints(scene, bvh));
    this.disc = scene.sun ? sunRadiance(scene.sun) : [0, 0, 0];
  }

  /** Follows one ray from the camera; with `idsOnly` it stops at the first hit and carries no light. */
  trace(
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    sampler: Sampler,
    idsOnly: boolean,
  ) {
    const { scene, bvh, tracer, light, weight, surface: s, next } = this;
    light.fill(0);
    weight.fill(1);
    this.object = this.material = -1;
    let rough = 0;
    let mirrored = 0;
    for (let depth = 0; ; depth++) {
      if (!tracer.nearest(ox, oy, oz, dx, dy, dz, Infinity)) {
        this.before.set(light);
        addSky(scene.sky, dx, dy, dz, weight, light);
        if (rough === 0) this.addDisc(dx, dy, dz);
        else this.limit();
        return;
      }
      const { t, u, v } = tracer;
      const leaf = tracer.triangle;
      const triangle = bvh.order[leaf]!;
      const materialNumber = scene.triangleMaterial[triangle]!;
      if (depth === 0) {
        this.object = scene.triangleObject[triangle]!;
        this.material = materialNumber;
        if (idsOnly) return;
      }
      const m = scene.materials[materialNumber]!;

      const k = 9 * leaf;
      const tri = bvh.triangles;
      let gx = tri[k + 4]! * tri[k + 8]! - tri[k + 5]! * tri[k + 7]!;
      let gy = tri[k + 5]! * tri[k + 6]! - tri[k + 3]! * tri[k + 8]!;
      let gz = tri[k + 3]! * tri[k + 7]! - tri[k + 4]! * tri[k + 6]!;
      const g = 1 / Math.hypot(gx, gy, gz);
      s.outside = gx * dx + gy * dy + gz * dz < 0;
      const side = s.outside ? g : -g;
      gx *= side;
      gy *= side;
      gz *= side;
      const a = 3 * scene.indices[3 * triangle]!;
      const b = 3 * scene.indices[3 * triangle + 1]!;
      const c = 3 * scene.indices[3 * triangle + 2]!;
      const w = 1 - u - v;
      const n = scene.normals;
      let nx = w * n[a]! + u * n[b]! + v * n[c]!;
      let ny = w * n[a + 1]! + u * n[b + 1]! + v * n[c + 1]!;
      let nz = w * n[a + 2]! + u * n[b + 2]! + v * n[c + 2]!;
      const length = Math.hypot(nx, ny, nz);
      const turn = (nx * gx + ny * gy + nz * gz < 0 ? -1 : 1) / length;
      nx *= turn;
      ny *= turn;
      nz *= turn;
      // A smooth normal that points away from the viewer, or is missing, gives way to the triangle's own.
      const facing = -(nx * dx + ny * dy + nz * dz);
      if (!(facing > 1e-3)) {
        nx = gx;
        ny = gy;
        nz = gz;
      }
      const tint = scene.colours;
      s.nx = nx;
      s.ny = ny;
      s.nz = nz;
      s.wx = -dx;
      s.wy = -dy;
      s.wz = -dz;
      s.r = m.colour[0] * (w * tint[a]! + u * tint[b]! + v * tint[c]!);
      s.g = m.colour[1] * (w * tint[a + 1]! + u * tint[b + 1]! + v * tint[c + 1]!);
      s.b = m.colour[2] * (w * tint[a + 2]! + u * tint[b + 2]! + v * tint[c + 2]!);
      s.roughness = m.roughness;
      s.ior = m.ior;
      s.thin = m.kind === 'glass' && !m.absorption;
      if (m.absorption && !s.outside)
        for (let i = 0; i < 3; i++) weight[i]! *= Math.exp(-m.absorption[i]! * t);

      const px = ox + dx * t;
      const py = oy + dy * t;
      const pz = oz + dz * t;
      const scatter = MATERIALS[m.kind];
      if (!scatter.specular && scene.sun) {
        this.before.set(light);
        this.addSun(px + gx * OFFSET, py + gy * OFFSET, pz + gz * OFFSET, gx, gy, gz, sampler);
        if (rough > 0) this.limit();
      }
      if (scatter.specular ? ++mirrored > MOST_SPECULAR : ++rough > this.bounces + 1) return;
      if (!scatter.sample(s, sampler, next)) return;
      // A rough reflection below the true surface would leak light through thin things.
      if (!next.through && next.x * gx + next.y * gy + next.z * gz <= 0) return;
      for (let i = 0; i < 3; i++) weight[i]! *= next.weight[i]!;
      const strongest = Math.max(weight[0]!, weight[1]!, weight[2]!);
      if (strongest <= 0) return;
      if (depth > 2 && strongest < 0.5) {
        sampler.next();
        if (sampler.x >= strongest / 0.5) return;
        for (let i = 0; i < 3; i++) weight[i]! *= 0.5 / strongest;
      }
      const offset = next.through ? -OFFSET : OFFSET;
      ox = px + gx * offset;
      oy = py + gy * offset;
      oz = pz + gz * offset;
      dx = next.x;
      dy = next.y;
      dz = next.z;
    }
  }

  private limit(): void {
    for (let i = 0; i < 3; i++) this.light[i] = Math.min(this.light[i]!, this.before[i]! + INDIRECT_LIMIT);
  }

  /** The sun's disc as mirrors and glass show it. */
  private addDisc(dx: number, dy: number, dz: number): void {
    const sun = this.scene.sun;
    if (!sun || this.object < 0) return;
    const [x, y, z] = sun.direction;
    if (dx * x + dy * y + dz * z < Math.cos(sun.angularRadius)) return;
    for (let i = 0; i < 3; i++) this.light[i]! += this.weight[i]! * this.disc[i]!;
  }

  private addSun(
    px: number,
    py: number,
    pz: number,
    gx: number,
    gy: number,
    gz: number,
    sampler: Sampler,
  ): void {
    const { sun } = this.scene;
    const { frame, share, tracer, light, weight } = this;
    sampler.next();
    const cosine = 1 - sampler.x * (1 - Math.cos(sun!.angularRadius));
    const sine = Math.sqrt(Math.max(0, 1 - cosine * cosine));
    const phi = 2 * Math.PI * sampler.y;
    frame.set(sun!.direction[0], sun!.direction[1], sun!.direction[2]);
    frame.toWorld(sine * Math.cos(phi), sine * Math.sin(phi), cosine);
    const { x, y, z } = frame;
    if (x * gx + y * gy + z * gz <= 0) return;
    const kind = this.scene.materials[this.scene.triangleMaterial[this.bvh.order[tracer.triangle]!]!]!.kind;
    MATERIALS[kind].evaluate(this.surface, x, y, z, share);
    if (share[0]! + share[1]! + share[2]! <= 0) return;
    if (!tracer.transmittance(px, py, pz, x, y, z, Infinity)) return;
    light[0]! += weight[0]! * share[0]! * sun!.irradiance[0] * tracer.passR;
    light[1]! += weight[1]! * share[1]! * sun!.irradiance[1] * tracer.passG;
    light[2]! += weight[2]! * share[2]! * sun!.irradiance[2] * tracer.passB;
  }
}

/** Typical path length inside solid glass that stands for the true one in shadows. */
const SHADOW_DEPTH = 0.012;

/**
 * The share of sunlight each triangle lets pass. Shadows of glass are drawn straight, without bending: an
 * approximation, but it avoids both black shadows and the noise of true caustics.
 */
function shadowTints(scene: Scene, bvh: Bvh): Float32Array {
  const tints = new Float32Array(bvh.order.length * 3);
  for (let i = 0; i < bvh.order.length; i++) {
    const m = scene.materials[scene.triangleMaterial[bvh.order[i]!]!]!;
    if (m.kind !== 'glass') continue;
    for (let k = 0; k < 3; k++)
      tints[3 * i + k] = 0.93 * m.colour[k]! * Math.exp(-(m.absorption?.[k] ?? 0) * SHADOW_DEPTH);
  }
  return tints;
}
