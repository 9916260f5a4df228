import type { Crew } from '../crew/work.ts';
import type { Finding } from '../findings/finding.ts';
import type { ChannelInfo } from '../formats/exr/types.ts';
import type { NumberedLayer } from '../idlayers/numbered.ts';
import type { Size } from '../planes/size.ts';

/** A grey picture is the coverage of one number or name. */
export interface ObjectBufferUse {
  role: 'object-buffer';
  /** The only channel, or the first, by default. */
  channel?: string;
  number?: number;
  name?: string;
}
/** Red, green and blue are coverages of three numbers or names; what is absent has one by its place, '' is not used. */
export interface PuzzleMatteUse {
  role: 'puzzle-matte';
  r?: string;
  g?: string;
  b?: string;
}
/** Every pixel holds a whole number. */
export interface NumberPassUse {
  role: 'number-pass';
  channel?: string;
  /** By number. */
  names?: Record<string, string>;
}
/** Every thing has an unlit colour of its own. */
export interface FlatColourUse {
  role: 'flat-colour';
  /** Layer of the same picture with dark lines between things. */
  outlined?: string;
  /** By colour as `#rrggbb`; `#rrggbb@x,y` is only what lies around a pixel. */
  names?: Record<string, string>;
}
/** No ID pass, whatever it is called. */
export interface OtherUse {
  role: 'pass';
}
export type RoleUse = ObjectBufferUse | PuzzleMatteUse | NumberPassUse | FlatColourUse | OtherUse;

/** What is asked of a role that has to look at pixels before it knows its members. */
export interface RoleSource extends Size {
  crew: Crew;
  channels: readonly ChannelInfo[];
  /** Channels of the picture, if there is one: edges are rebuilt from it. */
  beauty: readonly ChannelInfo[];
  /** Planes of channels by name, values as the file holds them. */
  read(names: readonly string[]): Promise<ReadonlyMap<string, Float32Array>>;
}

/** An ID layer that is computed from pixels: up to {@link COMPUTED_RANKS} members a pixel. */
export interface ComputedIds {
  /** Members, with what names are given to: a number, a colour, a colour at a place. */
  names: readonly (readonly [name: string, id: number, key: string])[];
  findings: Finding[];
  from: readonly ChannelInfo[];
  /** Fills ranks, largest coverage first, from a plane for each channel that it is computed from. */
  make(from: readonly Float32Array[], out: Ranks, size: Size, crew: Crew): Promise<void>;
}
export const COMPUTED_RANKS = 4;

/** Planes of {@link COMPUTED_RANKS} ranks, in memory that the crew sees. */
export interface Ranks {
  ids: readonly Uint32Array[];
  coverage: readonly Float32Array[];
}

/** A layer of channels of a frame, as a role may be proposed for it. */
export interface RoleLayer {
  name: string;
  channels: readonly ChannelInfo[];
}

/**
 * A kind of ID pass that carries no names of its own: one file a kind, and one line in `registry.ts`. It says by which
 * names it is known, which channels it is made of, and turns them into members.
 */
export interface RoleKind<U extends RoleUse = RoleUse> {
  role: U['role'];
  label: string;
  /** For the artist who gives it. */
  purpose: string;
  /** JSON schema of its use. */
  schema: object;
  /** Its use, if its name and channels say that it is one. */
  proposes(layer: RoleLayer): U | undefined;
  /** Members whose coverages are channels as they are. */
  members?(layer: RoleLayer, use: U): NumberedLayer;
  /** What a name is given to at a pixel, by the values of its channels there. */
  keyOf?(channels: readonly ChannelInfo[], values: readonly number[]): string;
  /** Members that are found in the pixels. Undefined if its channels are not there. */
  survey?(layer: RoleLayer, use: U, source: RoleSource): Promise<ComputedIds | undefined>;
}

/** Names of a layer in words, without case. */
export const wordsOf = (name: string): string[] =>
  name
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase()
    .split(/[\s._-]+|(?<=\D)(?=\d)|(?<=\d)(?=\D)/)
    .filter(Boolean);

/** A member's name of a number without one: two digits, so that lists sort. */
export const nameOfNumber = (number: number): string => String(number).padStart(2, '0');

/** The channel of a layer that a use names; red of three, or the first that is not alpha. */
export const oneChannel = ({ channels }: RoleLayer, wanted?: string): ChannelInfo | undefined =>
  wanted === undefined
    ? (channels.find((c) => /(^|\.)R$/.test(c.name)) ??
      channels.find((c) => !/(^|\.)A$/.test(c.name)) ??
      channels[0])
    : channels.find((c) => c.name === wanted || c.name.endsWith(`.${wanted}`));

/** Red, green and blue of a layer. */
export const threeChannels = ({ channels }: RoleLayer): ChannelInfo[] =>
  ['R', 'G', 'B'].flatMap(
    (letter) => channels.find((c) => new RegExp(`(^|\\.)${letter}$`).test(c.name)) ?? [],
  );

const text = { type: 'string', maxLength: 255 } as const;
/** Schemas of the pieces that uses are made of. */
export const PIECES = {
  text,
  names: { type: 'object', maxProperties: 20_000, additionalProperties: text },
  channel: { type: 'string', minLength: 1, maxLength: 255 },
} as const;
