import type { FieldValues, NumberField } from './field.ts';

/** How much of it there is, of all corrections and edge steps. */
export const AMOUNT: NumberField = {
  kind: 'number',
  key: 'amount',
  label: 'Amount',
  unit: '%',
  min: 0,
  max: 100,
  step: 1,
  neutral: 100,
};

/** The amount in some values, 0 to 1. */
export const amountOf = (values: FieldValues): number => ((values['amount'] ?? 100) as number) / 100;
