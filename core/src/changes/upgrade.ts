import { upgradeDocument } from '../fields/upgrade.ts';

/**
 * Steps from one version of the change list to the next, by the version that they start from. Whoever changes what is
 * stored adds one and raises the version; an old list then opens for ever.
 */
const STEPS: Readonly<Record<number, (list: object) => object>> = {
  // Changes have edge steps.
  1: (list) => ({
    ...list,
    ...('changes' in list && Array.isArray(list.changes)
      ? { changes: list.changes.map((c: object) => ({ ...c, edge: [] })) }
      : {}),
  }),
};

/** A stored change list as one of today's version. Throws an Error for one that a newer Zesty Crow has made. */
export const upgradeChangeList = (stored: unknown): unknown =>
  upgradeDocument(stored, 'zesty-crow/changes', 2, STEPS);
