import { luminance } from '../colour/luminance.ts';
import { matrixStep } from '../kernels/tile.ts';
import { defineCorrection } from './correction.ts';
import { strengthField } from './usual-fields.ts';

/** Takes the colour out and keeps the light: Rec. 709 luminance. */
export const grey = defineCorrection<{ strength: number }>({
  works: 'pixel',
  kind: 'grey',
  label: 'To grey',
  group: 'colour',
  hint: 'Takes colour out and keeps how light things are.',
  fields: [strengthField(100, 100)],
  kernel({ strength }) {
    const s = strength / 100;
    const light = [0.2126, 0.7152, 0.0722].map((w) => s * w);
    return matrixStep([0, 1, 2].map((k) => light.map((w, i) => w + (i === k ? 1 - s : 0))));
  },
  apply({ count, r, g, b }, { strength }) {
    const s = strength / 100;
    for (let i = 0; i < count; i++) {
      const y = luminance(r[i]!, g[i]!, b[i]!);
      r[i] = r[i]! + s * (y - r[i]!);
      g[i] = g[i]! + s * (y - g[i]!);
      b[i] = b[i]! + s * (y - b[i]!);
    }
  },
});
