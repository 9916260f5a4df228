import { fresnelDielectric } from '../ggx.ts';
import type { Material } from './surface.ts';

/**
 * A smooth dielectric. Solid glass bends light by Snell's law; a thin wall reflects at both its sides and lets the
 * rest go straight on. Which of the two happens is chosen with the probability of its share of the light.
 */
export const glass: Material = {
  specular: true,
  evaluate(_s, _x, _y, _z, out) {
    out.fill(0);
  },
  sample(s, sampler, out) {
    const cosine = Math.min(1, s.nx * s.wx + s.ny * s.wy + s.nz * s.wz);
    const eta = s.thin || s.outside ? s.ior : 1 / s.ior;
    let reflected = fresnelDielectric(cosine, eta);
    // Light bounces between the two sides of a thin wall: the sum of the series is 2R / (1 + R).
    if (s.thin) reflected = (2 * reflected) / (1 + reflected);
    sampler.next();
    out.weight.fill(1);
    if (sampler.x < reflected) {
      out.x = 2 * cosine * s.nx - s.wx;
      out.y = 2 * cosine * s.ny - s.wy;
      out.z = 2 * cosine * s.nz - s.wz;
      out.through = false;
      return true;
    }
    out.through = true;
    if (s.thin) {
      out.x = -s.wx;
      out.y = -s.wy;
      out.z = -s.wz;
    } else {
      const inner = Math.sqrt(Math.max(0, 1 - (1 - cosine * cosine) / (eta * eta)));
      const k = cosine / eta - inner;
      out.x = k * s.nx - s.wx / eta;
      out.y = k * s.ny - s.wy / eta;
      out.z = k * s.nz - s.wz / eta;
    }
    // A solid takes its colour once on the way in, a thin wall at every crossing.
    if (s.thin || s.outside) {
      out.weight[0] = s.r;
      out.weight[1] = s.g;
      out.weight[2] = s.b;
    }
    return true;
  },
};
