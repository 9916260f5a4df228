import type { RoleUse } from '@zesty-crow/core/roles';
import type { RoleRow } from '@zesty-crow/core/version';

/** What the artist says of a layer, as it is typed: every field has a value. */
export interface RoleDraft {
  role: RoleUse['role'];
  number: number | undefined;
  name: string;
  /** Names of red, green and blue; `used` is false for a slot that holds nothing. */
  slots: { letter: 'r' | 'g' | 'b'; name: string; used: boolean }[];
  channel: string | undefined;
  outlined: string | undefined;
  /** Names of numbers or colours, by what they are given to. */
  names: { key: string; name: string; found: boolean }[];
}

/** A draft of what a layer is now, or is said to be, with the members that were found in its pixels. */
export function draftOf(row: RoleRow, use: RoleUse = row.use ?? { role: 'pass' }): RoleDraft {
  const slot = (letter: 'r' | 'g' | 'b') => {
    const own = use.role === 'puzzle-matte' ? use[letter] : undefined;
    return { letter, name: own ?? '', used: own !== '' };
  };
  const said = use.role === 'number-pass' || use.role === 'flat-colour' ? (use.names ?? {}) : {};
  const keys = [...new Set([...row.members.map((m) => m.key), ...Object.keys(said)])];
  const found = new Set(row.members.map((m) => m.key));
  return {
    role: use.role,
    number: use.role === 'object-buffer' ? use.number : undefined,
    name: use.role === 'object-buffer' ? (use.name ?? '') : '',
    slots: [slot('r'), slot('g'), slot('b')],
    channel: use.role === 'object-buffer' || use.role === 'number-pass' ? use.channel : undefined,
    outlined: use.role === 'flat-colour' ? use.outlined : undefined,
    names: keys.map((key) => ({ key, name: said[key] ?? '', found: found.has(key) })),
  };
}

/** What a draft says, without what it leaves open. */
export function useOf(draft: RoleDraft): RoleUse {
  const { role, number, name, slots, channel, outlined } = draft;
  const named = draft.names.flatMap((n) => (n.name.trim() ? [[n.key, n.name.trim()] as const] : []));
  const names = named.length ? { names: Object.fromEntries(named) } : {};
  switch (role) {
    case 'object-buffer':
      return {
        role,
        ...(channel === undefined ? {} : { channel }),
        ...(number === undefined ? {} : { number }),
        ...(name.trim() ? { name: name.trim() } : {}),
      };
    case 'puzzle-matte':
      return {
        role,
        ...Object.fromEntries(
          slots.flatMap((s) =>
            !s.used ? [[s.letter, '']] : s.name.trim() ? [[s.letter, s.name.trim()]] : [],
          ),
        ),
      };
    case 'number-pass':
      return { role, ...(channel === undefined ? {} : { channel }), ...names };
    case 'flat-colour':
      return { role, ...(outlined === undefined ? {} : { outlined }), ...names };
    case 'pass':
      return { role };
  }
}
