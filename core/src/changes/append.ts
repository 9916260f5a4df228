import type { ChangeList } from './change.ts';

/**
 * A list with the changes of another one after its own, under their headings and with their variants. All of them get new
 * ids, so that a list can be taken twice; variants keep their names.
 */
export function appended(list: ChangeList, other: ChangeList, newId: () => string): ChangeList {
  const ids = new Map([...other.changes, ...other.headings].map(({ id }) => [id, newId()]));
  const now = (id: string) => ids.get(id) ?? id;
  const { headings, changes, variants } = JSON.parse(JSON.stringify(other)) as ChangeList;
  return {
    ...list,
    headings: [...list.headings, ...headings.map((h) => ({ ...h, id: now(h.id) }))],
    changes: [
      ...list.changes,
      ...changes.map((c) => ({
        ...c,
        id: now(c.id),
        done: false,
        ...(c.heading === undefined ? {} : { heading: now(c.heading) }),
      })),
    ],
    variants: [
      ...list.variants,
      ...variants.map((v) => ({
        ...v,
        id: newId(),
        sets: v.sets.map((set) => ({ ...set, change: now(set.change) })),
      })),
    ],
  };
}
