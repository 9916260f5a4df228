import type { ColourValue } from '../fields/field.ts';
import { defineCorrection, type AreaWindow } from './correction.ts';
import { inner, reachOf, soften } from './soft.ts';
import { sizeField, strengthField } from './usual-fields.ts';

interface Values {
  strength: number;
  size: number;
  colour: ColourValue;
}

/** 1 for what the frame has and the mask does not cover, and 1 for all that the frame has, in a window. */
function outside({ area, margin, coverage, frame }: AreaWindow): { not: Float32Array; there: Float32Array } {
  const width = area.x1 - area.x0 + 2 * margin;
  const not = new Float32Array(coverage.length);
  const there = new Float32Array(coverage.length);
  for (let i = 0; i < coverage.length; i++) {
    const x = area.x0 - margin + (i % width);
    const y = area.y0 - margin + Math.floor(i / width);
    if (x < 0 || y < 0 || x >= frame.width || y >= frame.height) continue;
    there[i] = 1;
    not[i] = 1 - coverage[i]!;
  }
  return { not, there };
}

/**
 * Light along the inside of the edge: what is outside the mask, softened, is 1/2 at a straight edge and falls to 0
 * inside; twice that, times strength and colour, is added. Where the frame cuts a thing off there is no edge.
 */
export const innerGlow = defineCorrection<Values>({
  works: 'area',
  kind: 'inner-glow',
  label: 'Glow inwards',
  group: 'area',
  hint: 'Adds light along the inside of the edge.',
  numbers: 'Adds strength × colour along the edge: half of it at the edge, falling off inwards.',
  fields: [
    strengthField(1000, 40, { softMax: 200 }),
    sizeField(12, { min: 0.2, softMax: 80 }),
    { kind: 'colour', key: 'colour', label: 'Colour', max: 100, neutral: [1, 1, 1] },
  ],
  idle: ({ strength }) => strength === 0,
  reach: ({ size }) => reachOf(size),
  apply(window, { strength, size, colour }, out) {
    const { not, there } = outside(window);
    // Softened alone: colours play no part in it.
    const none = { ...window.planes, r: not, g: not, b: not };
    const share = soften({ planes: none }, there, size);
    (['r', 'g', 'b'] as const).forEach((k, channel) => {
      const own = inner(window.planes[k], window);
      const by = (strength / 50) * colour[channel]!;
      for (let i = 0; i < own.length; i++) {
        const n = share.weights[i]!;
        out[k][i] = own[i]! + (n > 0 ? (by * share.r[i]!) / n : 0);
      }
    });
  },
});
