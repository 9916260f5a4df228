import { defineCorrection } from './correction.ts';
import { inner } from './soft.ts';
import { strengthField } from './usual-fields.ts';

/** Light is compared on this scale, on which noise is about alike everywhere: dark parts are not all alike to it. */
const scaled = (v: number) => (v > 0 ? Math.sqrt(v) : 0);

/**
 * Takes noise off and keeps edges: each pixel becomes the mean of those around it that the mask covers and that look
 * like it, the more alike the more (a bilateral filter, Tomasi and Manduchi 1998). Alike is what differs by less than a
 * spread that grows with the strength, in the square roots of the channels.
 */
export const denoise = defineCorrection<{ strength: number; radius: number }>({
  works: 'area',
  kind: 'denoise',
  label: 'Denoise',
  group: 'area',
  hint: 'Takes grain off and keeps edges, inside the mask only.',
  numbers:
    'Replaces each pixel by a mean of the similar pixels within the radius. Similarity is measured on the square root of the light.',
  fields: [
    strengthField(100, 40),
    {
      kind: 'number',
      key: 'radius',
      label: 'Radius',
      unit: 'px',
      min: 1,
      max: 8,
      softMax: 5,
      step: 1,
      neutral: 3,
    },
  ],
  idle: ({ strength }) => strength === 0,
  reach: ({ radius }) => radius,
  apply(window, { strength, radius }, out) {
    const { planes, coverage, margin } = window;
    const own = [planes.r, planes.g, planes.b].map((p) => p.map(scaled));
    const [sr, sg, sb] = own as [Float32Array, Float32Array, Float32Array];
    const spread = 0.3 * (strength / 100) ** 1.5 + 1e-4;
    const across = planes.width - 2 * margin;
    const [r, g, b] = (['r', 'g', 'b'] as const).map((k) => inner(planes[k], window)) as [
      Float32Array,
      Float32Array,
      Float32Array,
    ];
    for (let i = 0; i < r.length; i++) {
      const at = (margin + Math.floor(i / across)) * planes.width + margin + (i % across);
      let [weight, x, y, z] = [0, 0, 0, 0];
      for (let dy = -radius; dy <= radius; dy++)
        for (let dx = -radius; dx <= radius; dx++) {
          const q = at + dy * planes.width + dx;
          const c = coverage[q]!;
          if (!(c > 0)) continue;
          const away =
            ((sr[q]! - sr[at]!) ** 2 + (sg[q]! - sg[at]!) ** 2 + (sb[q]! - sb[at]!) ** 2) / spread ** 2;
          const near = (dx * dx + dy * dy) / (radius * radius);
          if (!(away < 9)) continue;
          const w = c * Math.exp(-away - near);
          weight += w;
          x += w * planes.r[q]!;
          y += w * planes.g[q]!;
          z += w * planes.b[q]!;
        }
      out.r[i] = weight > 0 ? x / weight : r[i]!;
      out.g[i] = weight > 0 ? y / weight : g[i]!;
      out.b[i] = weight > 0 ? z / weight : b[i]!;
    }
  },
});
