import type { Correction } from './correction.ts';
import { exposure } from './exposure.ts';
import { hueSaturationLightness } from './hue-saturation-lightness.ts';

/** Every correction there is, in the order in which the interface offers them. */
export const CORRECTIONS: readonly Correction[] = [exposure, hueSaturationLightness];

export const correctionOf = (kind: string): Correction | undefined =>
  CORRECTIONS.find((c) => c.kind === kind);
