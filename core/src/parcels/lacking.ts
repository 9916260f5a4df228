import { missingPasses } from '../apply/apply-changes.ts';
import { maskOfChange } from '../apply/mask-of-change.ts';
import { missingPicks } from '../apply/missing-picks.ts';
import { listedChanges, type ListedChange } from '../changes/listed.ts';
import { matchMembers } from '../picks/patterns.ts';
import type { OpenPicture } from '../version/open-picture.ts';
import { chosenNames } from './coverage.ts';
import { framesOfParcel, variantsOf, type ParcelShot, type ParcelState } from './job.ts';
import { framesText, type Parcel } from './parcel.ts';
import { parcelKind, settingsOfParcel } from './registry.ts';

const nameOf = ({ words, id }: Pick<ListedChange, 'words' | 'id'>) => `"${words || id}"`;
/** Changes that do something. */
const active = (changes: readonly ListedChange[]) =>
  changes.filter((c) => c.on && c.corrections.some((use) => use.on));

/** What a picture does not have of what changes ask for, a sentence each: members, rules without a match, passes. */
export function lackingForChanges(open: OpenPicture, changes: readonly ListedChange[]): string[] {
  const members = missingPicks(changes, open.cast).map(
    ({ change, pick }) =>
      `${nameOf(change)} names "${pick.member}" in ${pick.layer}, which this picture does not have.`,
  );
  const names = open.passes.map((p) => p.name);
  const passes = missingPasses(active(changes), names).map(
    ({ change, pass }) =>
      `${nameOf(change)} needs the pass ${pass}, which this picture does not have: that correction is left out.`,
  );
  return [...members, ...passes];
}

/** Changes whose mask covers nothing in a picture, a sentence each. */
export function emptyMasks(open: OpenPicture, changes: readonly ListedChange[]): string[] {
  return active(changes).flatMap((change) => {
    const mask = maskOfChange(open, change);
    const covers = Array.from({ length: mask.tileCount }, (_, t) => t).some((t) => mask.has(t));
    return covers ? [] : [`The mask of ${nameOf(change)} is empty.`];
  });
}

/** The changes that a parcel is made by in a state; none where it is not made by changes. */
function changesOf(parcel: Parcel, { list }: ParcelShot, state: ParcelState): ListedChange[] {
  const kind = parcelKind(parcel.kind);
  const byChanges =
    kind?.reads === 'applied' || kind?.reads === 'list' || settingsOfParcel(parcel)['of'] === 'changes';
  return byChanges ? listedChanges(list, { variant: state.variant, frame: state.frame }) : [];
}

/** Members that a parcel names itself and that a picture does not have, a sentence each. */
function lackingMembers(open: OpenPicture, parcel: Parcel): string[] {
  const settings = settingsOfParcel(parcel);
  const { layer, members } = settings;
  if (settings['of'] === 'changes' || typeof members !== 'string' || typeof layer !== 'string') return [];
  const cast = open.cast.find((l) => l.name === layer);
  return chosenNames(members).flatMap((name) => {
    const known = cast ? [...cast.members, ...cast.unseen.map((n) => ({ name: n, id: -1 }))] : [];
    return matchMembers(name, known).length > 0
      ? []
      : [`"${parcel.title}" names "${name}" in ${layer}, which this picture does not have.`];
  });
}

/** Frames and variants that a parcel asks for and that are not there, a sentence each. */
export function lackingStates(parcel: Parcel, shot: ParcelShot): string[] {
  const gone = parcel.variants.filter((id) => id !== '' && !shot.list.variants.some((v) => v.id === id));
  const variants = parcelKind(parcel.kind)?.varies
    ? gone.map((id) => `"${parcel.title}" asks for a variant that the change list does not have (${id}).`)
    : [];
  if (framesOfParcel(parcel, shot).length > 0) return variants;
  const there = shot.frames.length ? framesText(shot.frames) : 'one without a number';
  return [
    ...variants,
    `"${parcel.title}" asks for frames ${parcel.frames}, of which none is there. There are: ${there}.`,
  ];
}

/** What a frame does not have of what a parcel asks for: members, rules without a match, passes; a sentence each. */
export function lackingInFrame(
  open: OpenPicture,
  parcel: Parcel,
  shot: ParcelShot,
  frame: number | undefined,
): string[] {
  const changes = variantsOf(parcel, shot.list).flatMap((variant) =>
    lackingForChanges(open, changesOf(parcel, shot, { frame, variant })),
  );
  return inFrame([...lackingMembers(open, parcel), ...changes], frame);
}

/** Masks that a parcel is made by and that cover nothing in a frame, a sentence each. */
export function emptyInFrame(
  open: OpenPicture,
  parcel: Parcel,
  shot: ParcelShot,
  frame: number | undefined,
): string[] {
  const changes = variantsOf(parcel, shot.list).flatMap((variant) =>
    changesOf(parcel, shot, { frame, variant }),
  );
  return inFrame(emptyMasks(open, changes), frame);
}

/** Whether a parcel is made of pixels, so that anything can be missing in a frame. */
export const asksFrames = ({ kind }: Pick<Parcel, 'kind'>): boolean => parcelKind(kind)?.reads !== 'scene';

const inFrame = (sentences: readonly string[], frame: number | undefined): string[] =>
  [...new Set(sentences)].map((text) => (frame === undefined ? text : `Frame ${frame}: ${text}`));
