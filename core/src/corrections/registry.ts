import { addPass } from './add-pass.ts';
import { blur } from './blur.ts';
import { channelMix } from './channel-mix.ts';
import { contrast } from './contrast.ts';
import { core } from './core.ts';
import type { Correction, CorrectionGroup } from './correction.ts';
import { colourCurves } from './curves/colour-curves.ts';
import { toneCurves } from './curves/tone-curves.ts';
import { defocus } from './lens/defocus.ts';
import { denoise } from './denoise.ts';
import { exposure } from './exposure.ts';
import { fill } from './fill.ts';
import { gamma } from './gamma.ts';
import { glow } from './glow.ts';
import { grain } from './grain.ts';
import { grey } from './grey.ts';
import { haze } from './haze.ts';
import { hueSaturationLightness } from './hue-saturation-lightness.ts';
import { innerGlow } from './inner-glow.ts';
import { levels } from './levels.ts';
import { localContrast } from './local-contrast.ts';
import { multiply } from './multiply.ts';
import { multiplyByPass } from './multiply-by-pass.ts';
import { placePicture } from './placed/place-picture.ts';
import { recolour } from './recolour/recolour.ts';
import { scaleLight } from './scale-light.ts';
import { shadowsHighlights } from './shadows-highlights.ts';
import { sharpen } from './sharpen.ts';
import { slopeOffsetPower } from './slope-offset-power.ts';
import { threeRanges } from './three-ranges.ts';
import { tint } from './tint.ts';
import { vignette } from './vignette.ts';
import { whiteBalance } from './white-balance.ts';

/** Every correction there is, in the order in which the interface offers them. */
export const CORRECTIONS: readonly Correction[] = [
  exposure,
  contrast,
  shadowsHighlights,
  levels,
  gamma,
  toneCurves,
  vignette,
  recolour,
  hueSaturationLightness,
  colourCurves,
  multiply,
  whiteBalance,
  threeRanges,
  channelMix,
  slopeOffsetPower,
  tint,
  fill,
  placePicture,
  grey,
  blur,
  sharpen,
  localContrast,
  denoise,
  grain,
  glow,
  innerGlow,
  core,
  scaleLight,
  multiplyByPass,
  addPass,
  haze,
  defocus,
];

/** What the groups are called, in the order in which they are offered. */
export const CORRECTION_GROUPS: readonly { group: CorrectionGroup; label: string }[] = [
  { group: 'light', label: 'Light and contrast' },
  { group: 'colour', label: 'Colour' },
  { group: 'area', label: 'Detail' },
  { group: 'pass', label: 'With another pass' },
];

export const correctionOf = (kind: string): Correction | undefined =>
  CORRECTIONS.find((c) => c.kind === kind);
