import type { Field, NumberField } from '../../fields/field.ts';
import type { FenceKind } from './fence-kind.ts';

/** A place across or down the picture. */
export const place = (key: string, label: string, neutral: number): NumberField => ({
  kind: 'number',
  key,
  label,
  unit: '%',
  min: -200,
  max: 300,
  softMin: 0,
  softMax: 100,
  step: 0.1,
  neutral,
});
/** A length, in percent of the picture's width. */
export const length = (key: string, label: string, neutral: number, softMax = 100): NumberField => ({
  kind: 'number',
  key,
  label,
  unit: '%',
  min: 0,
  max: 300,
  softMax,
  step: 0.1,
  neutral,
});
const ANGLE: NumberField = {
  kind: 'number',
  key: 'angle',
  label: 'Angle',
  unit: '°',
  min: -180,
  max: 180,
  step: 0.5,
  neutral: 0,
};
/** Over so much of the width its border fades, half of it inside. */
export const SOFT: NumberField = { ...length('soft', 'Softness', 0, 30), max: 100 };

/** The settings of shapes that have a middle, two sizes and an angle. */
export const placedFields = (width: number, height: number): readonly NumberField[] => [
  place('x', 'Across', 50),
  place('y', 'Down', 50),
  length('width', 'Width', width),
  length('height', 'Height', height),
  ANGLE,
  SOFT,
];

/** How a shape joins those above it in the list. */
export const JOIN: Field = {
  kind: 'choice',
  key: 'join',
  label: 'Joins as',
  options: [
    { value: 'add', label: 'added' },
    { value: 'cut', label: 'cut out' },
    { value: 'inside', label: 'only inside' },
  ],
  neutral: 'add',
};

/** All settings of a kind of shape, its own and those that every shape has; the amount is told with them. */
export const fenceSettings = ({ fields }: FenceKind): readonly Field[] => [JOIN, ...fields];
