import type { Field } from '../fields/field.ts';
import { fieldSchema, fieldsSchema } from '../fields/schema.ts';
import { canBeKeyed } from './keyframes.ts';
import { STEP_KEYS, STEP_SETTINGS, type StepSettings } from './step-settings.ts';

const text = (maxLength: number) => ({ type: 'string', maxLength }) as const;

/** What may be left out where a list is typed by hand: whoever reads it puts this there. */
const or = <S extends object>(schema: S, neutral: unknown) => ({ ...schema, default: neutral });

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

const ON = or({ type: 'boolean' }, true);
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
      on: ON,
      values: or({}, {}),
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
  who: or(list(PICK, 20000), []),
  edge: or(
    ref('edge', () => stepsSchema(20, STEP_SETTINGS.edge)),
    [],
  ),
  fence: or(
    ref('fence', () => stepsSchema(40, STEP_SETTINGS.fence, { follow: FOLLOW })),
    [],
  ),
  brush: or(list(STROKE, 1000), []),
};

const PLACES_IN = { const: 'picture' } as const;

const CHANGE = {
  id,
  words: or(text(500), ''),
  on: ON,
  done: or({ type: 'boolean' }, false),
  ...MASKED,
  plainEdges: or({ type: 'boolean' }, false),
  corrections: or(stepsSchema(100, STEP_SETTINGS.corrections), []),
};

const HEADING = { id, words: or(text(500), ''), on: ON, ...MASKED };

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

/**
 * JSON schema of a change list; the server, the command line and the interface all validate with it. Reading puts what is
 * left out, and has a default here, into its place, so that what is written is whole.
 */
export const CHANGE_LIST_SCHEMA = {
  $id: 'zesty-crow/changes',
  $defs: DEFS,
  ...object({
    format: { const: 'zesty-crow/changes' },
    version: { const: 7 },
    headings: or(list(object({ ...HEADING, placesIn: PLACES_IN }, Object.keys(HEADING)), 100), []),
    changes: or(list(object({ ...CHANGE, ...MORE }, Object.keys(CHANGE)), 500), []),
    variants: or(list(VARIANT, 200), []),
  }),
} as const;
