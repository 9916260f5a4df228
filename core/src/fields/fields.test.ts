import Ajv from 'ajv';
import {
  fieldSchema,
  fieldsSchema,
  isNeutral,
  neutralValues,
  wholeValues,
  withValue,
  type Field,
} from './index.ts';

const FIELDS: Field[] = [
  {
    kind: 'number',
    key: 'stops',
    label: 'Exposure',
    unit: 'stops',
    min: -20,
    max: 20,
    step: 0.05,
    neutral: 0,
  },
  {
    kind: 'choice',
    key: 'keep',
    label: 'Keep',
    options: [
      { value: 'all', label: 'All' },
      { value: 'light', label: 'Lightness' },
    ],
    neutral: 'all',
  },
  { kind: 'switch', key: 'firm', label: 'Firm', neutral: false },
  { kind: 'colour', key: 'tint', label: 'Tint', max: 1, neutral: [1, 1, 1] },
  {
    kind: 'points',
    key: 'curve',
    label: 'Curve',
    most: 32,
    neutral: [
      [0, 0],
      [1, 1],
    ],
  },
  { kind: 'who', key: 'who', label: 'Shows', optional: true },
];
const takes = (field: Field, value: unknown) => new Ajv().validate(fieldSchema(field), value);

test.each([
  ['stops', 2, true],
  ['stops', 21, false],
  ['stops', '2', false],
  ['keep', 'light', true],
  ['keep', 'dark', false],
  ['firm', true, true],
  ['firm', 1, false],
  ['tint', [0.2, 0, 1], true],
  ['tint', [0.2, 0], false],
  ['tint', [2, 0, 0], false],
  ['curve', [[0, 0.1]], true],
  ['curve', [[0, 0.1, 3]], false],
  ['who', { of: 'objects', members: ['bee_*'] }, true],
  ['who', { of: 'object number', number: 70000 }, false],
])('%s: %j is taken: %s', (key, value, taken) =>
  expect(
    takes(
      FIELDS.find((f) => f.key === key)!,
      value,
    ),
  ).toBe(taken),
);

test('values may be left out, strange ones are refused', () => {
  const validate = new Ajv().compile(fieldsSchema(FIELDS));
  expect(validate({})).toBe(true);
  expect(validate({ stops: 1, curve: [] })).toBe(true);
  expect(validate({ haze: 1 })).toBe(false);
});

test('neutral values change nothing and are not stored', () => {
  expect(isNeutral(FIELDS, neutralValues(FIELDS))).toBe(true);
  expect(isNeutral(FIELDS, {})).toBe(true);
  expect(isNeutral(FIELDS, { tint: [1, 0.5, 1] })).toBe(false);
  expect(wholeValues(FIELDS, { stops: 2 })).toMatchObject({ stops: 2, keep: 'all', firm: false });
  expect(withValue(FIELDS, { stops: 2 }, 'tint', [1, 0, 0])).toEqual({ stops: 2, tint: [1, 0, 0] });
  expect(withValue(FIELDS, { stops: 2, tint: [1, 0, 0] }, 'tint', [1, 1, 1])).toEqual({ stops: 2 });
});
