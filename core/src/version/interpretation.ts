import { ROLE_SCHEMA } from '../roles/registry.ts';
import type { RoleUse } from '../roles/role.ts';

/** What samples of whole numbers or floats mean: values for a screen, or light. */
export type Encoding = 'display' | 'scene-linear';

/**
 * A mask made of channels: their sum, each times a factor, brought from `from`…`to` to 0…1. One channel as it is has
 * factor 1, from 0, to 1; turned round, from 1, to 0.
 */
export interface ChannelMask {
  name: string;
  channels: { channel: string; times: number }[];
  from: number;
  to: number;
}

/**
 * What the artist knows better than the files tell: kept with the version, the same for all of its frames. What is
 * absent is found by the rules.
 */
export interface Interpretation {
  /** Layers that are the picture; several are added up. R, G, B without a layer are `RGBA`. */
  picture?: string[];
  /** By layer. */
  encodings?: Record<string, Encoding>;
  /** Where files whose frame is of another size lie in the picture's, by {@link stemOf} their names. */
  places?: Record<string, { x: number; y: number }>;
  /** What layers are that carry no names of their own; by layer. */
  roles?: Record<string, RoleUse>;
  /** Can be picked as members of the ID layer {@link MASK_LAYER}. */
  masks?: ChannelMask[];
}

/** ID layer of the masks that are made of channels. */
export const MASK_LAYER = 'Masks';

/** A file's name without its ending and frame number: the same for all frames. */
export const stemOf = (file: string): string => file.replace(/\.\w+$/, '').replace(/[._-]?\d{3,}$/, '');

const name = { type: 'string', minLength: 1, maxLength: 255 } as const;
const number = { type: 'number', minimum: -1e9, maximum: 1e9 } as const;

/** JSON schema of an {@link Interpretation}. */
export const INTERPRETATION_SCHEMA = {
  $id: 'zesty-crow/interpretation',
  type: 'object',
  additionalProperties: false,
  properties: {
    picture: { type: 'array', minItems: 1, maxItems: 100, items: name },
    encodings: {
      type: 'object',
      maxProperties: 1000,
      additionalProperties: { enum: ['display', 'scene-linear'] },
    },
    places: {
      type: 'object',
      maxProperties: 1000,
      additionalProperties: {
        type: 'object',
        additionalProperties: false,
        required: ['x', 'y'],
        properties: {
          x: { type: 'integer', minimum: -1e6, maximum: 1e6 },
          y: { type: 'integer', minimum: -1e6, maximum: 1e6 },
        },
      },
    },
    roles: { type: 'object', maxProperties: 1000, additionalProperties: ROLE_SCHEMA },
    masks: {
      type: 'array',
      maxItems: 200,
      items: {
        type: 'object',
        additionalProperties: false,
        required: ['name', 'channels', 'from', 'to'],
        properties: {
          name,
          channels: {
            type: 'array',
            minItems: 1,
            maxItems: 16,
            items: {
              type: 'object',
              additionalProperties: false,
              required: ['channel', 'times'],
              properties: { channel: name, times: number },
            },
          },
          from: number,
          to: number,
        },
      },
    },
  },
} as const;
