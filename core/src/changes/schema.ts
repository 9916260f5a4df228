import { AMOUNT } from '../fields/amount.ts';
import type { Field } from '../fields/field.ts';
import { fieldsSchema } from '../fields/schema.ts';
import { CORRECTIONS } from '../corrections/registry.ts';
import { settingsOf } from '../corrections/shared.ts';
import { EDGE_STEPS } from '../masks/edge/registry.ts';
import { FENCE_KINDS } from '../masks/fence/registry.ts';
import { fenceSettings } from '../masks/fence/settings.ts';

const text = (maxLength: number) => ({ type: 'string', maxLength }) as const;

/** Steps of some kinds, each with its own settings. */
const stepsSchema = (maxItems: number, kinds: readonly { kind: string; fields: readonly Field[] }[]) => ({
  type: 'array',
  maxItems,
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
    oneOf: kinds.map(({ kind, fields }) => ({
      properties: { kind: { const: kind }, values: fieldsSchema(fields) },
    })),
  },
});

/** JSON schema of a change list; the server, the command line and the interface all validate with it. */
export const CHANGE_LIST_SCHEMA = {
  $id: 'zesty-crow/changes',
  type: 'object',
  additionalProperties: false,
  required: ['format', 'version', 'changes'],
  properties: {
    format: { const: 'zesty-crow/changes' },
    version: { const: 3 },
    changes: {
      type: 'array',
      maxItems: 500,
      items: {
        type: 'object',
        additionalProperties: false,
        required: ['id', 'words', 'on', 'done', 'who', 'edge', 'plainEdges', 'fence', 'corrections'],
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
          edge: stepsSchema(
            20,
            EDGE_STEPS.map(({ kind, fields }) => ({ kind, fields: [...fields, AMOUNT] })),
          ),
          fence: stepsSchema(
            40,
            FENCE_KINDS.map((k) => ({ kind: k.kind, fields: [...fenceSettings(k), AMOUNT] })),
          ),
          plainEdges: { type: 'boolean' },
          corrections: stepsSchema(
            100,
            CORRECTIONS.map((c) => ({ kind: c.kind, fields: settingsOf(c) })),
          ),
        },
      },
    },
  },
} as const;
