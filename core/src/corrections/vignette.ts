import { displayOf } from '../planes/size.ts';
import { defineCorrection } from './correction.ts';

interface Values {
  stops: number;
  size: number;
  soft: number;
}

/**
 * Darkens towards the corners of the frame, or brightens below 0, by so many stops there. Distances are shares of half
 * the display window's diagonal, so that it is round and fits a frame of any size and overscan.
 */
export const vignette = defineCorrection<Values>({
  works: 'pixel',
  kind: 'vignette',
  label: 'Vignette',
  group: 'light',
  hint: 'Darkens towards the corners of the frame.',
  numbers:
    'Darkens by the stops, with a smooth falloff. Distances from the centre are shares of half the diagonal.',
  fields: [
    {
      kind: 'number',
      key: 'stops',
      label: 'Darker by',
      unit: 'stops',
      min: -10,
      max: 10,
      softMin: -2,
      softMax: 3,
      step: 0.05,
      neutral: 0,
      initial: 0.7,
    },
    {
      kind: 'number',
      key: 'size',
      label: 'Begins at',
      unit: '%',
      min: 0,
      max: 200,
      softMax: 100,
      step: 1,
      neutral: 40,
    },
    {
      kind: 'number',
      key: 'soft',
      label: 'Softness',
      unit: '%',
      min: 1,
      max: 200,
      softMax: 100,
      step: 1,
      neutral: 60,
    },
  ],
  idle: ({ stops }) => stops === 0,
  apply({ count, r, g, b, at, rendered }, { stops, size, soft }) {
    const { width } = rendered;
    const { x0, y0, x1, y1 } = displayOf(rendered);
    const diagonal = Math.hypot(x1 - x0, y1 - y0) / 2;
    const [middleX, middleY] = [(x0 + x1) / 2, (y0 + y1) / 2];
    for (let i = 0; i < count; i++) {
      const [x, y] = [(at[i]! % width) + 0.5 - middleX, Math.floor(at[i]! / width) + 0.5 - middleY];
      const t = Math.min(1, Math.max(0, (Math.hypot(x, y) / diagonal - size / 100) / (soft / 100)));
      const gain = 2 ** (-stops * t * t * (3 - 2 * t));
      r[i]! *= gain;
      g[i]! *= gain;
      b[i]! *= gain;
    }
  },
});
