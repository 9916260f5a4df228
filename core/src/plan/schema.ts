import { WRITABLE_COMPRESSIONS } from '../formats/exr/write.ts';
import { PASSES } from '../passes/registry.ts';
import { fieldsSchema } from '../fields/schema.ts';
import { DONE_WHEN } from './plan.ts';
import { PIXEL_FILTERS } from '../render/pixel-filter.ts';

const text = (maxLength: number, minLength = 0) => ({ type: 'string', maxLength, minLength }) as const;
const whole = (minimum: number, maximum: number) => ({ type: 'integer', minimum, maximum }) as const;
const number = (minimum: number, maximum: number) => ({ type: 'number', minimum, maximum }) as const;
const object = (properties: object, required = Object.keys(properties)) => ({
  type: 'object',
  additionalProperties: false,
  properties,
  required,
});
const NUMBER = whole(0, 65535);

/** JSON schema of an ID plan; the server, the command line and the interface all validate with it. */
export const PLAN_SCHEMA = {
  $id: 'zesty-crow/plan',
  title: 'ID plan',
  description:
    'Names and numbers of a scene’s things, wishes of the client, passes to render and where they go. Numbers: 0 is none.',
  ...object({
    format: { const: 'zesty-crow/plan' },
    version: { const: 2 },
    objects: {
      type: 'object',
      description: 'By path in the scene.',
      additionalProperties: object(
        {
          name: text(1000, 1),
          number: NUMBER,
          hidden: {
            type: 'array',
            uniqueItems: true,
            items: { enum: ['camera', 'reflections', 'refraction', 'shadows'] },
          },
          notSeenIn: { type: 'array', maxItems: 1000, items: text(1000, 1) },
        },
        [],
      ),
    },
    materials: {
      type: 'object',
      description: 'By name in the scene.',
      additionalProperties: object({ name: text(1000, 1), number: NUMBER }, []),
    },
    rules: {
      type: 'array',
      maxItems: 500,
      items: object({
        what: { enum: ['objects', 'materials'] },
        pattern: text(1000, 1),
        number: whole(1, 65535),
        countUp: { type: 'boolean' },
      }),
    },
    wishes: {
      type: 'array',
      maxItems: 500,
      items: object(
        {
          id: text(64, 1),
          words: text(500),
          who: {
            type: 'array',
            maxItems: 5000,
            items: object(
              {
                mode: { enum: ['with', 'without', 'inside'] },
                layer: { enum: ['objects', 'materials', 'groups'] },
                member: text(1000, 1),
                rule: { type: 'boolean' },
              },
              ['mode', 'layer', 'member'],
            ),
          },
          throughGlass: { type: 'boolean' },
          first: { type: 'boolean' },
        },
        ['id', 'words', 'who', 'throughGlass'],
      ),
    },
    passes: {
      type: 'array',
      maxItems: 200,
      items: {
        ...object({
          id: text(64, 1),
          kind: { enum: PASSES.map((p) => p.kind) },
          on: { type: 'boolean' },
          depth: {},
          values: {},
        }),
        allOf: PASSES.map((p) => ({
          if: { properties: { kind: { const: p.kind } } },
          then: {
            properties: {
              // IDs do not survive anything less than 32 bits.
              depth: { enum: p.group === 'ids' ? ['float'] : ['half', 'float'] },
              values: fieldsSchema(p.fields),
            },
          },
        })),
      },
    },
    output: object({
      pattern: text(200),
      idsApart: { type: 'boolean' },
      compression: { enum: [...WRITABLE_COMPRESSIONS] },
    }),
    render: object({
      width: whole(16, 16384),
      height: whole(16, 16384),
      samples: whole(1, 65536),
      doneWhen: { enum: DONE_WHEN },
      noise: number(0.001, 1),
      minutes: number(0.05, 100_000),
      bounces: whole(0, 16),
      filter: { enum: PIXEL_FILTERS },
      seed: whole(0, 2 ** 31 - 1),
      first: whole(0, 1e6),
      last: whole(0, 1e6),
      framesPerSecond: number(1, 1000),
      shutter: number(0, 1),
      camera: text(1000),
      lensRadius: number(-1, 1e6),
      focus: number(0.0001, 1e9),
      surroundings: text(255),
      surroundingsTurn: number(-360, 360),
      surroundingsStops: number(-20, 20),
    }),
  }),
} as const;
