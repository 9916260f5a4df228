/**
 * Oklab, a perceptual colour space: Björn Ottosson, "A perceptual color space for image processing" (2020),
 * matrices for linear sRGB (Rec. 709 primaries, D65) as published there, revised 2021. Scene-linear values above
 * 1 and below 0 are carried through.
 */
export type Triple = [number, number, number];

export function rgbToOklab(r: number, g: number, b: number, out: Triple): void {
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  out[0] = 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s;
  out[1] = 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s;
  out[2] = 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s;
}

export function oklabToRgb(L: number, a: number, b: number, out: Triple): void {
  const l = L + 0.3963377774 * a + 0.2158037573 * b;
  const m = L - 0.1055613458 * a - 0.0638541728 * b;
  const s = L - 0.0894841775 * a - 1.291485548 * b;
  const l3 = l * l * l;
  const m3 = m * m * m;
  const s3 = s * s * s;
  out[0] = 4.0767416621 * l3 - 3.3077115913 * m3 + 0.2309699292 * s3;
  out[1] = -1.2684380046 * l3 + 2.6097574011 * m3 - 0.3413193965 * s3;
  out[2] = -0.0041960863 * l3 - 0.7034186147 * m3 + 1.707614701 * s3;
}

/** Greys have no hue: below this share of lightness a colour belongs less and less to any. */
const GREY = 0.03;

/** How far a colour of so much chroma for its lightness has a hue at all, 0 to 1. */
export const sureOfHue = (chromaOfLightness: number): number => Math.min(1, chromaOfLightness / GREY);
