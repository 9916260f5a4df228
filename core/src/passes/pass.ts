import type { ExrAttribute, ExrChannel } from '../formats/exr/types.ts';
import { floatsToHalves } from '../planes/half.ts';
import type { Field } from '../fields/field.ts';
import type { Who } from '../roster/names.ts';
import type { Rgb } from '../scene/scene.ts';
import type { Roster } from '../roster/roster.ts';
import type { Film } from '../render/film.ts';
import type { Gather } from '../render/gather.ts';

/** A set of parts that a pass can isolate, under the name by which it is picked. */
export interface Isolated {
  member: string;
  parts: number[];
}

/** What a pass is made from: the film, and for each part of the film's scene its place in the roster. */
export interface PassSource {
  film: Film;
  roster: Roster;
  /** Place in the roster of each part of the film's scene. */
  place: readonly number[];
  /** Number of the film's through-glass layer that belongs to this pass, if it has one. */
  throughLayer?: number;
}

export interface Made {
  channels: ExrChannel[];
  attributes: ExrAttribute[];
}

/** One kind of pass: its settings, what it needs from the renderer, and how its channels are made. */
export interface PassKind {
  kind: string;
  label: string;
  group: 'ids' | 'data' | 'light';
  /** One sentence on what it is good for. */
  hint: string;
  fields: readonly Field[];
  /** Short name of one pass of this kind, with what sets it apart. */
  title(values: Values): string;
  gather(values: Values): Partial<Gather>;
  /** Channels that it writes. Those of ID passes are always float. */
  channels(values: Values, roster: Roster): { name: string; type: 'float' | 'chosen' }[];
  /** Name of the ID layer under which its members are picked; ID passes only. */
  layer?(values: Values): string;
  /** What it can isolate; ID passes only. */
  isolates?(values: Values, roster: Roster): Isolated[];
  /** The colour in which each of these members is seen in the pass, 0 to 1; that of its ID where it is not said. */
  memberColours?(values: Values, members: readonly Isolated[]): Rgb[];
  fault?(values: Values, roster: Roster): { severity: 'error' | 'warning'; message: string } | undefined;
  make(values: Values, source: PassSource, type: 'half' | 'float'): Made;
}

export type Values = Readonly<Record<string, unknown>>;

/** A setting of a pass, or its default. */
export const numberOf = (v: Values, key: string, fallback: number): number =>
  typeof v[key] === 'number' ? v[key] : fallback;
export const textOf = (v: Values, key: string, fallback: string): string =>
  typeof v[key] === 'string' ? v[key] : fallback;
export const whoOf = (v: Values, key: string): Who | undefined => v[key] as Who | undefined;

/** A channel from a plane of floats. */
export function channelOf(name: string, plane: Float32Array, type: 'half' | 'float'): ExrChannel {
  return {
    name,
    type,
    xSampling: 1,
    ySampling: 1,
    pLinear: false,
    data: type === 'half' ? floatsToHalves(plane) : plane,
  };
}

/** Channels of one layer, named by their letters. */
export const layerOf = (
  layer: string,
  letters: string,
  planes: readonly Float32Array[],
  type: 'half' | 'float',
): ExrChannel[] => planes.map((plane, i) => channelOf(`${layer}.${letters[i]}`, plane, type));

/** How a buffer or slot calls what it shows. */
export function whoTitle(who: Who | undefined): string {
  if (!who) return 'nothing';
  if ('number' in who) return `${who.of === 'material number' ? 'material ' : ''}number ${who.number}`;
  return who.members.length === 0
    ? 'nobody'
    : `${who.members[0]!}${who.members.length > 1 ? ` and ${who.members.length - 1} more` : ''}`;
}
