import { countInSquare, placeOfOne, shownAs, type Place } from './colours.ts';
import type { Scope } from './scope.ts';

const SIDE = 192;

/** By the colour differences Cb and Cr of ITU-R BT.709 of what the screen shows, each -0.5 to 0.5. */
function placeOf(r: number, g: number, b: number, out: Place): void {
  const x = shownAs(r);
  const z = shownAs(b);
  const luma = 0.2126 * x + 0.7152 * shownAs(g) + 0.0722 * z;
  out.x = 0.5 + (z - luma) / 1.8556;
  out.y = 0.5 - (x - luma) / 1.5748;
}

/** Hue as a direction and saturation as a distance from the middle, in the colour differences of video. */
export const vectorscope: Scope = {
  name: 'vectorscope',
  label: 'Vectorscope',
  hint: 'Colour differences of video (Cb to the right, Cr upwards): hue is a direction, grey the middle.',
  count: (picture, region, most = Infinity) => countInSquare(picture, region, most, SIDE, placeOf),
  place: (colour) => placeOfOne(placeOf, colour),
};
