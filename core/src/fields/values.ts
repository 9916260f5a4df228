import type { ColourValue, Field, FieldValue, FieldValues } from './field.ts';

const same = (a: unknown, b: unknown) => a === b || JSON.stringify(a) === JSON.stringify(b);

/** Values that change nothing, by key. */
export const neutralValues = (fields: readonly Field[]): Record<string, FieldValue> =>
  Object.fromEntries(fields.flatMap((f) => (f.neutral === undefined ? [] : [[f.key, f.neutral]])));

/** Values of a thing that has just been added: neutral but for what would show nothing. */
export const initialValues = (fields: readonly Field[]): Record<string, FieldValue> =>
  Object.fromEntries(
    fields.flatMap((f) => (f.kind === 'number' && f.initial !== undefined ? [[f.key, f.initial]] : [])),
  );

/** Stored values with what was left out at its neutral value. */
export const wholeValues = (fields: readonly Field[], values: FieldValues): Record<string, FieldValue> => ({
  ...neutralValues(fields),
  ...values,
});

/** True if a set of values changes nothing. */
export const isNeutral = (fields: readonly Field[], values: FieldValues): boolean =>
  fields.every((f) => values[f.key] === undefined || same(values[f.key], f.neutral));

/** The values with one of them set; a neutral one is left out, so that equal documents are equal. */
export function withValue(
  fields: readonly Field[],
  values: FieldValues,
  key: string,
  value: FieldValue | undefined,
): Record<string, FieldValue> {
  const { [key]: _, ...rest } = values;
  const neutral = fields.find((f) => f.key === key)?.neutral;
  return value === undefined || same(value, neutral) ? rest : { ...rest, [key]: value };
}

/** The passes that a field is meant for, of those there are. */
export const passesFor = ({ like }: Extract<Field, { kind: 'pass' }>, passes: readonly string[]): string[] =>
  like === undefined ? [...passes] : passes.filter((p) => new RegExp(like, 'i').test(p));

/** A colour as a field takes it: no more than its most, and no less than its least, where it has one. */
export const colourWithin = (
  { least = 0, max }: Extract<Field, { kind: 'colour' }>,
  colour: ColourValue,
): ColourValue => {
  const [r, g, b] = colour.map((v) => Math.min(max, Math.max(least, v)));
  return [r!, g!, b!];
};
