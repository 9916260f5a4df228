import { brightCell, eachColour } from './colours.ts';
import type { Scope } from './scope.ts';

const CELLS = 256;
const cellOf = (v: number) => brightCell(v, CELLS);

/** How many pixels are how bright, channel by channel. */
export const histogram: Scope = {
  name: 'histogram',
  label: 'Histogram',
  hint: 'How much of it is how bright on the screen, from black to beyond white.',
  count(picture, region) {
    const planes = [0, 1, 2].map(() => new Float32Array(CELLS)) as [Float32Array, Float32Array, Float32Array];
    const [red, green, blue] = planes;
    eachColour(picture, region, (r, g, b, counts) => {
      red[cellOf(r)]! += counts;
      green[cellOf(g)]! += counts;
      blue[cellOf(b)]! += counts;
    });
    return { width: CELLS, height: 1, planes };
  },
  place: ([r, g, b]) => [(cellOf(0.2126 * r + 0.7152 * g + 0.0722 * b) + 0.5) / CELLS, 0.5],
};
