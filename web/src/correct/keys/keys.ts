/** What a key does, as the sheet of keys says it. */
export interface KeyUse {
  /** The usual key, as it is written on a keyboard; what is chosen in its place is known by it. */
  key: string;
  label: string;
  group: 'Look' | 'Frames' | 'Zoom' | 'Choose' | 'Columns' | 'Values' | 'Everywhere';
  /** What it does; keys without are heard where they belong: in a field, or by all stages. */
  act?: () => void;
  /** What letting it go does. */
  release?: () => void;
}

export const KEY_GROUPS = ['Look', 'Frames', 'Zoom', 'Choose', 'Columns', 'Values', 'Everywhere'] as const;

/** Keys of number fields, and those of all stages. */
export const COMMON_KEYS: readonly KeyUse[] = [
  { key: '↑ ↓', label: 'A value up or down, in its field', group: 'Values' },
  { key: 'Shift ↑ ↓', label: 'The same ten times as far', group: 'Values' },
  { key: 'Ctrl ↑ ↓', label: 'A tenth as far', group: 'Values' },
  {
    key: 'Delete',
    label: 'On a slider: back to where it changes nothing, as a double-click does',
    group: 'Values',
  },
  { key: 'Ctrl Z', label: 'Undo', group: 'Everywhere' },
  { key: 'Ctrl Shift Z', label: 'Redo', group: 'Everywhere' },
];

/** Keys that are not the usual ones, by the usual key of what they do. */
export type OwnKeys = Readonly<Record<string, string>>;

/** Gives something another key; what had that key, by usual or by choice, gets the one that is left. */
export function withOwnKey(own: OwnKeys, usual: string, key: string): OwnKeys {
  const wanted = key.toUpperCase();
  const left = own[usual] ?? usual;
  // What has the wanted key by usual stands in no list until it is given another one.
  const had = [...Object.keys(own), wanted].find((other) => (own[other] ?? other).toUpperCase() === wanted);
  return { ...own, ...(had === undefined ? {} : { [had]: left }), [usual]: wanted };
}

/** Keys whose label or name has all of some words. */
export function foundKeys(all: readonly KeyUse[], search: string): KeyUse[] {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  return all.filter(({ key, label, group }) => {
    const text = `${key} ${label} ${group}`.toLowerCase();
    return words.every((w) => text.includes(w));
  });
}
