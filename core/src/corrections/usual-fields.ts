import type { NumberField } from '../fields/field.ts';

/** How strong something is, in percent; 0 is nothing, and `initial` what it begins with. */
export const strengthField = (
  max: number,
  initial: number,
  more: Partial<NumberField> = {},
): NumberField => ({
  kind: 'number',
  key: 'strength',
  label: 'Strength',
  unit: '%',
  min: 0,
  max,
  step: 1,
  neutral: 0,
  initial,
  ...more,
});

/** A size in pixels. */
export const sizeField = (neutral: number, more: Partial<NumberField> = {}): NumberField => ({
  kind: 'number',
  key: 'size',
  label: 'Size',
  unit: 'px',
  min: 0,
  max: 200,
  softMax: 40,
  step: 0.1,
  neutral,
  ...more,
});

/** A gamma: 1 changes nothing. */
export const gammaField = (key: string, label: string, unit: string): NumberField => ({
  kind: 'number',
  key,
  label,
  unit,
  min: 0.05,
  max: 20,
  softMin: 0.2,
  softMax: 3,
  step: 0.01,
  neutral: 1,
});

/** The scene-linear value that stays where it is; middle grey unless it is moved. */
export const PIVOT: NumberField = {
  kind: 'number',
  key: 'pivot',
  label: 'Pivot',
  unit: 'linear',
  min: 0.001,
  max: 100,
  softMax: 1,
  step: 0.01,
  neutral: 0.18,
};

/** A turn, once round either way. */
export const angleField = (key: string, label: string): NumberField => ({
  kind: 'number',
  key,
  label,
  unit: '°',
  min: -360,
  max: 360,
  softMin: -180,
  softMax: 180,
  step: 1,
  neutral: 0,
});
