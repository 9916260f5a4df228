import { upgradeDocument } from '../fields/upgrade.ts';

/**
 * Steps from one version of the plan to the next, by the version that they start from. Whoever changes what is stored
 * adds one and raises the version; an old plan then opens for ever.
 */
const STEPS: Readonly<Record<number, (plan: object) => object>> = {};

/** A stored plan as one of today's version. Throws an Error for one that a newer Zesty Crow has made. */
export const upgradePlan = (stored: unknown): unknown => upgradeDocument(stored, 'zesty-crow/plan', 1, STEPS);
