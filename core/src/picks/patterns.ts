import { idFromHex, NO_ID } from '../idlayers/ids.ts';
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
  // What no ID covers is no thing: a rule for all things leaves it out.
  return members.filter((m) => m.id !== NO_ID && glob(m.name));
}
