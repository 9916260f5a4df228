/**
 * npm run bench:browser: how long an artist waits, in the running application and Debian's Chromium. `--json FILE`
 * writes the figures for machines, `--sizes 1,2,4` says how often the demo is repeated each way: 960x540 times that.
 * `--only masks` and `--only wall` measure nothing else.
 */
import { demoPicture } from '../../core/bench/frames.ts';
import { argument, Report } from '../../core/bench/report.ts';
import { openFolder, startWhole } from '../harness/application.ts';
import { browserFigures } from './browser-figures.ts';
import { FULL } from './figures/size.ts';

const sizes = argument('--sizes')?.split(',').map(Number) ?? FULL.sizes;
const report = new Report(argument('--json'));
const application = await startWhole(openFolder('bench'), { SEED_DEMO: '0' });
try {
  const bench = { ...FULL, picture: demoPicture(), sizes, only: argument('--only') };
  await browserFigures(report.tell, bench, application);
} finally {
  await application.stop();
}
report.end();
