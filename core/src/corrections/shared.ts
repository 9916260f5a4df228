import { AMOUNT, amountOf } from '../fields/amount.ts';
import type { Field, FieldValues } from '../fields/field.ts';
import { isNeutral, wholeValues } from '../fields/values.ts';
import type { Correction } from './correction.ts';
import { LIMIT_FIELDS } from './limit.ts';

/** All settings of a correction: its own, and those that every correction has. */
export const settingsOf = (correction: Correction): readonly Field[] => [
  ...correction.fields,
  AMOUNT,
  ...LIMIT_FIELDS,
];

/** True if a correction changes nothing with these values. */
export const doesNothing = (correction: Correction, values: FieldValues): boolean =>
  amountOf(values) === 0 ||
  isNeutral(correction.fields, values) ||
  correction.idle?.(wholeValues(settingsOf(correction), values)) === true;
