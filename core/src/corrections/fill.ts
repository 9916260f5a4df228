import { luminance } from '../colour/luminance.ts';
import type { ColourValue } from '../fields/field.ts';
import { defineCorrection } from './correction.ts';
import { angleField } from './usual-fields.ts';

interface Values {
  colour: ColourValue;
  second: ColourValue;
  gradient: boolean;
  angle: number;
  shading: number;
}

/** Corners of what a part covers, and its mean luminance. */
const NAMES = ['bounds', 'light'] as const;

/**
 * Fills a part with one colour, or with two across it, and keeps its shading: light and dark of the part, as shares of its
 * mean luminance in the picture as rendered, multiply the colour. The gradient runs from one side of the part to the
 * other, in linear light.
 */
export const fill = defineCorrection<Values>({
  works: 'pixel',
  rec709: true,
  kind: 'fill',
  label: 'Fill with a colour or gradient',
  short: 'Fill',
  group: 'colour',
  hint: 'One colour all over the part, or two across it, with the shading kept.',
  numbers:
    'Multiplies the colour by the part’s luminance relative to its mean, as far as shading is kept, in linear light.',
  fields: [
    { kind: 'colour', key: 'colour', label: 'Colour', max: 100, least: 1e-4, neutral: [0, 0, 0] },
    {
      kind: 'number',
      key: 'shading',
      label: 'Keep shading',
      unit: '%',
      min: 0,
      max: 100,
      step: 1,
      neutral: 100,
    },
    { kind: 'switch', key: 'gradient', label: 'Gradient', neutral: false },
    { kind: 'colour', key: 'second', label: 'Second colour', max: 100, neutral: [0.8, 0.8, 0.8] },
    angleField('angle', 'Angle'),
  ],
  idle: ({ colour }) => colour.every((v) => v === 0),
  measure({ count, r, g, b, weight, at, rendered: { width } }) {
    if (count === 0) return undefined;
    let [x0, y0, x1, y1, sum, weights] = [Infinity, Infinity, -Infinity, -Infinity, 0, 0];
    for (let i = 0; i < count; i++) {
      const [x, y] = [at[i]! % width, Math.floor(at[i]! / width)];
      [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x + 1), Math.max(y1, y + 1)];
      sum += weight[i]! * Math.max(0, luminance(r[i]!, g[i]!, b[i]!));
      weights += weight[i]!;
    }
    return { [NAMES[0]]: [x0, y0, x1, y1], [NAMES[1]]: [sum / weights] };
  },
  apply({ count, r, g, b, at, rendered: { width } }, { colour, second, gradient, angle, shading }, measured) {
    if (!measured) return;
    const [x0, y0, x1, y1] = measured[NAMES[0]] as [number, number, number, number];
    const mean = Math.max(measured[NAMES[1]]![0]!, 1e-9);
    const turn = (angle * Math.PI) / 180;
    const [dx, dy] = [Math.cos(turn), Math.sin(turn)];
    // From side to side, whichever way it runs.
    const long = Math.max(Math.abs(dx) * (x1 - x0) + Math.abs(dy) * (y1 - y0), 1);
    for (let i = 0; i < count; i++) {
      const x = (at[i]! % width) + 0.5 - (x0 + x1) / 2;
      const y = Math.floor(at[i]! / width) + 0.5 - (y0 + y1) / 2;
      const t = gradient ? Math.min(1, Math.max(0, (x * dx + y * dy) / long + 0.5)) : 0;
      const light = Math.max(0, luminance(r[i]!, g[i]!, b[i]!)) / mean;
      const shade = 1 + (shading / 100) * (light - 1);
      r[i] = shade * (colour[0] + t * (second[0] - colour[0]));
      g[i] = shade * (colour[1] + t * (second[1] - colour[1]));
      b[i] = shade * (colour[2] + t * (second[2] - colour[2]));
    }
  },
});
