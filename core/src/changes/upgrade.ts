import { upgradeDocument } from '../fields/upgrade.ts';

/** Gives every change of a list something more. */
const eachChange = (list: object, add: object) => ({
  ...list,
  ...('changes' in list && Array.isArray(list.changes)
    ? { changes: list.changes.map((c: object) => ({ ...c, ...add })) }
    : {}),
});

/**
 * Steps from one version of the change list to the next, by the version that they start from. Whoever changes what is
 * stored adds one and raises the version; an old list then opens for ever.
 */
const STEPS: Readonly<Record<number, (list: object) => object>> = {
  // Changes have edge steps.
  1: (list) => eachChange(list, { edge: [] }),
  // Masks have a fence. Edges are clean; those that were approved before stay as they were.
  2: (list) => eachChange(list, { fence: [], plainEdges: true }),
  // Masks are painted on; changes may stand under headings.
  3: (list) => ({ ...eachChange(list, { brush: [] }), headings: [] }),
  // There are variants; values may have keyframes, changes comments and frames.
  4: (list) => ({ ...list, variants: [] }),
  // Shapes may follow a member.
  5: (list) => list,
};

/** A stored change list as one of today's version. Throws an Error for one that a newer Zesty Crow has made. */
export const upgradeChangeList = (stored: unknown): unknown =>
  upgradeDocument(stored, 'zesty-crow/changes', 6, STEPS);
