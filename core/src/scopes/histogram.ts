import { brightCell, eachColours } from './colours.ts';
import type { Scope } from './scope.ts';

const CELLS = 256;
const cellOf = (v: number) => brightCell(v, CELLS);

/** How many pixels are how bright, channel by channel. */
export const histogram: Scope = {
  name: 'histogram',
  label: 'Histogram',
  hint: 'How much of it is how bright on the screen, from black to beyond white.',
  count(picture, region, most = Infinity) {
    const planes = [0, 1, 2].map(() => new Float32Array(CELLS)) as [Float32Array, Float32Array, Float32Array];
    const [red, green, blue] = planes;
    eachColours(picture, region, most, ({ n, r, g, b, counts }) => {
      for (let i = 0; i < n; i++) {
        red[cellOf(r[i]!)]! += counts[i]!;
        green[cellOf(g[i]!)]! += counts[i]!;
        blue[cellOf(b[i]!)]! += counts[i]!;
      }
    });
    return { width: CELLS, height: 1, planes };
  },
  place: ([r, g, b]) => [(cellOf(0.2126 * r + 0.7152 * g + 0.0722 * b) + 0.5) / CELLS, 0.5],
};
