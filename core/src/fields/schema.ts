import type { Field } from './field.ts';

const text = (maxLength: number, minLength = 0) => ({ type: 'string', maxLength, minLength }) as const;
const object = (properties: object, required = Object.keys(properties)) => ({
  type: 'object',
  additionalProperties: false,
  properties,
  required,
});
const list = (items: object, minItems: number, maxItems: number) => ({
  type: 'array',
  items,
  minItems,
  maxItems,
});

const WHO = {
  oneOf: [
    object({
      of: { enum: ['object number', 'material number'] },
      number: { type: 'integer', minimum: 0, maximum: 65535 },
    }),
    object({ of: { enum: ['objects', 'materials'] }, members: list(text(1000, 1), 0, 5000) }),
  ],
};

/** JSON schema of the value of a field. */
export function fieldSchema(field: Field): object {
  switch (field.kind) {
    case 'number':
      return { type: 'number', minimum: field.min, maximum: field.max };
    case 'choice':
      return { enum: field.options.map((o) => o.value) };
    case 'text':
      return text(200);
    case 'switch':
      return { type: 'boolean' };
    case 'colour':
      return list({ type: 'number', minimum: 0, maximum: field.max }, 3, 3);
    case 'rgb':
      return list({ type: 'number', minimum: field.min, maximum: field.max }, 3, 3);
    case 'pass':
      return text(255);
    case 'picture':
      return object({ file: text(64), name: text(255) });
    case 'points':
      return list(list({ type: 'number' }, 2, 2), 0, field.most);
    case 'curve': {
      const { reach } = field;
      const point = {
        type: 'array',
        minItems: 2,
        maxItems: 2,
        items: [
          { type: 'number', minimum: 0, maximum: 1 },
          { type: 'number', minimum: -reach, maximum: reach },
        ],
      };
      return list(point, 0, field.most);
    }
    case 'who':
      return WHO;
  }
}

/** JSON schema of a set of values: any of them may be left out, none may be strange. */
export const fieldsSchema = (fields: readonly Field[]): object =>
  object(Object.fromEntries(fields.map((f) => [f.key, fieldSchema(f)])), []);
