import type { MergeConflict } from './merge.ts';

const words = (value: unknown): string | undefined => {
  if (typeof value !== 'object' || value === null) return undefined;
  const { words, name, kind } = value as { words?: string; name?: string; kind?: string };
  return words ?? name ?? kind;
};

/** What a conflict is about. */
export const titleOf = ({ place: [property, key], mine, theirs }: MergeConflict): string =>
  words(theirs) || words(mine) || key || property;

const short = (value: unknown): string => {
  if (value === undefined) return 'nothing';
  if (Array.isArray(value)) {
    const names = value.map((v) => {
      const item = v as { member?: string; kind?: string; values?: object; on?: boolean };
      if (item?.member) return item.member;
      if (item?.kind)
        return `${item.kind} ${item.on === false ? '(off) ' : ''}${short(item.values ?? {})}`.trim();
      return short(v);
    });
    return names.length ? names.join(', ') : 'none';
  }
  if (typeof value === 'object' && value !== null)
    return Object.entries(value)
      .map(([k, v]) => `${k} ${short(v)}`)
      .join(', ');
  return typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value);
};

/** One side of a conflict in a few lines, one for each of its properties. */
export function describeSide(value: unknown): string[] {
  if (value === undefined) return ['Deleted'];
  if (typeof value !== 'object' || value === null) return [short(value)];
  return Object.entries(value)
    .filter(([key]) => key !== 'id')
    .map(([key, v]) => `${key}: ${short(v)}`);
}
