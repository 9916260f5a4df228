import { fresnelDielectric, ggxLambda } from '../ggx.ts';
import { alphaOf, sampleFacet } from './microfacet.ts';
import { LOBE, type Material } from './surface.ts';

/** Glass smoother than this is perfectly smooth. */
const SMOOTH = 0.03;
const normal = new Float64Array(3);

/**
 * A dielectric. Solid glass bends light by Snell's law; a thin wall reflects at both its sides and lets the rest go
 * straight on. Which of the two happens is chosen with the probability of its share of the light. A rough surface
 * does the same at a microfacet (Walter et al., "Microfacet Models for Refraction through Rough Surfaces", 2007).
 */
export const glass: Material = {
  sampled: false,
  evaluate(_s, _x, _y, _z, out) {
    out.diffuse.fill(0);
    out.reflected.fill(0);
    out.diffuseDensity = out.reflectedDensity = 0;
  },
  sample(s, sampler, pair, out) {
    const rough = s.roughness >= SMOOTH;
    if (rough) sampleFacet(s, sampler, pair + 1, normal);
    else {
      normal[0] = s.nx;
      normal[1] = s.ny;
      normal[2] = s.nz;
    }
    const [nx, ny, nz] = [normal[0]!, normal[1]!, normal[2]!];
    const cosine = Math.min(1, nx * s.wx + ny * s.wy + nz * s.wz);
    if (cosine <= 0) return false;
    const eta = s.thin || s.outside ? s.ior : 1 / s.ior;
    let reflected = fresnelDielectric(cosine, eta);
    // Light bounces between the two sides of a thin wall: the sum of the series is 2R / (1 + R).
    if (s.thin) reflected = (2 * reflected) / (1 + reflected);
    sampler.take(pair);
    out.weight.fill(1);
    out.density = 0;
    if (sampler.x < reflected) {
      out.x = 2 * cosine * nx - s.wx;
      out.y = 2 * cosine * ny - s.wy;
      out.z = 2 * cosine * nz - s.wz;
      out.lobe = LOBE.reflect;
    } else {
      out.lobe = LOBE.through;
      if (s.thin && !rough) {
        out.x = -s.wx;
        out.y = -s.wy;
        out.z = -s.wz;
      } else if (s.thin) {
        // What a rough thin wall scatters on is its reflection, mirrored to the other side.
        const [x, y, z] = [2 * cosine * nx - s.wx, 2 * cosine * ny - s.wy, 2 * cosine * nz - s.wz];
        const up = 2 * (x * s.nx + y * s.ny + z * s.nz);
        out.x = x - up * s.nx;
        out.y = y - up * s.ny;
        out.z = z - up * s.nz;
      } else {
        const inner = Math.sqrt(Math.max(0, 1 - (1 - cosine * cosine) / (eta * eta)));
        const k = cosine / eta - inner;
        out.x = k * nx - s.wx / eta;
        out.y = k * ny - s.wy / eta;
        out.z = k * nz - s.wz / eta;
      }
      // A solid takes its colour once on the way in, a thin wall at every crossing.
      if (s.thin || s.outside) {
        out.weight[0] = s.r;
        out.weight[1] = s.g;
        out.weight[2] = s.b;
      }
    }
    if (!rough) return true;
    const side = out.x * s.nx + out.y * s.ny + out.z * s.nz;
    if ((out.lobe === LOBE.reflect) !== side > 0) return false;
    // Visible normals leave the share G2 / G1 of the light.
    const lv = ggxLambda(s.nx * s.wx + s.ny * s.wy + s.nz * s.wz, alphaOf(s));
    const share = (1 + lv) / (1 + lv + ggxLambda(Math.abs(side), alphaOf(s)));
    for (let i = 0; i < 3; i++) out.weight[i]! *= share;
    return true;
  },
};
