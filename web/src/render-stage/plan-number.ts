import type { RenderPlan } from '@zesty-crow/core';

/** Settings of a render that are numbers. */
export type NumberKey = {
  [K in keyof RenderPlan]: RenderPlan[K] extends number ? K : never;
}[keyof RenderPlan];

/** One number of the render with all that a control for it needs. */
export interface PlanNumber {
  key: NumberKey;
  label: string;
  unit: string;
  min: number;
  max: number;
  step: number;
  hint?: string;
  /** Kept as a share, shown in percent. */
  percent?: boolean;
}

const HUGE = 1e6;

export const PICTURE_NUMBERS: readonly PlanNumber[] = [
  { key: 'width', label: 'Width', unit: 'px', min: 16, max: 16384, step: 1 },
  { key: 'height', label: 'Height', unit: 'px', min: 16, max: 16384, step: 1 },
  { key: 'samples', label: 'Samples', unit: 'a pixel', min: 1, max: 65536, step: 1 },
  {
    key: 'noise',
    label: 'Noise to reach',
    unit: '%',
    min: 0,
    max: 100,
    step: 0.5,
    percent: true,
    hint: 'Sampling ends where the picture is this clean; 0 takes all samples.',
  },
  {
    key: 'maskStep',
    label: 'Mask step',
    unit: '%',
    min: 0,
    max: 100,
    step: 0.1,
    percent: true,
    hint: 'Ends when no mask changes by more than this any more; 0 takes all samples.',
  },
  { key: 'bounces', label: 'Bounces', unit: 'of light', min: 0, max: 16, step: 1 },
  {
    key: 'seed',
    label: 'Seed',
    unit: '',
    min: 0,
    max: 2 ** 31 - 1,
    step: 1,
    hint: 'The same seed gives the same samples.',
  },
];
export const TIME_NUMBERS: readonly PlanNumber[] = [
  { key: 'first', label: 'First frame', unit: '', min: 0, max: HUGE, step: 1 },
  { key: 'last', label: 'Last frame', unit: '', min: 0, max: HUGE, step: 1 },
  { key: 'framesPerSecond', label: 'Frame rate', unit: 'a second', min: 1, max: 1000, step: 1 },
  {
    key: 'shutter',
    label: 'Shutter',
    unit: '% of a frame',
    min: 0,
    max: 100,
    step: 5,
    percent: true,
    hint: '0: no motion blur.',
  },
];
export const LENS_NUMBERS: readonly PlanNumber[] = [
  { key: 'lensRadius', label: 'Lens radius', unit: 'scene units', min: 0, max: HUGE, step: 0.001 },
  { key: 'focus', label: 'Sharp at', unit: 'scene units', min: 0.0001, max: 1e9, step: 0.1 },
];
export const SURROUNDINGS_NUMBERS: readonly PlanNumber[] = [
  { key: 'surroundingsTurn', label: 'Turned by', unit: '°', min: -360, max: 360, step: 1 },
  { key: 'surroundingsStops', label: 'Brighter by', unit: 'stops', min: -20, max: 20, step: 0.1 },
];
