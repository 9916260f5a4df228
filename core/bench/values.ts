import type { Field, FieldValue } from '../src/fields/field.ts';
import { neutralValues } from '../src/fields/values.ts';

/** A value of a setting that does something; none where the field's own neutral value has to do. */
function working(field: Field): FieldValue | undefined {
  switch (field.kind) {
    case 'number':
      return field.initial ?? field.neutral + (field.neutral < field.max ? field.step : -field.step);
    case 'rgb':
      return [1.1, 0.9, 1];
    case 'colour':
      return [0.3, 0.2, 0.1];
    case 'curve':
      return [[0.5, field.reach / 10]];
    default:
      return undefined;
  }
}

/** Values with which a thing of these settings has something to do; those of any other kind are neutral. */
export const workingValues = (fields: readonly Field[]): Record<string, FieldValue> => ({
  ...neutralValues(fields),
  ...Object.fromEntries(
    fields.flatMap((f): [string, FieldValue][] => {
      const value = working(f);
      return value === undefined ? [] : [[f.key, value]];
    }),
  ),
});
