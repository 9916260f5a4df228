import { schlick } from '../ggx.ts';
import { microfacet, sampleMicrofacet } from './microfacet.ts';
import type { Material, Surface } from './surface.ts';

const cosines = { vh: 0 };

function tint(s: Surface, scale: number, out: Float64Array): void {
  out[0] = scale * schlick(s.r, cosines.vh);
  out[1] = scale * schlick(s.g, cosines.vh);
  out[2] = scale * schlick(s.b, cosines.vh);
}

/** A rough mirror whose reflectance at normal incidence is the metal's colour. */
export const metal: Material = {
  specular: false,
  evaluate(s, x, y, z, out) {
    tint(s, microfacet(s, x, y, z, cosines), out);
  },
  sample(s, sampler, out) {
    const weight = sampleMicrofacet(s, sampler, out, cosines);
    tint(s, weight, out.weight);
    return weight > 0;
  },
};
