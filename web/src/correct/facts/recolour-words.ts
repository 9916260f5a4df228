import { deltaE, rgbToLab } from '@zesty-crow/core/colour';
import type { ColourValue } from '@zesty-crow/core/fields';

/** Smaller than this nobody sees a difference side by side. */
const SEEN = 1;

/** How far the part's mean is from the swatch. */
export const farFrom = (mean: ColourValue, swatch: ColourValue): number =>
  deltaE(rgbToLab(...mean), rgbToLab(...swatch));

/** That difference in words, with what may be the reason. */
export function reached(
  mean: ColourValue,
  swatch: ColourValue,
  more: { amount: number; alone: boolean; limited: boolean },
): string {
  const far = farFrom(mean, swatch);
  const number = `ΔE ${far.toFixed(1)}`;
  if (far < SEEN) return `${number}: on the swatch.`;
  if (more.amount < 100) return `${number}: its amount is ${more.amount} %.`;
  if (more.limited) return `${number}: only a range of colours is changed.`;
  if (!more.alone) return `${number}: other corrections change it, too.`;
  return `${number}: highlights are brighter than the swatch allows.`;
}
