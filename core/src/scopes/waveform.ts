import { eachColour, shownAs } from './colours.ts';
import type { Scope } from './scope.ts';

const [ACROSS, DOWN] = [256, 160];
const [FROM, TO] = [-0.05, 1.15];
const rowOf = (v: number) => {
  const i = ((TO - shownAs(v)) / (TO - FROM)) * DOWN;
  return i > 0 ? (i < DOWN ? i | 0 : DOWN - 1) : 0;
};

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
