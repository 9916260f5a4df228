import type { AreaWindow } from './correction.ts';
import { defineCorrection } from './correction.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { inner, reachOf, soften } from './soft.ts';
import { sizeField } from './usual-fields.ts';

/** Blends each pixel with the mean of what the mask covers around it; 1 is the mean, below 0 is away from it. */
export function towardsMean(window: AreaWindow, size: number, by: number, out: RgbPlanes): void {
  const soft = soften(window, window.coverage, size);
  for (const k of ['r', 'g', 'b'] as const) {
    const own = inner(window.planes[k], window);
    const [mean, weights, target] = [soft[k], soft.weights, out[k]];
    for (let i = 0; i < own.length; i++) {
      const v = own[i]!;
      const w = weights[i]!;
      target[i] = w > 1e-6 && Number.isFinite(v) ? v + by * (mean[i]! / w - v) : v;
    }
  }
}

/**
 * Blurs inside the mask: means of three boxes, near to a Gaussian, weighed by coverage, so that nothing bleeds in from
 * outside and nothing outside changes. The size is two standard deviations.
 */
export const blur = defineCorrection<{ size: number }>({
  works: 'area',
  kind: 'blur',
  label: 'Blur',
  group: 'area',
  hint: 'Softens what is inside the mask; its surroundings neither bleed in nor change.',
  fields: [sizeField(0, { initial: 6 })],
  reach: ({ size }) => reachOf(size),
  apply: (window, { size }, out) => towardsMean(window, size, 1, out),
});
