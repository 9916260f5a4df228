import Ajv from 'ajv';
import { CORRECTIONS } from '../corrections/registry.ts';
import type { ChangeList } from './change.ts';

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
                  values: {
                    type: 'object',
                    additionalProperties: false,
                    properties: Object.fromEntries(
                      c.params.map((p) => [p.key, { type: 'number', minimum: p.min, maximum: p.max }]),
                    ),
                  },
                },
              })),
            },
          },
        },
      },
    },
  },
} as const;

const validate = new Ajv({ allErrors: false, discriminator: false, strict: false }).compile(
  CHANGE_LIST_SCHEMA,
);

/** Checks anything for being a change list. Throws an Error that names the place and what is wrong there. */
export function parseChangeList(value: unknown): ChangeList {
  if (!validate(value)) {
    const e =
      validate.errors!.find((x) => x.keyword !== 'oneOf' && x.keyword !== 'const') ?? validate.errors![0]!;
    const kind = (e.params as { allowedValue?: unknown }).allowedValue;
    throw new Error(
      `${e.instancePath || 'The document'} ${e.message}${typeof kind === 'string' ? ` "${kind}"` : ''}`,
    );
  }
  const list = value as ChangeList;
  const ids = new Set(list.changes.map((c) => c.id));
  if (ids.size !== list.changes.length) throw new Error('Two changes have the same id');
  return list;
}
