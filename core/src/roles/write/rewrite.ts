import type { ExrAttribute, ExrChannel } from '../../formats/exr/types.ts';
import { unnamed } from '../../idlayers/ids.ts';
import type { IdIndex } from '../../idindex/id-index.ts';

/** A member that is written, with its number where the kind of pass knows numbers only. */
export interface WrittenMember {
  name: string;
  id: number;
  /** From 1 on. */
  number: number;
}

/** An ID layer in another form: channels for a file, and what its header says of them. */
export interface Rewritten {
  channels: ExrChannel[];
  attributes: ExrAttribute[];
}

/**
 * A form in which an ID layer can be written: one file a form, and one line in `registry.ts`. Whatever was read can be
 * written in any of them, as far as the form can hold it.
 */
export interface RewriteKind {
  kind: string;
  label: string;
  /** What is lost by it, for people; absent if nothing is. */
  loses?: string;
  /** @param layer name of the ID layer; channels are called after it */
  write(layer: string, index: IdIndex, members: readonly WrittenMember[]): Rewritten;
}

export const plainChannel = (name: string, data: Float32Array): ExrChannel => ({
  name,
  type: 'float',
  xSampling: 1,
  ySampling: 1,
  pLinear: false,
  data,
});

/** Adds what members cover to planes: `planeOf` tells which plane an ID belongs to, if any. */
export function addCoverage(index: IdIndex, planeOf: (id: number) => Float32Array | undefined): void {
  const planes = Array.from(index.ids, planeOf);
  for (let i = 0; i < index.slot.length; i++) {
    const plane = planes[index.slot[i]!];
    if (!plane) continue;
    const from = index.pixel[i]!;
    for (let p = from; p < from + index.length[i]!; p++) plane[p]! += index.coverage[i]!;
  }
}

/** Numbers of members that have none: the lowest that are free, in the order of the list. */
export function numbered(
  members: readonly { name: string; id: number; number?: number | undefined }[],
): WrittenMember[] {
  const taken = new Set(members.flatMap((m) => m.number ?? []));
  let next = 1;
  return members.map(({ name, id, number }) => {
    if (number !== undefined) return { name, id, number };
    while (taken.has(next)) next++;
    return { name, id, number: next++ };
  });
}

/** Names for the list of a cryptomatte: an ID without a name has none there, either. */
export const listedNames = (members: readonly WrittenMember[]): (readonly [name: string, id: number])[] =>
  members.flatMap(({ name, id }) => (name === unnamed(id) ? [] : [[name, id] as const]));
