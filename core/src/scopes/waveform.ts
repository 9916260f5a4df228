import { brightCell, eachColours } from './colours.ts';
import type { Scope } from './scope.ts';

const [ACROSS, DOWN] = [256, 160];
/** Brighter is higher. */
const rowOf = (v: number) => DOWN - 1 - brightCell(v, DOWN);

/** How bright the picture is from left to right: each column of the picture stands at its place, brighter is higher. */
export const waveform: Scope = {
  name: 'waveform',
  label: 'Waveform',
  hint: 'How bright it is on the screen, from the left of the picture to its right.',
  count(picture, region, most = Infinity) {
    const planes = [0, 1, 2].map(() => new Float32Array(ACROSS * DOWN)) as [
      Float32Array,
      Float32Array,
      Float32Array,
    ];
    const [red, green, blue] = planes;
    const { width } = picture;
    const by = ACROSS / width;
    eachColours(picture, region, most, ({ n, r, g, b, counts, at }) => {
      for (let i = 0; i < n; i++) {
        const x = ((at[i]! % width) * by) | 0;
        red[rowOf(r[i]!) * ACROSS + x]! += counts[i]!;
        green[rowOf(g[i]!) * ACROSS + x]! += counts[i]!;
        blue[rowOf(b[i]!) * ACROSS + x]! += counts[i]!;
      }
    });
    return { width: ACROSS, height: DOWN, planes };
  },
};
