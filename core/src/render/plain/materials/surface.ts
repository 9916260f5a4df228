import type { Sampler } from '../sampler.ts';

/** A point on a surface, as a material sees it. All vectors are unit vectors in the world. */
export interface Surface {
  /** Shading normal, on the viewer's side. */
  nx: number;
  ny: number;
  nz: number;
  /** Towards the viewer. */
  wx: number;
  wy: number;
  wz: number;
  /** Colour of the material here, vertex colour and texture included. */
  r: number;
  g: number;
  b: number;
  roughness: number;
  ior: number;
  /** True if the surface was hit from the side its triangles face. */
  outside: boolean;
  /** Glass without an inside. */
  thin: boolean;
}

/** What a path does at a surface. */
export const LOBE = { diffuse: 0, reflect: 1, through: 2 } as const;

/** Where a path goes on. */
export interface Scatter {
  x: number;
  y: number;
  z: number;
  /** Throughput of the choice. */
  weight: Float64Array;
  lobe: (typeof LOBE)[keyof typeof LOBE];
  /** Density of the choice over solid angle, the choice of the lobe included; 0 for a perfect mirror or glass. */
  density: number;
}

/**
 * Light that a surface sends to the viewer from one direction, times cosine: `diffuse` and `reflected` apart, and
 * for each the density with which {@link Material.sample} would have chosen that direction.
 */
export interface Response {
  diffuse: Float64Array;
  reflected: Float64Array;
  diffuseDensity: number;
  reflectedDensity: number;
}

/** One way of scattering light. The interface works in place: paths are too many for allocations. */
export interface Material {
  /** A material is only reached by following paths if no light can be sampled on it. */
  sampled: boolean;
  evaluate(s: Surface, x: number, y: number, z: number, out: Response): void;
  /** Chooses the next direction from sample pairs `pair` and `pair + 1`; false if the path ends here. */
  sample(s: Surface, sampler: Sampler, pair: number, out: Scatter): boolean;
}

/** An orthonormal frame around a normal (Duff et al., "Building an Orthonormal Basis, Revisited", 2017). */
export class Frame {
  private tx = 1;
  private ty = 0;
  private tz = 0;
  private bx = 0;
  private by = 1;
  private bz = 0;
  private nx = 0;
  private ny = 0;
  private nz = 1;
  /** Result of {@link toLocal} or {@link toWorld}. */
  x = 0;
  y = 0;
  z = 0;

  set(nx: number, ny: number, nz: number): this {
    const sign = nz >= 0 ? 1 : -1;
    const a = -1 / (sign + nz);
    const b = nx * ny * a;
    this.tx = 1 + sign * nx * nx * a;
    this.ty = sign * b;
    this.tz = -sign * nx;
    this.bx = b;
    this.by = sign + ny * ny * a;
    this.bz = -ny;
    this.nx = nx;
    this.ny = ny;
    this.nz = nz;
    return this;
  }
  toLocal(x: number, y: number, z: number): void {
    this.x = x * this.tx + y * this.ty + z * this.tz;
    this.y = x * this.bx + y * this.by + z * this.bz;
    this.z = x * this.nx + y * this.ny + z * this.nz;
  }
  toWorld(x: number, y: number, z: number): void {
    this.x = x * this.tx + y * this.bx + z * this.nx;
    this.y = x * this.ty + y * this.by + z * this.ny;
    this.z = x * this.tz + y * this.bz + z * this.nz;
  }
}
