import { fieldsSchema } from '../fields/schema.ts';
import { CORRECTIONS } from '../corrections/registry.ts';

const text = (maxLength: number) => ({ type: 'string', maxLength }) as const;

/** JSON schema of a change list; the server, the command line and the interface all validate with it. */
export const CHANGE_LIST_SCHEMA = {
  $id: 'zesty-crow/changes',
  type: 'object',
  additionalProperties: false,
  required: ['format', 'version', 'changes'],
  properties: {
    format: { const: 'zesty-crow/changes' },
    version: { const: 1 },
    changes: {
      type: 'array',
      maxItems: 500,
      items: {
        type: 'object',
        additionalProperties: false,
        required: ['id', 'words', 'on', 'done', 'who', 'corrections'],
        properties: {
          id: { ...text(64), minLength: 1 },
          words: text(500),
          on: { type: 'boolean' },
          done: { type: 'boolean' },
          who: {
            type: 'array',
            maxItems: 20000,
            items: {
              type: 'object',
              additionalProperties: false,
              required: ['mode', 'layer', 'member'],
              properties: {
                mode: { enum: ['with', 'without', 'inside'] },
                layer: { ...text(255), minLength: 1 },
                member: { ...text(1000), minLength: 1 },
                rule: { type: 'boolean' },
              },
            },
          },
          corrections: {
            type: 'array',
            maxItems: 100,
            items: {
              type: 'object',
              required: ['id', 'kind', 'on', 'values'],
              properties: {
                id: { ...text(64), minLength: 1 },
                kind: {},
                on: { type: 'boolean' },
                values: {},
              },
              additionalProperties: false,
              oneOf: CORRECTIONS.map((c) => ({
                properties: {
                  kind: { const: c.kind },
                  values: fieldsSchema(c.fields),
                },
              })),
            },
          },
        },
      },
    },
  },
} as const;
