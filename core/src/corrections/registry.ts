import { blur } from './blur.ts';
import { contrast } from './contrast.ts';
import type { Correction, CorrectionGroup } from './correction.ts';
import { exposure } from './exposure.ts';
import { gamma } from './gamma.ts';
import { glow } from './glow.ts';
import { grey } from './grey.ts';
import { hueSaturationLightness } from './hue-saturation-lightness.ts';
import { levels } from './levels.ts';
import { multiply } from './multiply.ts';
import { multiplyByPass } from './multiply-by-pass.ts';
import { sharpen } from './sharpen.ts';
import { slopeOffsetPower } from './slope-offset-power.ts';
import { threeRanges } from './three-ranges.ts';
import { tint } from './tint.ts';
import { whiteBalance } from './white-balance.ts';

/** Every correction there is, in the order in which the interface offers them. */
export const CORRECTIONS: readonly Correction[] = [
  exposure,
  contrast,
  levels,
  gamma,
  hueSaturationLightness,
  multiply,
  whiteBalance,
  threeRanges,
  slopeOffsetPower,
  tint,
  grey,
  blur,
  sharpen,
  glow,
  multiplyByPass,
];

/** What the groups are called, in the order in which they are offered. */
export const CORRECTION_GROUPS: readonly { group: CorrectionGroup; label: string }[] = [
  { group: 'light', label: 'Light and contrast' },
  { group: 'colour', label: 'Colour' },
  { group: 'area', label: 'Blur and glow' },
  { group: 'pass', label: 'With another pass' },
];

export const correctionOf = (kind: string): Correction | undefined =>
  CORRECTIONS.find((c) => c.kind === kind);
