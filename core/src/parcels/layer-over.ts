const { ceil, max, min, round } = Math;
const TOP = 65535;

/** A layer of 16 bits over a picture, and the picture under the next one. */
export interface OverLayer {
  /** Four samples a pixel: colour, not multiplied, and alpha. */
  rgba: Uint16Array;
  /** What the two are together, three samples a pixel: what a program shows that adds them up. */
  sum: Uint16Array;
}

/**
 * The layer that turns one picture into another where layers are mixed in display values, while our own mixing is in
 * light: with the alpha a of the mask, its colour is C = B + (R - B) / a, where B is the quantised picture below and R the
 * one that is wanted. Where such a colour lies outside of 0 to 1 the alpha is raised until it does not, also where there
 * is no mask at all but something changed. Each layer is made against what the ones below really add up to, so that
 * errors do not grow.
 * @param below, wanted three samples of 16 bits a pixel; @param cover the mask, 0 to 1
 */
export function layerOver(below: Uint16Array, wanted: Uint16Array, cover: Float32Array): OverLayer {
  const rgba = new Uint16Array((below.length / 3) * 4);
  const sum = below.slice();
  for (let p = 0; p < cover.length; p++) {
    const at = 3 * p;
    let least = 0;
    for (let k = 0; k < 3; k++) {
      const [b, r] = [below[at + k]!, wanted[at + k]!];
      if (r > b) least = max(least, (r - b) / (TOP - b));
      else if (r < b) least = max(least, (b - r) / b);
    }
    if (least === 0) continue;
    const a = min(TOP, max(round(cover[p]! * TOP), ceil(least * TOP)));
    rgba[4 * p + 3] = a;
    for (let k = 0; k < 3; k++) {
      const b = below[at + k]!;
      const c = min(TOP, max(0, round(b + ((wanted[at + k]! - b) * TOP) / a)));
      rgba[4 * p + k] = c;
      sum[at + k] = round(b + (a * (c - b)) / TOP);
    }
  }
  return { rgba, sum };
}
