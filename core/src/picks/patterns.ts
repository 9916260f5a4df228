import { idFromHex } from '../idlayers/ids.ts';
import { compileGlob } from './glob.ts';

/** A member of an ID layer as rules see it. */
export interface Named {
  name: string;
  id: number;
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
  const glob = compileGlob(pattern);
  return members.filter((m) => glob(m.name));
}
