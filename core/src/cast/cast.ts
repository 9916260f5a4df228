import type { IdIndex } from '../idindex/id-index.ts';
import type { IdLayer } from '../idlayers/load.ts';
import { NO_ID, unnamed } from '../idlayers/ids.ts';

/** One thing of a version that can be isolated. */
export interface CastMember {
  /** Name from the manifest, or `id:xxxxxxxx`. */
  name: string;
  id: number;
  /** Sum of coverage over all pixels. */
  coverage: number;
  /** Number of pixels it touches. */
  pixels: number;
}

/** What the members of a layer are. */
export type Family = 'objects' | 'materials' | 'groups' | 'other';

/** One ID layer with its members, ready for picking. */
export interface CastLayer {
  name: string;
  family: Family;
  index: IdIndex;
  members: CastMember[];
  /** Names of the layer's list that are not seen in this picture; they may be in another frame. */
  unseen: string[];
}

/** What a layer's members are, judged by its name, because nothing else in the file tells. */
export function familyOf(layer: string): Family {
  if (/mat(erial)?s?\b|material/i.test(layer)) return 'materials';
  if (/obj(ect)?s?\b|object|node|instance/i.test(layer)) return 'objects';
  if (/asset|group|collection/i.test(layer)) return 'groups';
  return 'other';
}

/** Name of what no ID covers: sky, backdrop, holes. */
export const NOTHING = 'nothing';

/** Members that are things, without what no ID covers. */
export const things = <M extends { name: string }>(members: readonly M[]): M[] =>
  members.filter((m) => m.name !== NOTHING);

/** What no ID covers is picked like a member, but is none of those that a rule names. */
export const isNothing = ({ id }: { id: number }): boolean => id === NO_ID;

/** Names the members of an index; they come largest first, and last what no ID covers. */
export function castOf(layer: Pick<IdLayer, 'name' | 'manifest'>, index: IdIndex): CastLayer {
  const { nameOf } = layer.manifest;
  const taken = new Set(nameOf.values());
  const name = (id: number) =>
    nameOf.get(id) ?? (id === NO_ID && !taken.has(NOTHING) ? NOTHING : unnamed(id));
  const members = Array.from(index.ids, (id, slot) => ({
    name: name(id),
    id,
    coverage: index.coverageOf[slot]!,
    pixels: index.pixelsOf[slot]!,
  }));
  members.sort(
    (a, b) =>
      Number(isNothing(a)) - Number(isNothing(b)) || b.coverage - a.coverage || (a.name < b.name ? -1 : 1),
  );
  const seen = new Set(index.ids);
  const unseen = [...nameOf].flatMap(([id, named]) => (seen.has(id) ? [] : [named]));
  return { name: layer.name, family: familyOf(layer.name), index, members, unseen };
}
