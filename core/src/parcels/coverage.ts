import { maskOfChange } from '../apply/mask-of-change.ts';
import { listedChanges, type ListedChange } from '../changes/listed.ts';
import { isNothing, type CastLayer } from '../cast/cast.ts';
import { maskOfMembers } from '../masks/who/member-mask.ts';
import { matchMembers, type Named } from '../picks/patterns.ts';
import type { OpenPicture } from '../version/open-picture.ts';
import { VersionError } from '../version/version-error.ts';
import type { ParcelRequest } from './kind.ts';

/** A mask with a name. */
export interface NamedMask {
  name: string;
  /** 0 to 1, of the data window's size. */
  cover: Float32Array;
}

/** Stands for the members that only a frame can tell, where files have their names. */
export const EACH_MEMBER = '(each member)';

/** The patterns of a text of members. */
export const chosenNames = (text: string): string[] =>
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

/** What is told of a layer that is not there. */
export const noSuchLayer = (layer: string, there: readonly { name: string }[]): VersionError =>
  new VersionError(
    `This version has no ID layer ${layer}. It has ${there.map((l) => l.name).join(', ') || 'none'}.`,
  );

/** An ID layer by its name. Throws VersionError where there is none of that name. */
export function layerIn({ cast }: Pick<OpenPicture, 'cast'>, name: string): CastLayer {
  const own = cast.find((l) => l.name === name);
  if (!own) throw noSuchLayer(name, cast);
  return own;
}

/** A member that is meant; without an ID where the layer's list has it and this frame does not show it. */
export interface Chosen {
  name: string;
  id: number | undefined;
}

/**
 * Members of a layer that a text of patterns means; without a pattern all that the frame shows. Those that are named and
 * not shown are among them, so that of a sequence every frame has its files. Throws VersionError for patterns that nobody
 * matches, neither here nor in the layer's list.
 */
export function chosenOf({ name, members, unseen }: CastLayer, text: string): Chosen[] {
  const patterns = chosenNames(text);
  const things = members.filter((m) => !isNothing(m));
  if (patterns.length === 0) return things;
  const known = [...members, ...unseen.map((n) => ({ name: n, id: -1 }))];
  const lost = patterns.filter((p) => matchMembers<Named>(p, known).length === 0);
  if (lost.length) throw new VersionError(`${name} has nobody called ${lost.join(', ')}.`);
  const meant = (m: Named) => patterns.some((p) => matchMembers(p, [m]).length > 0);
  return [
    ...things.filter(meant),
    ...unseen.filter((n) => meant({ name: n, id: -1 })).map((n) => ({ name: n, id: undefined })),
  ];
}

/**
 * Masks of members of an ID layer, by name; without a pattern of all. Rejects with VersionError for a layer that the version
 * has not, and for patterns that nobody matches.
 */
export function masksOfMembers(open: OpenPicture, layer: string, text: string): NamedMask[] {
  const own = layerIn(open, layer);
  return chosenOf(own, text).map(({ name, id }) => ({
    name,
    cover:
      id === undefined ? new Float32Array(open.width * open.height) : maskOfMembers(own.index, [id]).flat(),
  }));
}
