import type { Finding } from '../../findings/finding.ts';
import type { Check } from '../check.ts';

/** Coverages of a pixel may not sum to more than 1; a little more is rounding by the writer. */
export const coverageSums: Check = {
  code: 'coverage-over-one',
  title: 'Sums of coverages',
  scope: 'frame',
  run: ({ layers }) =>
    layers.flatMap(({ name, planes }): Finding[] => {
      if (!planes) return [];
      let over = 0;
      let broken = 0;
      for (let p = 0; p < planes.width * planes.height; p++) {
        let sum = 0;
        for (const cover of planes.coverage) sum += cover[p]!;
        if (!(sum <= 1.01)) Number.isFinite(sum) ? over++ : broken++;
      }
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
