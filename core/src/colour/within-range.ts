import { oklabToRgb, type Triple } from './oklab.ts';

/** Fine enough that a decision that falls the other way by rounding cannot be seen. */
export const HALVINGS = 22;

/**
 * An Oklab colour as scene-linear Rec. 709. Turning or strengthening a colour can leave the range of the primaries and
 * make a component negative: chroma is then reduced, at constant lightness and hue, just until none is below `floor`.
 * @param floor the most negative component that may be; a little below what the pixel itself had
 */
export function oklabWithin(L: number, a: number, b: number, floor: number, out: Triple): void {
  oklabToRgb(L, a, b, out);
  if (!(out[0] < floor || out[1] < floor || out[2] < floor)) return;
  let low = 0;
  let high = 1;
  for (let k = 0; k < HALVINGS; k++) {
    const half = (low + high) / 2;
    oklabToRgb(L, a * half, b * half, out);
    if (out[0] < floor || out[1] < floor || out[2] < floor) high = half;
    else low = half;
  }
  oklabToRgb(L, a * low, b * low, out);
}
