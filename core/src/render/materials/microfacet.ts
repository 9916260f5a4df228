import { ggxD, ggxLambda, sampleVisibleNormal } from '../ggx.ts';
import type { Sampler } from '../sampler.ts';
import { Frame, type Scatter, type Surface } from './surface.ts';

/** Smoothest lobe that is still lit by sampled lights. */
const LEAST_ALPHA = 0.0064;

export const alphaOf = (s: Surface): number => Math.max(LEAST_ALPHA, s.roughness * s.roughness);

const frame = new Frame();
const micro = new Float64Array(3);

/** D * G / (4 cos v), the microfacet term times the light's cosine without Fresnel; also gives v.h in `cosines`. */
export function microfacet(s: Surface, x: number, y: number, z: number, cosines: { vh: number }): number {
  const nl = s.nx * x + s.ny * y + s.nz * z;
  const nv = s.nx * s.wx + s.ny * s.wy + s.nz * s.wz;
  if (nl <= 0 || nv <= 0) return 0;
  const hx = x + s.wx;
  const hy = y + s.wy;
  const hz = z + s.wz;
  const h = 1 / Math.hypot(hx, hy, hz);
  const nh = (s.nx * hx + s.ny * hy + s.nz * hz) * h;
  cosines.vh = (s.wx * hx + s.wy * hy + s.wz * hz) * h;
  const alpha = alphaOf(s);
  const g2 = 1 / (1 + ggxLambda(nv, alpha) + ggxLambda(nl, alpha));
  return (ggxD(nh, alpha) * g2) / (4 * nv);
}

/**
 * Reflects at a sampled visible microfacet. Writes the direction and returns the weight without Fresnel (G2 / G1),
 * 0 if the light would come from below; `cosines.vh` is set.
 */
export function sampleMicrofacet(
  s: Surface,
  sampler: Sampler,
  out: Scatter,
  cosines: { vh: number },
): number {
  sampler.next();
  frame.set(s.nx, s.ny, s.nz).toLocal(s.wx, s.wy, s.wz);
  const { x, y } = frame;
  const z = Math.max(1e-4, frame.z);
  const alpha = alphaOf(s);
  sampleVisibleNormal(x, y, z, alpha, sampler.x, sampler.y, micro);
  const vh = x * micro[0]! + y * micro[1]! + z * micro[2]!;
  const lz = 2 * vh * micro[2]! - z;
  if (vh <= 0 || lz <= 0) return 0;
  frame.toWorld(2 * vh * micro[0]! - x, 2 * vh * micro[1]! - y, lz);
  out.x = frame.x;
  out.y = frame.y;
  out.z = frame.z;
  out.through = false;
  cosines.vh = vh;
  const lv = ggxLambda(z, alpha);
  return (1 + lv) / (1 + lv + ggxLambda(lz, alpha));
}
