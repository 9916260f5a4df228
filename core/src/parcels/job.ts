import type { ChangeList } from '../changes/change.ts';
import { listedChanges } from '../changes/listed.ts';
import { VersionError } from '../version/version-error.ts';
import { STEP_KEYS, type StepKey } from '../changes/step-settings.ts';
import type { MadeFile, ParcelEnv, ParcelFrame, ParcelKind } from './kind.ts';
import { calledLikeList, likeList } from './lists.ts';
import { EACH_MEMBER } from './coverage.ts';
import { clashesOf, comparedName, nameBy, patternFault } from './naming.ts';
import { framesOf, type Parcel } from './parcel.ts';
import { parcelKind, settingsOfParcel } from './registry.ts';
import { revisedIn, type Revised } from './revisions.ts';

/** The shot that is handed over. */
export interface ParcelShot {
  shot: string;
  version: number;
  list: ChangeList;
  /** Frames that the version has; none for a single picture. */
  frames: readonly number[];
}

/** A frame, in one variant. */
export interface ParcelState {
  /** Id of a variant; empty for the list itself. */
  variant: string;
  frame: number | undefined;
}

/** A file with the name that it has in the parcel. */
export interface ParcelFile extends MadeFile {
  name: string;
  variant: string;
}

const kindOf = (parcel: Parcel) => {
  const kind = parcelKind(parcel.kind);
  if (!kind) throw new VersionError(`A parcel of the kind “${parcel.kind}” is not known here.`);
  return kind;
};

/** Variants that a parcel is made in; those that are gone from the list are left out. */
export function variantsOf(parcel: Parcel, list: ChangeList): string[] {
  if (!kindOf(parcel).varies) return [''];
  return parcel.variants.filter((id) => id === '' || list.variants.some((v) => v.id === id));
}
/** Frames that a parcel is made of; undefined for a single picture. Throws where its text names no frames. */
export function framesOfParcel(
  parcel: Parcel,
  { frames, list }: Pick<ParcelShot, 'frames' | 'list'>,
): (number | undefined)[] {
  if (frames.length === 0) return [undefined];
  const chosen = framesOf(parcel.frames, frames);
  return kindOf(parcel).per === 'frame' ? chosen : toldOf(parcel, list, chosen).slice(0, 1);
}
/** Frames that a parcel of the whole shot tells of, among those that are chosen. */
const toldOf = (parcel: Parcel, list: ChangeList, frames: readonly number[]): readonly number[] =>
  kindOf(parcel).tells?.({ list, settings: settingsOfParcel(parcel), frames }) ?? frames.slice(0, 1);
/** Frames whose pixels decide what comes of a parcel in a state. */
export const framesRead = (
  parcel: Parcel,
  { frames, list }: Pick<ParcelShot, 'frames' | 'list'>,
  { frame }: Pick<ParcelState, 'frame'>,
): readonly (number | undefined)[] => {
  const { per } = kindOf(parcel);
  if (frame === undefined || per === 'frame') return [frame];
  const chosen = framesOf(parcel.frames, frames);
  return per === 'all frames' ? chosen : toldOf(parcel, list, chosen);
};

/** Everything that is made of a parcel, a frame after the other. */
export const statesOf = (parcel: Parcel, shot: ParcelShot): ParcelState[] =>
  framesOfParcel(parcel, shot).flatMap((frame) =>
    variantsOf(parcel, shot.list).map((variant) => ({ variant, frame })),
  );

const nameIn = (
  parcel: Parcel,
  { shot, version, list }: ParcelShot,
  state: ParcelState,
  file: Pick<MadeFile, 'part' | 'ending' | 'frame'>,
) =>
  nameBy(parcel.name, {
    shot,
    version,
    variant: list.variants.find((v) => v.id === state.variant)?.name ?? '',
    part: file.part,
    frame: kindOf(parcel).per === 'all frames' ? undefined : (file.frame ?? state.frame),
    parcel: parcel.title,
  }) + file.ending;

/** Names of all files that will come of a parcel, as far as they are known before. @param certain without those that stand for others */
export function expectedNames(parcel: Parcel, shot: ParcelShot, certain = false): string[] {
  const kind = kindOf(parcel);
  const settings = settingsOfParcel(parcel);
  const frames = shot.frames.length ? framesOf(parcel.frames, shot.frames) : [];
  return statesOf(parcel, shot).flatMap((state) =>
    kind
      .parts({ list: shot.list, settings, variant: state.variant || undefined, frames })
      .filter((file) => !certain || file.part !== EACH_MEMBER)
      .map((file) => nameIn(parcel, shot, state, file)),
  );
}

/**
 * Why parcels cannot be handed over under their names, the first reason for each that has one: a pattern that cannot be
 * used, files of one name, a file called like the list of all.
 * @param placeOf where a parcel goes: files of different places may have one name
 */
