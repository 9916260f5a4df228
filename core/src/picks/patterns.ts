import { idFromHex } from '../idlayers/ids.ts';

/** A member of an ID layer as rules see it. */
export interface Named {
  name: string;
  id: number;
}

/** A glob over whole names: `*` any run of characters (slashes too), `?` one, `[abc]` or `[!abc]` one of a set. */
export function globToRegExp(pattern: string): RegExp {
  const source = pattern.replace(/\*+|\?|\[(!?)([^\]]+)\]|[^*?[]+|\[/g, (part, not, set) => {
    if (part.startsWith('*')) return '[^]*';
    if (part === '?') return '[^]';
    if (set !== undefined) return `[${not ? '^' : ''}${String(set).replace(/[\\^\]]/g, '\\$&')}]`;
    return part.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
  });
  return new RegExp(`^${source}$`, 'u');
}

/**
 * The members that a pattern means: `id:xxxxxxxx` an ID, otherwise an exact name if there is one (names may
 * contain the special characters), otherwise a glob.
 */
export function matchMembers<T extends Named>(pattern: string, members: readonly T[]): T[] {
  if (pattern.startsWith('id:')) {
    const id = idFromHex(pattern.slice(3));
    return members.filter((m) => m.id === id);
  }
  const exact = members.filter((m) => m.name === pattern);
  if (exact.length) return exact;
  const glob = globToRegExp(pattern);
  return members.filter((m) => glob.test(m.name));
}
