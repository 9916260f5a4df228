import { ggxD, ggxLambda, sampleVisibleNormal } from '../ggx.ts';
import type { Sampler } from '../sampler.ts';
import { Frame, LOBE, type Scatter, type Surface } from './surface.ts';
import { lengthOf } from '../vector.ts';

/** Smoothest lobe that is still lit by sampled lights. */
const LEAST_ALPHA = 0.0064;

export const alphaOf = (s: Surface): number => Math.max(LEAST_ALPHA, s.roughness * s.roughness);

const frame = new Frame();
const micro = new Float64Array(3);

/** What the microfacet functions tell besides their result. */
export interface Facet {
  /** Cosine between viewer and microfacet normal. */
  vh: number;
  /** Density over solid angle of reflecting at a visible microfacet. */
  density: number;
}

/** D * G / (4 cos v), the microfacet term times the light's cosine without Fresnel. */
export function microfacet(s: Surface, x: number, y: number, z: number, facet: Facet): number {
  const nl = s.nx * x + s.ny * y + s.nz * z;
  const nv = s.nx * s.wx + s.ny * s.wy + s.nz * s.wz;
  facet.density = 0;
  if (nl <= 0 || nv <= 0) return 0;
  const hx = x + s.wx;
  const hy = y + s.wy;
  const hz = z + s.wz;
  const h = 1 / lengthOf(hx, hy, hz);
  const nh = (s.nx * hx + s.ny * hy + s.nz * hz) * h;
  facet.vh = (s.wx * hx + s.wy * hy + s.wz * hz) * h;
  const alpha = alphaOf(s);
  const d = ggxD(nh, alpha) / (4 * nv);
  const lv = ggxLambda(nv, alpha);
  // Visible normals have density D G1 (v.h) / cos v; turning it into directions divides by 4 v.h.
  facet.density = d / (1 + lv);
  return d / (1 + lv + ggxLambda(nl, alpha));
}

/** Samples a visible microfacet normal in the world into `out`. */
export function sampleFacet(s: Surface, sampler: Sampler, pair: number, out: Float64Array): void {
  sampler.take(pair);
  frame.set(s.nx, s.ny, s.nz).toLocal(s.wx, s.wy, s.wz);
  sampleVisibleNormal(frame.x, frame.y, Math.max(1e-4, frame.z), alphaOf(s), sampler.x, sampler.y, micro);
  frame.toWorld(micro[0]!, micro[1]!, micro[2]!);
  out[0] = frame.x;
  out[1] = frame.y;
  out[2] = frame.z;
}

const normal = new Float64Array(3);

/**
 * Reflects at a sampled visible microfacet. Writes direction and density and returns the weight without Fresnel
 * (G2 / G1), 0 if the light would come from below.
 */
export function sampleMicrofacet(
  s: Surface,
  sampler: Sampler,
  pair: number,
  out: Scatter,
  facet: Facet,
): number {
  sampleFacet(s, sampler, pair, normal);
  const vh = s.wx * normal[0]! + s.wy * normal[1]! + s.wz * normal[2]!;
  if (vh <= 0) return 0;
  out.x = 2 * vh * normal[0]! - s.wx;
  out.y = 2 * vh * normal[1]! - s.wy;
  out.z = 2 * vh * normal[2]! - s.wz;
  out.lobe = LOBE.reflect;
  const term = microfacet(s, out.x, out.y, out.z, facet);
  facet.vh = vh;
  out.density = facet.density;
  return facet.density > 0 ? term / facet.density : 0;
}
