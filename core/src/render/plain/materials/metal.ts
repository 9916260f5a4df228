import { schlick } from '../ggx.ts';
import { microfacet, sampleMicrofacet, type Facet } from './microfacet.ts';
import type { Material, Surface } from './surface.ts';

const facet: Facet = { vh: 0, density: 0 };

function tint(s: Surface, scale: number, out: Float64Array): void {
  out[0] = scale * schlick(s.r, facet.vh);
  out[1] = scale * schlick(s.g, facet.vh);
  out[2] = scale * schlick(s.b, facet.vh);
}

/** A rough mirror whose reflectance at normal incidence is the metal's colour. */
export const metal: Material = {
  sampled: true,
  evaluate(s, x, y, z, out) {
    out.diffuse.fill(0);
    out.diffuseDensity = 0;
    tint(s, microfacet(s, x, y, z, facet), out.reflected);
    out.reflectedDensity = facet.density;
  },
  sample(s, sampler, pair, out) {
    const weight = sampleMicrofacet(s, sampler, pair + 1, out, facet);
    tint(s, weight, out.weight);
    return weight > 0;
  },
};
