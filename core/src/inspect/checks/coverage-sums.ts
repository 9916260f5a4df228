import type { Finding } from '../../findings/finding.ts';
import type { Check } from '../check.ts';

/** Coverages of a pixel may not sum to more than 1; a little more is rounding by the writer. */
export const coverageSums: Check = {
  code: 'coverage-over-one',
  title: 'Sums of coverages',
  scope: 'frame',
  run: ({ cast, layers }) =>
    cast.flatMap(({ name, index: { over: more, broken } }): Finding[] => {
      // Masks of their own may lie over each other: glass, and lists made by hand.
      const over = layers.find((l) => l.name === name)?.members ? 0 : more;
      const findings: Finding[] = [];
      if (over)
        findings.push({
          severity: 'warning',
          code: 'coverage-over-one',
          message: `${name}: in ${over} pixels the coverages sum to more than 1. The pass was filtered or resized after rendering; its edges will not fit.`,
        });
      if (broken)
        findings.push({
          severity: 'error',
          code: 'coverage-not-a-number',
          message: `${name}: ${broken} pixels hold coverages that are not numbers. Render this pass again.`,
        });
      return findings;
    }),
};
