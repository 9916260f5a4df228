import type { ColourValue } from '../fields/field.ts';
import { moveEdge, reachOf as moveReach } from '../kernels/move-edge.ts';
import { defineCorrection } from './correction.ts';
import { inner, reachOf, soften } from './soft.ts';
import { sizeField, strengthField } from './usual-fields.ts';

interface Values {
  strength: number;
  shrink: number;
  size: number;
  colour: ColourValue;
  way: string;
}

/**
 * A core inside the part: its mask, shrunk and softened, to which light of a colour is added, so that a candle, a wire or
 * a tube glows from within while its rim keeps its colour; or in which the part goes to that colour.
 */
export const core = defineCorrection<Values>({
  works: 'area',
  kind: 'core',
  label: 'Core of light',
  short: 'Core',
  group: 'area',
  hint: 'Shrinks the mask, softens it, and lets the part glow from within.',
  numbers: 'Adds strength × colour inside the core, or blends the part towards the colour by that strength.',
  revision: 2,
  fields: [
    strengthField(100, 80),
    {
      kind: 'number',
      key: 'shrink',
      label: 'Shrink by',
      unit: 'px',
      min: 0,
      max: 100,
      softMax: 30,
      step: 0.1,
      neutral: 4,
    },
    sizeField(6, { label: 'Soften by', softMax: 40 }),
    { kind: 'colour', key: 'colour', label: 'Colour', max: 100, neutral: [2, 2, 2] },
    {
      kind: 'choice',
      key: 'way',
      label: 'Blend',
      options: [
        { value: 'add', label: 'Add' },
        { value: 'replace', label: 'Replace' },
      ],
      neutral: 'add',
    },
  ],
  idle: ({ strength }) => strength === 0,
  reach: ({ shrink, size }) => (shrink > 0 ? moveReach(shrink) : 0) + reachOf(size),
  apply(window, { strength, shrink, size, colour, way }, out) {
    const { area, coverage } = window;
    const soft = reachOf(size);
    const [width, height] = [area.x1 - area.x0 + 2 * soft, area.y1 - area.y0 + 2 * soft];
    const around = { x0: area.x0 - soft, y0: area.y0 - soft, x1: area.x1 + soft, y1: area.y1 + soft };
    let small = coverage;
    if (shrink > 0) {
      small = new Float32Array(width * height);
      moveEdge({ area: around, margin: window.margin - soft, coverage }, -shrink, small);
    }
    const planes = { width, height, r: small, g: small, b: small };
    const cores = soften({ planes }, new Float32Array(small.length).fill(1), size).r;
    (['r', 'g', 'b'] as const).forEach((k, channel) => {
      const own = inner(window.planes[k], window);
      for (let i = 0; i < own.length; i++) {
        const by = (strength / 100) * cores[i]!;
        out[k][i] = own[i]! + by * (colour[channel]! - (way === 'replace' ? own[i]! : 0));
      }
    });
  },
});
