import { READERS } from '@zesty-crow/core/formats';
import type { FileKind } from '../files/receive.ts';

/** Kinds of file that a version may be made of, by ending. */
export const VERSION_FILES: ReadonlyMap<string, FileKind> = new Map([
  ...READERS.flatMap(({ endings, mediaType }) =>
    endings.map((ending): [string, FileKind] => [ending, { role: 'picture', mediaType }]),
  ),
  ['json', { role: 'sidecar', mediaType: 'application/json' }],
]);

/** The kind of a file by its name. */
export const kindOfFile = (name: string): FileKind | undefined =>
  VERSION_FILES.get(name.slice(name.lastIndexOf('.') + 1).toLowerCase());
