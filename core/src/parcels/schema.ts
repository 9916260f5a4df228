import { fieldsSchema } from '../fields/schema.ts';
import { EXISTING } from './parcel.ts';
import { PARCEL_KINDS } from './registry.ts';

const text = (maxLength: number, minLength = 0) => ({ type: 'string', maxLength, minLength }) as const;

/** JSON schema of a list of parcels. Reading puts what is left out, and has a default here, into its place. */
export const PARCEL_LIST_SCHEMA = {
  $id: 'zesty-crow/parcels',
  type: 'object',
  additionalProperties: false,
  required: ['format', 'version', 'parcels'],
  properties: {
    format: { const: 'zesty-crow/parcels' },
    version: { const: 2 },
    parcels: {
      type: 'array',
      maxItems: 100,
      items: {
        type: 'object',
        additionalProperties: false,
        required: ['id', 'kind', 'title', 'frames', 'variants', 'settings', 'name', 'folder'],
        properties: {
          id: text(64, 1),
          kind: {},
          title: text(200),
          frames: { ...text(500), default: '' },
          variants: { type: 'array', maxItems: 201, items: text(64), default: [''] },
          settings: { default: {} },
          name: text(300, 1),
          folder: { ...text(1000), default: '' },
          existing: { enum: EXISTING.map((e) => e.value) },
          strict: { type: 'boolean' },
        },
        oneOf: PARCEL_KINDS.map(({ kind, fields }) => ({
          properties: { kind: { const: kind }, settings: fieldsSchema(fields) },
        })),
      },
    },
  },
} as const;
