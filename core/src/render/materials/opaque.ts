import { schlick } from '../ggx.ts';
import { microfacet, sampleMicrofacet } from './microfacet.ts';
import { Frame, type Material } from './surface.ts';

const cosines = { vh: 0 };
const frame = new Frame();

const f0Of = (ior: number) => ((ior - 1) / (ior + 1)) ** 2;

/** A diffuse base under a rough clear coat; what the coat reflects does not reach the base. */
export const opaque: Material = {
  specular: false,
  evaluate(s, x, y, z, out) {
    const nl = s.nx * x + s.ny * y + s.nz * z;
    if (nl <= 0) {
      out.fill(0);
      return;
    }
    const nv = s.nx * s.wx + s.ny * s.wy + s.nz * s.wz;
    const f0 = f0Of(s.ior);
    const coat = microfacet(s, x, y, z, cosines);
    const shine = coat > 0 ? coat * schlick(f0, cosines.vh) : 0;
    const base = ((1 - schlick(f0, nv)) * nl) / Math.PI;
    out[0] = s.r * base + shine;
    out[1] = s.g * base + shine;
    out[2] = s.b * base + shine;
  },
  sample(s, sampler, out) {
    const nv = s.nx * s.wx + s.ny * s.wy + s.nz * s.wz;
    const reflected = schlick(f0Of(s.ior), nv);
    const shine = Math.min(0.9, Math.max(0.1, reflected * 1.5));
    sampler.next();
    if (sampler.x < shine) {
      const weight = sampleMicrofacet(s, sampler, out, cosines);
      out.weight.fill((weight * schlick(f0Of(s.ior), cosines.vh)) / shine);
      return weight > 0;
    }
    // Cosine-weighted directions; the cosine and pi cancel against the density.
    sampler.next();
    const r = Math.sqrt(sampler.x);
    const phi = 2 * Math.PI * sampler.y;
    frame.set(s.nx, s.ny, s.nz);
    frame.toWorld(r * Math.cos(phi), r * Math.sin(phi), Math.sqrt(Math.max(0, 1 - sampler.x)));
    out.x = frame.x;
    out.y = frame.y;
    out.z = frame.z;
    out.through = false;
    const w = (1 - reflected) / (1 - shine);
    out.weight[0] = s.r * w;
    out.weight[1] = s.g * w;
    out.weight[2] = s.b * w;
    return true;
  },
};
