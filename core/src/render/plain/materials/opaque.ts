import { schlick } from '../ggx.ts';
import { microfacet, sampleMicrofacet, type Facet } from './microfacet.ts';
import { Frame, LOBE, type Material, type Surface } from './surface.ts';

const facet: Facet = { vh: 0, density: 0 };
const frame = new Frame();

const f0Of = (ior: number) => ((ior - 1) / (ior + 1)) ** 2;
const cosineToViewer = (s: Surface) => s.nx * s.wx + s.ny * s.wy + s.nz * s.wz;
/** Probability of following the coat's reflection. */
const shineOf = (reflected: number) => Math.min(0.9, Math.max(0.1, reflected * 1.5));

/** A diffuse base under a rough clear coat; what the coat reflects does not reach the base. */
export const opaque: Material = {
  sampled: true,
  evaluate(s, x, y, z, out) {
    const nl = s.nx * x + s.ny * y + s.nz * z;
    out.diffuseDensity = out.reflectedDensity = 0;
    out.diffuse.fill(0);
    out.reflected.fill(0);
    if (nl <= 0) return;
    const f0 = f0Of(s.ior);
    const reflected = schlick(f0, cosineToViewer(s));
    const shine = shineOf(reflected);
    const coat = microfacet(s, x, y, z, facet);
    if (coat > 0) out.reflected.fill(coat * schlick(f0, facet.vh));
    out.reflectedDensity = shine * facet.density;
    const base = ((1 - reflected) * nl) / Math.PI;
    out.diffuse[0] = s.r * base;
    out.diffuse[1] = s.g * base;
    out.diffuse[2] = s.b * base;
    out.diffuseDensity = ((1 - shine) * nl) / Math.PI;
  },
  sample(s, sampler, pair, out) {
    const reflected = schlick(f0Of(s.ior), cosineToViewer(s));
    const shine = shineOf(reflected);
    sampler.take(pair);
    if (sampler.x < shine) {
      const weight = sampleMicrofacet(s, sampler, pair + 1, out, facet);
      out.weight.fill((weight * schlick(f0Of(s.ior), facet.vh)) / shine);
      out.density *= shine;
      return weight > 0;
    }
    // Cosine-weighted directions; the cosine and pi cancel against the density.
    sampler.take(pair + 1);
    const r = Math.sqrt(sampler.x);
    const phi = 2 * Math.PI * sampler.y;
    const up = Math.sqrt(Math.max(0, 1 - sampler.x));
    frame.set(s.nx, s.ny, s.nz);
    frame.toWorld(r * Math.cos(phi), r * Math.sin(phi), up);
    out.x = frame.x;
    out.y = frame.y;
    out.z = frame.z;
    out.lobe = LOBE.diffuse;
    out.density = ((1 - shine) * up) / Math.PI;
    const w = (1 - reflected) / (1 - shine);
    out.weight[0] = s.r * w;
    out.weight[1] = s.g * w;
    out.weight[2] = s.b * w;
    return true;
  },
};
