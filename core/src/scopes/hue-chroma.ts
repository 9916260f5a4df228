import { rgbToOklab, type Triple } from '../colour/oklab.ts';
import { countInSquare, placeOfOne, type Place } from './colours.ts';
import type { Scope } from './scope.ts';

const SIDE = 192;
/** Chroma at the border, of lightness: so that light and shadow of a thing lie together. */
const MOST = 0.7;
const { max, sqrt } = Math;
const lab: Triple = [0, 0, 0];

function placeOf(r: number, g: number, b: number, out: Place): void {
  rgbToOklab(r, g, b, lab);
  const light = max(lab[0], 0.05);
  const chroma = sqrt(lab[1] * lab[1] + lab[2] * lab[2]) / light;
  // By its square root: most colours of real things are near to grey.
  const far = chroma > 0 ? 0.5 / (light * sqrt(chroma * MOST)) : 0;
  out.x = 0.5 + far * lab[1];
  out.y = 0.5 - far * lab[2];
}

/** The part's colours by hue and saturation in Oklab, where a swatch can be laid beside them. */
export const hueChroma: Scope = {
  name: 'hue-chroma',
  label: 'Hue and chroma',
  hint: 'Hue as a direction and saturation as a distance from grey, as the eye judges them (Oklab); rings mark swatches.',
  count: (picture, region, most = Infinity) => countInSquare(picture, region, most, SIDE, placeOf),
  place: (colour) => placeOfOne(placeOf, colour),
};
