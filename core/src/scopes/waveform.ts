import { brightCell, eachColour } from './colours.ts';
import type { Scope } from './scope.ts';

const [ACROSS, DOWN] = [256, 160];
/** Brighter is higher. */
const rowOf = (v: number) => DOWN - 1 - brightCell(v, DOWN);

/** How bright the picture is from left to right: each column of the picture stands at its place, brighter is higher. */
export const waveform: Scope = {
  name: 'waveform',
  label: 'Waveform',
  hint: 'How bright it is on the screen, from the left of the picture to its right.',
  count(picture, region) {
    const planes = [0, 1, 2].map(() => new Float32Array(ACROSS * DOWN)) as [
      Float32Array,
      Float32Array,
      Float32Array,
    ];
    const [red, green, blue] = planes;
    const { width } = picture;
    const by = ACROSS / width;
    eachColour(picture, region, (r, g, b, counts, at) => {
      const x = ((at % width) * by) | 0;
      red[rowOf(r) * ACROSS + x]! += counts;
      green[rowOf(g) * ACROSS + x]! += counts;
      blue[rowOf(b) * ACROSS + x]! += counts;
    });
    return { width: ACROSS, height: DOWN, planes };
  },
};
