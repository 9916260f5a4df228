import type { ChannelInfo, ExrHeader } from '../formats/exr/types.ts';
import { callsItselfPicture } from './beauty.ts';
import { stemOf, type Interpretation } from './interpretation.ts';
import { givenRole } from './given-roles.ts';

/** A part of a file of a frame, before its channels have their names in the frame. */
export interface FilePart {
  /** The file's name, without a folder. */
  file: string;
  header: ExrHeader;
}
/** A part of a file as it joins a frame: its header with the names that its channels have there, and their own names. */
export interface NamedPart {
  header: ExrHeader;
  /** Names in the file by names in the frame. */
  ownName: ReadonlyMap<string, string>;
}

/** What tells the files of one frame apart: their names without ending, frame number and what they all begin with. */
export function shortNames(files: readonly string[]): string[] {
  const stems = files.map(stemOf);
  const [first = '', ...others] = [...new Set(stems)];
  let common = others.length ? first.length : 0;
  for (const other of others) while (!other.startsWith(first.slice(0, common))) common--;
  // Not in the middle of a word.
  while (
    common > 0 &&
    common < first.length &&
    /\w/.test(first[common - 1]!) &&
    !/[._-]/.test(first[common - 1]!)
  )
    common--;
  const separators = /^[\s._-]+|[\s._-]+$/g;
  // A number alone says nothing: the word before it belongs to it.
  const bare = () => stems.some((s) => /^\d+$/.test(s.slice(common).replace(separators, '')));
  while (common > 0 && bare())
    common = first
      .slice(0, common)
      .replace(/[\s._-]+$/, '')
      .search(/[^\s._-]+$/);
  // One that is the beginning of all the others has nothing of its own.
  const whole = others.length > 0 && stems.includes(first.slice(0, common).replace(separators, ''));
  return stems.map((s) => (whole && s.length <= common ? '' : s.slice(common).replace(separators, '')));
}

const has = (h: ExrHeader, names: string) => [...names].every((n) => h.channels.some((c) => c.name === n));

/**
 * Which of several parts is the picture: the one that is called so or like all the others begin, otherwise the first one
 * with colours; -1 if none has any.
 */
export function pictureAmong(
  parts: readonly { label: string; header: ExrHeader }[],
  said: Interpretation['roles'] = {},
): {
  at: number;
  why: string;
} {
  const own = parts.map(
    ({ label, header }) => givenRole({ name: label, channels: header.channels }, said) === undefined,
  );
  const colours = parts.flatMap(({ header }, i) => (own[i] && has(header, 'RGB') ? [i] : []));
  const [first] = colours;
  if (first === undefined) {
    const grey = parts.findIndex(({ header }, i) => own[i] && has(header, 'Y'));
    return { at: grey, why: grey < 0 ? 'nothing has colours' : 'it is grey, and nothing has colours' };
  }
  if (colours.length === 1) return { at: first, why: 'it is the only one with colours' };
  const named = colours.find((i) => callsItselfPicture(parts[i]!.label));
  if (named !== undefined) return { at: named, why: `it is called ${parts[named]!.label}` };
  const bare = colours.find((i) => parts[i]!.label === '');
  if (bare !== undefined) return { at: bare, why: 'its name is what the others begin with' };
  return { at: first, why: 'it is the first one with colours' };
}

/**
 * Names for the channels of all parts of a frame. A channel without a layer of its own (`R`, `Z`) belongs to the layer
 * that its part or file is called, but for those of the picture. So `diffuse` with R, G and B becomes `diffuse.R`, and
 * `CryptoObject00` with R becomes `CryptoObject00.R`. Of parts of one file, a name that is taken gets the part's name,
 * too, and if need be a number; a layer that a later file brings again has the same name and takes its place.
 */
export function nameParts(parts: readonly FilePart[], said?: Interpretation['roles']): NamedPart[] {
  const files = shortNames(parts.map((p) => p.file));
  const labelled = parts.map(({ header }, i) => ({ header, label: header.name || files[i]! }));
  const picture = parts.length === 1 ? 0 : pictureAmong(labelled, said).at;
  let taken = new Set<string>();
  return labelled.map(({ header, label }, i): NamedPart => {
    if (parts[i]!.file !== parts[i - 1]?.file) taken = new Set();
    const part = label || `part ${i + 1}`;
    const ownName = new Map<string, string>();
    const channels = header.channels.map((c): ChannelInfo => {
      const plain = !c.name.includes('.') && i !== picture;
      // Where the part is called like the only channel that it has, nothing is gained by saying so twice.
      let name = plain && c.name !== part ? `${part}.${c.name}` : c.name;
      if (taken.has(name)) name = `${part}.${c.name}`;
      for (let n = 2; taken.has(name); n++) name = `${part} ${n}.${c.name}`;
      taken.add(name);
      ownName.set(name, c.name);
      return { ...c, name };
    });
    return { header: { ...header, channels }, ownName };
  });
}
