import { rgbToOklab, type Triple } from '../colour/oklab.ts';
import { eachColour } from './colours.ts';
import type { Scope } from './scope.ts';

const SIDE = 192;
/** Chroma at the border, of lightness: so that light and shadow of a thing lie together. */
const MOST = 0.7;
const { min, max } = Math;
const lab: Triple = [0, 0, 0];

function placeOf(r: number, g: number, b: number): [x: number, y: number] {
  rgbToOklab(r, g, b, lab);
  const light = max(lab[0], 0.05);
  const chroma = Math.hypot(lab[1], lab[2]) / light;
  // By its square root: most colours of real things are near to grey.
  const far = chroma > 0 ? 0.5 / (light * Math.sqrt(chroma * MOST)) : 0;
  return [0.5 + far * lab[1], 0.5 - far * lab[2]];
}

/** The part's colours by hue and saturation in Oklab, where a swatch can be laid beside them. */
export const hueChroma: Scope = {
  name: 'hue-chroma',
  label: 'Hue and chroma',
  hint: 'Hue as a direction and saturation as a distance from grey, as the eye judges them (Oklab); rings mark swatches.',
  count(picture, region) {
    const plane = new Float32Array(SIDE * SIDE);
    eachColour(picture, region, (r, g, b, counts) => {
      const [x, y] = placeOf(r, g, b);
      const i = min(SIDE - 1, max(0, (x * SIDE) | 0));
      const j = min(SIDE - 1, max(0, (y * SIDE) | 0));
      plane[j * SIDE + i]! += counts;
    });
    return { width: SIDE, height: SIDE, planes: [plane] };
  },
  place: (colour) => placeOf(...colour),
};
