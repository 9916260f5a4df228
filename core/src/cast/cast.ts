import { buildIdIndex, memberArea, type IdIndex } from '../idindex/id-index.ts';
import type { IdLayer } from '../idlayers/load.ts';
import { unnamed } from '../idlayers/ids.ts';

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

/** Builds index and member list of a sound layer; members come largest first. */
export function castOf(layer: IdLayer & { planes: NonNullable<IdLayer['planes']> }): CastLayer {
  const index = buildIdIndex(layer.planes);
  const members = Array.from(index.ids, (id, slot) => ({
    name: layer.manifest.nameOf.get(id) ?? unnamed(id),
    id,
    ...memberArea(index, slot),
  }));
  members.sort((a, b) => b.coverage - a.coverage || (a.name < b.name ? -1 : 1));
  const seen = new Set(index.ids);
  const unseen = [...layer.manifest.nameOf].flatMap(([id, name]) => (seen.has(id) ? [] : [name]));
  return { name: layer.name, family: familyOf(layer.name), index, members, unseen };
}
