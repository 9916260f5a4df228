import type { PartColours } from '../correction.ts';
import { meanOf, quantile } from './figures.ts';

type Three = readonly [number, number, number];

/** Least and most of the sine squared between the body's colour and the light's from which on they are told apart. */
const [APART, CLEAR] = [0.01, 0.04];
/** So much of a pixel may be the light's mirror image at most. */
const MOST = 0.98;

/**
 * What a thing's colours are made of, by Shafer's dichromatic model (1985): the body's colour b times some shading, and
 * the light's colour, taken to be white, times a highlight s. Quantities that the split of a pixel takes.
 */
export interface Body {
  /** Chromaticity of the body: adds up to 1. */
  b: Three;
  /** How sure the two are told apart, 0 to 1: the body of a grey thing has the light's colour. */
  trust: number;
  /** Highlights that texture and noise pretend everywhere, and the usual brightness at which they do. */
  floor: number;
  usual: number;
}

const smooth = (t: number) => {
  const k = Math.min(1, Math.max(0, t));
  return k * k * (3 - 2 * k);
};

/** The body of a part, from the chromaticities that are farthest from the light's. */
export function bodyOf({ count, r, g, b, weight }: PartColours): Body {
  const bright = Float32Array.from({ length: count }, (_, i) => r[i]! + g[i]! + b[i]!);
  const [low, high] = [quantile(bright, 0.1), quantile(bright, 0.95)];
  let kept = [...bright.keys()].filter((i) => bright[i]! > low && bright[i]! < high && weight[i]! > 0.5);
  if (kept.length < 8) kept = [...bright.keys()].filter((i) => bright[i]! > 0);
  const part = (plane: Float32Array) =>
    Float32Array.from(kept, (i) => plane[i]! / Math.max(bright[i]!, 1e-6));
  const [x, y, z] = [part(r), part(g), part(b)];
  const away = x.map((_, i) => Math.hypot(x[i]! - 1 / 3, y[i]! - 1 / 3, z[i]! - 1 / 3));
  const far = quantile(away, 0.6);
  const median = (plane: Float32Array) =>
    quantile(
      plane.filter((_, i) => away[i]! >= far),
      0.5,
    );
  const raw = [median(x), median(y), median(z)] as const;
  const sum = raw[0] + raw[1] + raw[2];
  const chroma: Three = sum > 0 ? [raw[0] / sum, raw[1] / sum, raw[2] / sum] : [1 / 3, 1 / 3, 1 / 3];
  const squared = chroma[0] ** 2 + chroma[1] ** 2 + chroma[2] ** 2;
  // Of the light's chromaticity, a third each, the square is a third, and so is its product with the body's.
  const sine2 = 1 - 1 / (3 * squared);
  const body: Body = {
    b: chroma,
    trust: smooth((sine2 - APART) / (CLEAR - APART)),
    floor: 0,
    usual: Math.max(quantile(bright, 0.5), 1e-6),
  };
  const pretended = Float32Array.from({ length: count }, (_, i) => rawHighlight(r[i]!, g[i]!, b[i]!, chroma));
  return { ...body, floor: quantile(pretended, 0.25) };
}

function rawHighlight(r: number, g: number, b: number, [x, y, z]: Three): number {
  const bb = x * x + y * y + z * z;
  const [onBody, onLight] = [r * x + g * y + b * z, (r + g + b) / 3];
  const s = (onLight * bb - onBody / 3) / (bb / 3 - 1 / 9 + 1e-9);
  return Math.max(0, Math.min(s, 3 * MOST * Math.min(r, g, b)));
}

/** How much of each channel of a pixel is highlight. */
export function highlightOf(r: number, g: number, b: number, body: Body): number {
  const bright = (r + g + b) / body.usual;
  const s = rawHighlight(r, g, b, body.b) - body.floor * Math.min(Math.max(bright, 0), 1);
  return s > 0 ? (s * body.trust) / 3 : 0;
}

/**
 * How far a part is a dark thing that is seen by what it mirrors, 0 to 1, and the brightness of the thing itself: of
 * such a one all that is brighter is reflection.
 */
export function nearBlack({ count, r, g, b, weight }: PartColours): { share: number; own: number } {
  const bright = Float32Array.from({ length: count }, (_, i) => (r[i]! + g[i]! + b[i]!) / 3);
  const own = quantile(bright, 0.25);
  const mean = meanOf(bright, weight);
  const clip = (t: number) => Math.min(1, Math.max(0, t));
  return { share: clip((0.35 - own / Math.max(mean, 1e-9)) / 0.2) * clip((0.04 - own) / 0.02), own };
}
