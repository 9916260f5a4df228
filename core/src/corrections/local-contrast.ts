import { luminance } from '../colour/luminance.ts';
import { defineCorrection } from './correction.ts';
import { beyondField, boundsOf } from './overshoot.ts';
import { inner, reachOf, soften } from './soft.ts';
import { sizeField, strengthField } from './usual-fields.ts';

/** What a pixel is brighter or darker than its surroundings, in stops, is held within so many. */
const MOST = 4;

/**
 * Pulls a pixel away from the brightness around it, or towards it below 0: luminance times (Y / mean) ^ strength, mean
 * over what the mask covers in so large a neighbourhood. All channels alike, so that colours stay. Luminance stays within
 * so many stops of the darkest and the brightest beside it.
 */
export const localContrast = defineCorrection<{ strength: number; size: number; beyond: number }>({
  works: 'area',
  kind: 'local-contrast',
  label: 'Local contrast',
  group: 'area',
  hint: 'Brings out the shape of things, or flattens it, whatever their brightness.',
  numbers:
    'Multiplies by (luminance / local mean) ^ strength; hue and saturation stay. Overshoot is how many stops luminance may exceed its neighbours by; 20 means no limit.',
  fields: [
    strengthField(300, 40, { min: -100, softMin: -100, softMax: 100 }),
    sizeField(30, { min: 1, softMax: 80 }),
    beyondField(2),
  ],
  idle: ({ strength }) => strength === 0,
  reach: ({ size }) => reachOf(size),
  apply(window, { strength, size, beyond }, out) {
    const { coverage, planes } = window;
    const lights = planes.r.map((v, i) => luminance(v, planes.g[i]!, planes.b[i]!));
    const bounds = boundsOf(lights, window, beyond);
    const soft = soften(window, coverage, size);
    const [r, g, b] = (['r', 'g', 'b'] as const).map((k) => inner(window.planes[k], window)) as [
      Float32Array,
      Float32Array,
      Float32Array,
    ];
    for (let i = 0; i < r.length; i++) {
      const own = luminance(r[i]!, g[i]!, b[i]!);
      const around = luminance(soft.r[i]!, soft.g[i]!, soft.b[i]!) / soft.weights[i]!;
      const away = own > 0 && around > 0 ? Math.log2(own / around) : 0;
      let gain = 2 ** ((strength / 100) * Math.min(MOST, Math.max(-MOST, away)));
      if (bounds && own > 0) gain = Math.min(bounds.most[i]! / own, Math.max(bounds.least[i]! / own, gain));
      out.r[i] = r[i]! * gain;
      out.g[i] = g[i]! * gain;
      out.b[i] = b[i]! * gain;
    }
  },
});
