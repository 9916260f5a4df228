import { upgradeDocument } from '../fields/upgrade.ts';
import { DEFAULT_RENDER } from './plan.ts';

/**
 * Steps from one version of the plan to the next, by the version that they start from. Whoever changes what is stored
 * adds one and raises the version; an old plan then opens for ever.
 */
const STEPS: Readonly<Record<number, (plan: object) => object>> = {
  // A plan told a noise and a step of the masks at which sampling may end, 0 for never. Masks are not judged for
  // themselves any more: such a plan takes all of its samples, which is never less than it took.
  1: (plan) => {
    const { render } = plan as { render?: { noise?: unknown } };
    if (typeof render !== 'object') return plan;
    const { noise, maskStep: _, ...rest } = render as { noise?: unknown; maskStep?: unknown };
    const clean = typeof noise === 'number' && noise > 0;
    return {
      ...plan,
      render: {
        ...rest,
        doneWhen: clean ? 'clean' : 'samples',
        noise: clean ? Math.max(0.001, noise) : DEFAULT_RENDER.noise,
        minutes: DEFAULT_RENDER.minutes,
      },
    };
  },
};

/** A stored plan as one of today's version. Throws an Error for one that a newer Zesty Crow has made. */
export const upgradePlan = (stored: unknown): unknown => upgradeDocument(stored, 'zesty-crow/plan', 2, STEPS);
