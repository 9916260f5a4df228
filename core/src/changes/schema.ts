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

const share = { type: 'number', minimum: 0, maximum: 1 } as const;
const object = (properties: Record<string, object>, required = Object.keys(properties)) => ({
  type: 'object',
  additionalProperties: false,
  required,
  properties,
});
const list = (items: object, maxItems: number) => ({ type: 'array', maxItems, items });
const layer = { ...text(255), minLength: 1 };
const id = { ...text(64), minLength: 1 };

const PICK = object(
  {
    mode: { enum: ['with', 'without', 'inside'] },
    layer,
    member: { ...text(1000), minLength: 1 },
    rule: { type: 'boolean' },
    amount: share,
    also: list(object({ layer, amount: share }), 20),
  },
  ['mode', 'layer', 'member'],
);

/** Places of a stroke may lie around the picture, as far as anyone draws. */
const place = { type: 'number', minimum: -100, maximum: 200 } as const;
const STROKE = object({
  way: { enum: ['add', 'take'] },
  size: { type: 'number', minimum: 0.01, maximum: 100 },
  soft: share,
  points: { ...list({ ...list(place, 2), minItems: 2 }, 4000), minItems: 1 },
});

/** What makes a mask. */
const MASKED = {
  who: list(PICK, 20000),
  edge: stepsSchema(
    20,
    EDGE_STEPS.map(({ kind, fields }) => ({ kind, fields: [...fields, AMOUNT] })),
  ),
  fence: stepsSchema(
    40,
    FENCE_KINDS.map((k) => ({ kind: k.kind, fields: [...fenceSettings(k), AMOUNT] })),
  ),
  brush: list(STROKE, 1000),
};

const CHANGE = {
  id,
  words: text(500),
  on: { type: 'boolean' },
  done: { type: 'boolean' },
  ...MASKED,
  plainEdges: { type: 'boolean' },
  corrections: stepsSchema(
    100,
    CORRECTIONS.map((c) => ({ kind: c.kind, fields: settingsOf(c) })),
  ),
};

/** JSON schema of a change list; the server, the command line and the interface all validate with it. */
export const CHANGE_LIST_SCHEMA = {
  $id: 'zesty-crow/changes',
  ...object({
    format: { const: 'zesty-crow/changes' },
    version: { const: 4 },
    headings: list(object({ id, words: text(500), on: { type: 'boolean' }, ...MASKED }), 100),
    changes: list(object({ ...CHANGE, heading: id }, Object.keys(CHANGE)), 500),
  }),
} as const;
