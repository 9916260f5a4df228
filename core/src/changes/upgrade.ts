import { NO_LIMIT } from '../corrections/overshoot.ts';
import { upgradeDocument } from '../fields/upgrade.ts';
import { isPlaced } from './placed-over.ts';

/** Gives every change of a list something more. */
const eachChange = (list: object, add: object) => ({
  ...list,
  ...('changes' in list && Array.isArray(list.changes)
    ? { changes: list.changes.map((c: object) => ({ ...c, ...add })) }
    : {}),
});

/** What lists before version 7 meant where they said nothing, by kind of correction. */
const MEANT: Readonly<Record<string, object>> = {
  core: { way: 'replace' },
  sharpen: { beyond: NO_LIMIT },
  'local-contrast': { beyond: NO_LIMIT },
};

const isObject = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null;

/**
 * A core of light was laid in place of what is there, sharpening and local contrast had no limit, and places were shares
 * of the whole picture: said now, so that the list gives what it gave.
 */
function withChoicesWritten(list: object): object {
  const step = (use: unknown) =>
    isObject(use) && isObject(use['values']) && MEANT[String(use['kind'])]
      ? { ...use, values: { ...MEANT[String(use['kind'])], ...use['values'] } }
      : use;
  // Nothing has been checked yet: what is no list stays, for the schema to say so.
  const owner = (o: unknown) => {
    if (!isObject(o)) return o;
    const { corrections, fence, brush } = o;
    const filled = (v: unknown) => Array.isArray(v) && v.length > 0;
    const placed = Array.isArray(corrections) && corrections.some((c) => isObject(c) && isPlaced(c['kind']));
    return {
      ...o,
      ...(Array.isArray(corrections) ? { corrections: corrections.map(step) } : {}),
      ...(filled(fence) || filled(brush) || placed ? { placesIn: 'picture' } : {}),
    };
  };
  const { changes, headings } = list as { changes?: unknown; headings?: unknown };
  return {
    ...list,
    ...(Array.isArray(changes) ? { changes: changes.map(owner) } : {}),
    ...(Array.isArray(headings) ? { headings: headings.map(owner) } : {}),
  };
}

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
  6: withChoicesWritten,
};

/** A stored change list as one of today's version. Throws an Error for one that a newer Zesty Crow has made. */
export const upgradeChangeList = (stored: unknown): unknown =>
  upgradeDocument(stored, 'zesty-crow/changes', 7, STEPS);