export function namingFaults(
  parcels: readonly Parcel[],
  shot: ParcelShot,
  placeOf: (parcel: Parcel) => string,
): Map<string, string> {
  const faults = new Map<string, string>();
  const taken = new Set<string>();
  for (const parcel of parcels) {
    const fault = patternFault(parcel.name) || ownFault(expectedNames(parcel, shot));
    if (fault) {
      faults.set(parcel.id, fault);
      continue;
    }
    const keys = new Map(
      expectedNames(parcel, shot, true).map((name) => [`${placeOf(parcel)}\n${comparedName(name)}`, name]),
    );
    const clash = [...keys].find(([key]) => taken.has(key));
    if (clash)
      faults.set(parcel.id, `Another parcel has a file called ${clash[1]}, too. Put {parcel} into the name.`);
    for (const key of keys.keys()) taken.add(key);
  }
  return faults;
}

/** What is wrong with a parcel's names among themselves; empty if nothing is. */
function ownFault(names: readonly string[]): string {
  const [clash] = clashesOf(names);
  if (clash !== undefined) return severalCalled(clash);
  const list = calledLikeList(names);
  return list === undefined ? '' : likeList(list);
}
const severalCalled = (name: string) =>
  `Several files would be called ${name}. Put more placeholders into the name: {part}, {variant}, {frame}.`;

/** Lists of steps whose numbers are in a parcel, by what it reads of the changes. */
const STEPS_READ: Readonly<Record<ParcelKind['reads'], readonly StepKey[]>> = {
  applied: STEP_KEYS,
  changes: STEP_KEYS,
  masks: ['edge', 'fence'],
  list: STEP_KEYS,
  scene: [],
  nothing: [],
};

/** What a parcel is made with in a state whose numbers have been mended since it came. */
export function mendedIn(parcel: Parcel, shot: ParcelShot, { variant, frame }: ParcelState): Revised[] {
  const kind = kindOf(parcel);
  const keys = STEPS_READ[kind.reads];
  const listed = keys.length ? listedChanges(shot.list, { variant: variant || undefined, frame }) : [];
  return revisedIn(kind, kind.reads === 'masks' ? listed : listed.filter((c) => c.on), keys);
}

/**
 * All that decides what comes of a parcel in a state, but for the pixels of the version and its scene: another text is
 * another file.
 * Limits to other frames and values of other variants are not in it.
 * @param back as it was so many mendings ago, of everything that it is made with
 */
export function contentOf(parcel: Parcel, shot: ParcelShot, state: ParcelState, back = 0): string {
  const { variant, frame } = state;
  const { kind, settings, name, title } = parcel;
  const { reads } = kindOf(parcel);
  // Those that have never been mended are not told: what was made with them is still that.
  const mended = mendedIn(parcel, shot, state).flatMap(({ kind, revision }) =>
    revision - back > 1 ? [[kind, revision - back]] : [],
  );
  const listed = () => listedChanges(shot.list, { variant: variant || undefined, frame });
  const what = {
    applied: () => listed().filter((c) => c.on),
    changes: listed,
    masks: () =>
      listed().map(({ words, who, edge, fence, brush, over }) => [words, who, edge, fence, brush, over]),
    list: () => [listed(), shot.list],
    scene: () => framesRead(parcel, shot, { frame }),
    nothing: () => [],
  }[reads]();
  const all = [kind, settings, name, title, shot.shot, shot.version, variant, frame, what];
  const told =
    kindOf(parcel).tells && frame !== undefined ? [{ told: framesRead(parcel, shot, { frame }) }] : [];
  return JSON.stringify([...all, ...told, ...(mended.length ? [mended] : [])]);
}

/**
 * Makes the files of a parcel in one state, and reads each again. Rejects with VersionError where there is nothing of the
 * kind, where two files would have one name, and with an Error where a file does not hold what was computed.
 */
export async function makeParcel(
  parcel: Parcel,
  frame: ParcelFrame,
  shot: ParcelShot,
  state: ParcelState,
  env: ParcelEnv,
): Promise<ParcelFile[]> {
  const made = await kindOf(parcel).make(
    frame,
    {
      list: shot.list,
      settings: settingsOfParcel(parcel),
      shot: shot.shot,
      version: shot.version,
      frames: shot.frames.length ? framesOf(parcel.frames, shot.frames) : [],
      frame: state.frame,
      variant: state.variant || undefined,
    },
    env,
  );
  const files = made.map((file): ParcelFile => ({
    ...file,
    variant: state.variant,
    name: nameIn(parcel, shot, state, file),
  }));
  const clash = ownFault(files.map((f) => f.name));
  if (clash) throw new VersionError(clash);
  for (const file of files) {
    const fault = await file.verify();
    if (fault) throw new Error(`${file.name}: ${fault}`);
  }
  return files;
}
