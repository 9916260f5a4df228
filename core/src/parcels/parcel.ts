import type { FieldValues } from '../fields/field.ts';

/** All that is handed over of a shot, as it is stored with it. */
export interface ParcelList {
  format: 'zesty-crow/parcels';
  version: 2;
  parcels: Parcel[];
}

/** One thing to hand over: what, of which frames and variants, in which form, under which names. */
export interface Parcel {
  id: string;
  /** A kind of the registry. */
  kind: string;
  title: string;
  /** Frames of a sequence, as `1-10, 14`; empty: all. */
  frames: string;
  /** Ids of variants, the empty one for the list itself. */
  variants: string[];
  /** Values of the kind's fields; neutral ones are left out. */
  settings: FieldValues;
  /** How its files are called: a pattern with placeholders. */
  name: string;
  /** A folder on the server's machine, within one that is allowed; empty: to be downloaded. */
  folder: string;
  /** What is done about files that lie in the folder already; `replace` if it is left out. */
  existing?: Existing;
  /** Nothing of it is handed over where something is missing that it asks for: a member, a pass, a frame, a mask. */
  strict?: boolean;
}

/**
 * `replace`: those that differ are replaced. `number`: every time a new folder in it, 0001, 0002 and so on. `stop`: nothing
 * is written where one would be replaced.
 */
export type Existing = 'replace' | 'number' | 'stop';
export const EXISTING: readonly { value: Existing; label: string }[] = [
  { value: 'replace', label: 'replace what differs' },
  { value: 'number', label: 'a new numbered folder each time' },
  { value: 'stop', label: 'never replace a file' },
];

export const emptyParcelList = (): ParcelList => ({ format: 'zesty-crow/parcels', version: 2, parcels: [] });

/** Frame numbers as a text that {@link framesOf} reads: runs are written as `1-10`. */
export function framesText(frames: readonly number[]): string {
  const runs: [number, number][] = [];
  for (const n of [...new Set(frames)].sort((a, b) => a - b)) {
    const last = runs.at(-1);
    if (last?.[1] === n - 1) last[1] = n;
    else runs.push([n, n]);
  }
  return runs.map(([a, b]) => (a === b ? `${a}` : `${a}-${b}`)).join(', ');
}

/** Frames that a text such as `1-10, 14` means, of those there are; all where it is empty. Throws where it means nothing. */
export function framesOf(text: string, all: readonly number[]): number[] {
  const pieces = text
    .split(/[,;\s]+/)
    .map((p) => p.trim())
    .filter(Boolean);
  if (pieces.length === 0) return [...all];
  const wanted = pieces.flatMap((piece): ((n: number) => boolean)[] => {
    const found = /^(-?\d+)(?:-(-?\d+))?$/.exec(piece);
    if (!found) throw new Error(`“${piece}” names no frames. Write them as 1-10, 14.`);
    const [from, to] = [Number(found[1]), Number(found[2] ?? found[1])];
    return [(n) => n >= Math.min(from, to) && n <= Math.max(from, to)];
  });
  return all.filter((n) => wanted.some((in_) => in_(n)));
}
