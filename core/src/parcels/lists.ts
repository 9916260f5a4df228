import { comparedName } from './naming.ts';

/** What lies beside files that were handed over: all that is known of them, and their sums for `sha256sum -c`. */
export type ListKind = 'manifest' | 'sums';

/** What such a list is called; where others lie already it has a number, or that of the one frame that it is of. */
export function listName(kind: ListKind, number?: number | string): string {
  const own = number === undefined || number === '' ? '' : `.${number}`;
  return kind === 'manifest' ? `manifest${own}.json` : `SHA256SUMS${own}`;
}

/** The first of some files that would be called like a list; undefined if none would. */
export const calledLikeList = (names: readonly string[]): string | undefined =>
  names.find((name) => /^(manifest(\.\d+)*\.json|sha256sums(\.\d+)*)$/.test(comparedName(name)));

/** Sums of files as `sha256sum` writes them and reads them. */
export const sumsText = (files: readonly { name: string; sha256: string }[]): string =>
  files.map(({ name, sha256 }) => `${sha256}  ${name}\n`).join('');

/** What is said of a file that would be called so. */
export const likeList = (name: string): string =>
  `${name} is what the list of all files is called. Give the parcel's files another name.`;
