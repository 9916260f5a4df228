import { eachColour, shownAs } from './colours.ts';
import type { Scope } from './scope.ts';

const SIDE = 192;
const { min, max } = Math;

/** Colour differences Cb and Cr of ITU-R BT.709 of what the screen shows, each -0.5 to 0.5. */
function difference(r: number, g: number, b: number): [cb: number, cr: number] {
  const [x, y, z] = [shownAs(r), shownAs(g), shownAs(b)];
  const luma = 0.2126 * x + 0.7152 * y + 0.0722 * z;
  return [(z - luma) / 1.8556, (x - luma) / 1.5748];
}

/** Hue as a direction and saturation as a distance from the middle, in the colour differences of video. */
export const vectorscope: Scope = {
  name: 'vectorscope',
  label: 'Vectorscope',
  hint: 'Colour differences of video (Cb to the right, Cr upwards): hue is a direction, grey the middle.',
  count(picture, region) {
    const plane = new Float32Array(SIDE * SIDE);
    eachColour(picture, region, (r, g, b, counts) => {
      const [cb, cr] = difference(r, g, b);
      const x = min(SIDE - 1, max(0, ((0.5 + cb) * SIDE) | 0));
      const y = min(SIDE - 1, max(0, ((0.5 - cr) * SIDE) | 0));
      plane[y * SIDE + x]! += counts;
    });
    return { width: SIDE, height: SIDE, planes: [plane] };
  },
  place(colour) {
    const [cb, cr] = difference(...colour);
    return [0.5 + cb, 0.5 - cr];
  },
};
