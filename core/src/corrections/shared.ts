import { AMOUNT, amountOf } from '../fields/amount.ts';
import type { Field, FieldValues } from '../fields/field.ts';
import { isNeutral, wholeValues } from '../fields/values.ts';
import type { Correction } from './correction.ts';
import { depthLimitOf, lightLimitOf, limitGroupsOf } from './limit.ts';

/** All settings of a correction: its own, and those of the wrapper. */
export const settingsOf = (correction: Correction): readonly Field[] => [
  ...correction.fields,
  AMOUNT,
  ...limitGroupsOf(correction).flatMap((g) => g.fields),
];

/** True if a correction changes nothing with these values. */
export const doesNothing = (correction: Correction, values: FieldValues): boolean =>
  amountOf(values) === 0 ||
  isNeutral(correction.fields, values) ||
  correction.idle?.(wholeValues(settingsOf(correction), values)) === true;

/** Names of the other passes that it reads with these values, also for its limits. */
export const passesOf = (correction: Correction, values: FieldValues): string[] => {
  const depth = depthLimitOf(values)?.pass;
  const own = correction.needs?.(wholeValues(settingsOf(correction), values)) ?? [];
  return [...own, ...(depth === undefined ? [] : [depth]), ...lightLimitOf(values)];
};
