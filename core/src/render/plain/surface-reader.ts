import type { Scene, SceneMaterial } from '../../scene/scene.ts';
import type { Surface } from './materials/surface.ts';
import { textureAt } from './textures.ts';
import type { Tracer } from './tracer.ts';
import { lengthOf } from './vector.ts';

/** Reads what the surface is like at the last hit of a tracer. */
export class SurfaceReader {
  readonly surface: Surface = {
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
  /** Geometric normal, on the viewer's side. */
  gx = 0;
  gy = 0;
  gz = 1;
  metalness = 0;
  private readonly corners = new Float64Array(9);
  private readonly texel = new Float64Array(4);

  constructor(
    private readonly scene: Scene,
    private readonly tracer: Tracer,
  ) {}

  /** Normal, colour and roughness at the hit, textures included; fills `surface` and the geometric normal. */
  read(m: SceneMaterial, dx: number, dy: number, dz: number): void {
    const { tracer, corners: k, surface: s, texel, scene } = this;
    const { triangle, u, v } = tracer;
    tracer.corners(triangle, k);
    let gx = k[4]! * k[8]! - k[5]! * k[7]!;
    let gy = k[5]! * k[6]! - k[3]! * k[8]!;
    let gz = k[3]! * k[7]! - k[4]! * k[6]!;
    const g = 1 / lengthOf(gx, gy, gz);
    s.outside = gx * dx + gy * dy + gz * dz < 0;
    const side = s.outside ? g : -g;
    gx *= side;
    gy *= side;
    gz *= side;
    this.gx = gx;
    this.gy = gy;
    this.gz = gz;
    const a = 3 * scene.indices[3 * triangle]!;
    const b = 3 * scene.indices[3 * triangle + 1]!;
    const c = 3 * scene.indices[3 * triangle + 2]!;
    const w = 1 - u - v;
    const n = scene.normals;
    let nx = w * n[a]! + u * n[b]! + v * n[c]!;
    let ny = w * n[a + 1]! + u * n[b + 1]! + v * n[c + 1]!;
    let nz = w * n[a + 2]! + u * n[b + 2]! + v * n[c + 2]!;
    if (m.normalMap) {
      const length = lengthOf(nx, ny, nz);
      if (!(length > 0)) {
        nx = s.outside ? gx : -gx;
        ny = s.outside ? gy : -gy;
        nz = s.outside ? gz : -gz;
      } else {
        nx /= length;
        ny /= length;
        nz /= length;
      }
      this.bend(m.normalMap, triangle, nx, ny, nz);
      nx = s.nx;
      ny = s.ny;
      nz = s.nz;
    }
    const length = lengthOf(nx, ny, nz);
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
    s.thin = m.transmission > 0 && !m.absorption;
    this.metalness = m.metalness;
    if (m.colourMap) {
      textureAt(scene, m.colourMap, triangle, u, v, true, texel);
      s.r *= texel[0]!;
      s.g *= texel[1]!;
      s.b *= texel[2]!;
    }
    if (m.surfaceMap) {
      textureAt(scene, m.surfaceMap, triangle, u, v, false, texel);
      s.roughness *= texel[1]!;
      this.metalness *= texel[2]!;
    }
  }

  /** Turns a normal by a normal map; the tangents come from the triangle's texture coordinates. */
  private bend(
    map: NonNullable<SceneMaterial['normalMap']>,
    triangle: number,
    nx: number,
    ny: number,
    nz: number,
  ): void {
    const { corners: k, surface: s, texel, tracer, scene } = this;
    const { uvs, indices } = scene;
    const set = 2 * map.set;
    const [a, b, c] = [0, 1, 2].map((i) => 4 * indices[3 * triangle + i]! + set) as [number, number, number];
    const [u1, v1] = [uvs[b]! - uvs[a]!, uvs[b + 1]! - uvs[a + 1]!];
    const [u2, v2] = [uvs[c]! - uvs[a]!, uvs[c + 1]! - uvs[a + 1]!];
    const area = u1 * v2 - u2 * v1;
    s.nx = nx;
    s.ny = ny;
    s.nz = nz;
    if (area === 0) return;
    // Gradient of u over the surface, made square to the normal; v runs down the picture.
    let tx = (k[3]! * v2 - k[6]! * v1) / area;
    let ty = (k[4]! * v2 - k[7]! * v1) / area;
    let tz = (k[5]! * v2 - k[8]! * v1) / area;
    const along = tx * nx + ty * ny + tz * nz;
    tx -= along * nx;
    ty -= along * ny;
    tz -= along * nz;
    const length = lengthOf(tx, ty, tz);
    if (!(length > 0)) return;
    tx /= length;
    ty /= length;
    tz /= length;
    const hand = area < 0 ? -1 : 1;
    const [bx, by, bz] = [hand * (tz * ny - ty * nz), hand * (tx * nz - tz * nx), hand * (ty * nx - tx * ny)];
    textureAt(scene, map, triangle, tracer.u, tracer.v, false, texel);
    const x = (2 * texel[0]! - 1) * map.scale;
    const y = (2 * texel[1]! - 1) * map.scale;
    const z = 2 * texel[2]! - 1;
    s.nx = x * tx + y * bx + z * nx;
    s.ny = x * ty + y * by + z * ny;
    s.nz = x * tz + y * bz + z * nz;
  }
}
