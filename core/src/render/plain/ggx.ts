import { lengthOf } from './vector.ts';

/**
 * The GGX distribution of microfacets (Walter et al. 2007) with Smith's shadowing, in a frame whose z is the
 * normal. Visible normals are sampled after Heitz, "Sampling the GGX Distribution of Visible Normals" (2018).
 */
export function ggxLambda(cosine: number, alpha: number): number {
  const c2 = cosine * cosine;
  const tan2 = Math.max(0, 1 - c2) / Math.max(c2, 1e-12);
  return (-1 + Math.sqrt(1 + alpha * alpha * tan2)) / 2;
}

/** Density of microfacets whose normal has this cosine with the surface's. */
export function ggxD(cosine: number, alpha: number): number {
  const a2 = alpha * alpha;
  const k = cosine * cosine * (a2 - 1) + 1;
  return a2 / (Math.PI * k * k);
}

/** Writes a visible microfacet normal for a view direction (x, y, z), z > 0, to `out`. */
export function sampleVisibleNormal(
  x: number,
  y: number,
  z: number,
  alpha: number,
  u1: number,
  u2: number,
  out: Float64Array,
): void {
  let vx = alpha * x;
  let vy = alpha * y;
  let vz = z;
  const length = lengthOf(vx, vy, vz);
  vx /= length;
  vy /= length;
  vz /= length;
  const flat = vx * vx + vy * vy;
  const inv = flat > 0 ? 1 / Math.sqrt(flat) : 0;
  const t1x = flat > 0 ? -vy * inv : 1;
  const t1y = flat > 0 ? vx * inv : 0;
  const t2x = -vz * t1y;
  const t2y = vz * t1x;
  const t2z = vx * t1y - vy * t1x;
  const r = Math.sqrt(u1);
  const phi = 2 * Math.PI * u2;
  const p1 = r * Math.cos(phi);
  const s = 0.5 * (1 + vz);
  const p2 = (1 - s) * Math.sqrt(Math.max(0, 1 - p1 * p1)) + s * r * Math.sin(phi);
  const p3 = Math.sqrt(Math.max(0, 1 - p1 * p1 - p2 * p2));
  const nx = alpha * (p1 * t1x + p2 * t2x + p3 * vx);
  const ny = alpha * (p1 * t1y + p2 * t2y + p3 * vy);
  const nz = Math.max(1e-6, p2 * t2z + p3 * vz);
  const n = lengthOf(nx, ny, nz);
  out[0] = nx / n;
  out[1] = ny / n;
  out[2] = nz / n;
}

/** Reflectance of a smooth dielectric, unpolarised; `eta` is the ratio of indices behind to before. */
export function fresnelDielectric(cosine: number, eta: number): number {
  const sin2 = (1 - cosine * cosine) / (eta * eta);
  if (sin2 >= 1) return 1;
  const inner = Math.sqrt(1 - sin2);
  const s = (cosine - eta * inner) / (cosine + eta * inner);
  const p = (eta * cosine - inner) / (eta * cosine + inner);
  return (s * s + p * p) / 2;
}

/** Schlick's approximation (1994). */
export const schlick = (f0: number, cosine: number): number => {
  const m = 1 - Math.min(1, Math.max(0, cosine));
  return f0 + (1 - f0) * m * m * m * m * m;
};
