import type { DoneWhen, RenderPlan } from '@zesty-crow/core';

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
  { key: 'bounces', label: 'Bounces', unit: '', min: 0, max: 16, step: 1 },
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
/** What ends a render, by its number. */
export const END_NUMBERS: Record<DoneWhen, readonly PlanNumber[]> = {
  clean: [
    {
      key: 'noise',
      label: 'Noise',
      unit: '%',
      min: 0.1,
      max: 100,
      step: 0.5,
      percent: true,
      hint: 'What is left in 95 % of the pixels, measured from two halves of the samples.',
    },
    { key: 'samples', label: 'At most', unit: 'samples', min: 1, max: 65536, step: 1 },
  ],
  time: [{ key: 'minutes', label: 'Time', unit: 'min', min: 0.05, max: 100_000, step: 1 }],
  samples: [{ key: 'samples', label: 'Samples', unit: 'a pixel', min: 1, max: 65536, step: 1 }],
};
/** Steps of cleanness that are chosen with one click. */
export const CLEAN_STEPS: readonly { label: string; noise: number }[] = [
  { label: 'Rough', noise: 0.2 },
  { label: 'Clean', noise: 0.1 },
  { label: 'Fine', noise: 0.04 },
];
export const TIME_NUMBERS: readonly PlanNumber[] = [
  { key: 'first', label: 'First frame', unit: '', min: 0, max: HUGE, step: 1 },
  { key: 'last', label: 'Last frame', unit: '', min: 0, max: HUGE, step: 1 },
  { key: 'framesPerSecond', label: 'Frame rate', unit: 'fps', min: 1, max: 1000, step: 1 },
  {
    key: 'shutter',
    label: 'Shutter',
    unit: '%',
    min: 0,
    max: 100,
    step: 5,
    percent: true,
    hint: 'Share of a frame in which it is open; 0: no motion blur.',
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
