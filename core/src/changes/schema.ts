import type { Field } from '../fields/field.ts';
import { fieldSchema, fieldsSchema } from '../fields/schema.ts';
import { canBeKeyed } from './keyframes.ts';
import { STEP_KEYS, STEP_SETTINGS, type StepSettings } from './step-settings.ts';

const text = (maxLength: number) => ({ type: 'string', maxLength }) as const;

/** Values and keyframes of every kind of step, once: what checks them is large, and told by name wherever it is wanted. */
const DEFS: Record<string, object> = {};
function ref(name: string, schema: () => object): object {
  DEFS[name] ??= schema();
  return { $ref: `#/$defs/${name}` };
}

/** Values of a kind of step, with all that goes with them; only what is neutral may be left out. */
const ofKinds = (
  kinds: readonly StepSettings[],
  more: (kind: string, fields: readonly Field[]) => object,
) => ({
  oneOf: kinds.map(({ kind, fields }) => ({ properties: { kind: { const: kind }, ...more(kind, fields) } })),
});
const valuesOf = (kind: string, fields: readonly Field[]) =>
  ref(`values-of-${kind}`, () => fieldsSchema(fields));

const frame = { type: 'integer', minimum: -1_000_000, maximum: 10_000_000 } as const;

/** Keyframes of what can have some, each value as its field would take it. */
const keysSchema = (fields: readonly Field[]) => ({
  type: 'object',
  additionalProperties: false,
  properties: Object.fromEntries(
    fields.filter(canBeKeyed).map((f) => [
      f.key,
      {
        type: 'array',
        minItems: 1,
        maxItems: 2000,
        items: object({
          frame,
          value: fieldSchema(f),
          way: { enum: ['linear', 'eased'] },
        }),
      },
    ]),
  ),
});

/** Steps of some kinds, each with its own settings. */
const stepsSchema = (maxItems: number, kinds: readonly StepSettings[], more: object = {}) => ({
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
      keys: {},
      ...more,
    },
    additionalProperties: false,
    ...ofKinds(kinds, (kind, fields) => ({
      values: valuesOf(kind, fields),
      keys: ref(`keys-of-${kind}`, () => keysSchema(fields)),
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

/** What a shape of a fence goes with. */
const FOLLOW = object({
  layer,
  member: { ...text(1000), minLength: 1 },
  from: { ...list({ type: 'number', minimum: -100, maximum: 200 }, 2), minItems: 2 },
});

/** What makes a mask. */
const MASKED = {
  who: list(PICK, 20000),
  edge: ref('edge', () => stepsSchema(20, STEP_SETTINGS.edge)),
  fence: ref('fence', () => stepsSchema(40, STEP_SETTINGS.fence, { follow: FOLLOW })),
  brush: list(STROKE, 1000),
};

const PLACES_IN = { const: 'picture' } as const;

const CHANGE = {
  id,
  words: text(500),
  on: { type: 'boolean' },
  done: { type: 'boolean' },
  ...MASKED,
  plainEdges: { type: 'boolean' },
  corrections: stepsSchema(100, STEP_SETTINGS.corrections),
};

const HEADING = { id, words: text(500), on: { type: 'boolean' }, ...MASKED };

/** What a change may have besides. */
const MORE = {
  heading: id,
  placesIn: PLACES_IN,
  frames: object({ first: frame, last: frame }, []),
  comments: list(object({ id, text: text(2000), at: text(40) }), 500),
};

const VARIANT = object({
  id,
  name: { ...text(200), minLength: 1 },
  sets: list(
    {
      type: 'object',
      additionalProperties: false,
      required: ['change'],
      properties: { change: id, step: id, kind: {}, on: { type: 'boolean' }, values: {} },
      // Of the change itself there is only its switch.
      if: { required: ['step'] },
      then: {
        required: ['kind'],
        ...ofKinds(
          STEP_KEYS.flatMap((key) => STEP_SETTINGS[key]),
          (kind, fields) => ({ values: valuesOf(kind, fields) }),
        ),
      },
      else: { required: ['on'], not: { required: ['values'] } },
    },
    2000,
  ),
});

/** JSON schema of a change list; the server, the command line and the interface all validate with it. */
export const CHANGE_LIST_SCHEMA = {
  $id: 'zesty-crow/changes',
  $defs: DEFS,
  ...object({
    format: { const: 'zesty-crow/changes' },
    version: { const: 7 },
    headings: list(object({ ...HEADING, placesIn: PLACES_IN }, Object.keys(HEADING)), 100),
    changes: list(object({ ...CHANGE, ...MORE }, Object.keys(CHANGE)), 500),
    variants: list(VARIANT, 200),
  }),
} as const;
