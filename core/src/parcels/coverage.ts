import { maskOfChange } from '../apply/mask-of-change.ts';
import { listedChanges, type ListedChange } from '../changes/listed.ts';
import { NO_ID } from '../idlayers/ids.ts';
import { isNothing } from '../cast/cast.ts';
import { maskOfMembers } from '../masks/who/member-mask.ts';
import { matchMembers } from '../picks/patterns.ts';
import type { OpenPicture } from '../version/open-picture.ts';
import { VersionError } from '../version/version-error.ts';
import type { ParcelRequest } from './kind.ts';

/** A mask with a name. */
export interface NamedMask {
  name: string;
  /** 0 to 1, of the data window's size. */
  cover: Float32Array;
}

const patternsOf = (text: string) =>
  text
    .split(/[,;\n]/)
    .map((t) => t.trim())
    .filter(Boolean);

/** Changes whose masks are meant: those that mean somebody. */
export const maskedChanges = (request: Pick<ParcelRequest, 'list' | 'variant' | 'frame'>): ListedChange[] =>
  listedChanges(request.list, request).filter((c) => c.who.length > 0 || c.brush.length > 0);

/** What a change's mask is called. */
export const maskName = ({ words }: { words: string }, i: number): string => words || `change ${i + 1}`;

/** Masks of all changes; as rendered they have neither edge steps nor fence nor strokes. */
export function masksOfChanges(open: OpenPicture, request: ParcelRequest, refined: boolean): NamedMask[] {
  return maskedChanges(request).map((change, i) => ({
    name: maskName(change, i),
    cover: maskOfChange(open, refined ? change : { ...change, edge: [], fence: [], brush: [] }).flat(),
  }));
}

/**
 * Masks of members of an ID layer, by name; without a pattern of all. Rejects with VersionError for a layer that the version
 * has not, and for patterns that nobody matches.
 */
export function masksOfMembers(open: OpenPicture, layer: string, text: string): NamedMask[] {
  const own = open.cast.find((l) => l.name === layer);
  if (!own) {
    const there = open.cast.map((l) => l.name).join(', ');
    throw new VersionError(`This version has no ID layer ${layer}. It has ${there || 'none'}.`);
  }
  const members = own.members.filter((m) => !isNothing(m) && m.id !== NO_ID);
  const patterns = patternsOf(text);
  const chosen = patterns.length
    ? members.filter((m) => patterns.some((p) => matchMembers(p, [m]).length > 0))
    : members;
  // Of a sequence some frames may show none of them.
  const known = [...own.members, ...own.unseen.map((name) => ({ name, id: -1, coverage: 0, pixels: 0 }))];
  const lost = patterns.filter((p) => matchMembers(p, known).length === 0);
  if (lost.length) throw new VersionError(`${layer} has nobody called ${lost.join(', ')}.`);
  return chosen.map((m) => ({ name: m.name, cover: maskOfMembers(own.index, [m.id]).flat() }));
}
