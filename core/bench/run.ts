/**
 * npm run bench: speeds as ratios within one run, so that they can be compared between machines. `--json FILE` writes
 * them for machines, `--only picture` or `--only renderer` leaves out the other half.
 */
import { nodeCrew } from '../node/crew.ts';
import { controlGain } from './control.ts';
import { correctionFigures, fileFigures, indexFigures, levelFigures, plainFigures } from './picture.ts';
import { benchRenderer } from './renderer.ts';
import { argument, report } from './report.ts';

const only = argument('--only');
if (only !== 'renderer') {
  const { crew, end } = nodeCrew();
  const control = await controlGain(crew.size);
  const figures = [
    ...(await fileFigures(4, crew, control)),
    ...(await levelFigures(2)),
    ...(await indexFigures(3840, 2160, crew, control)),
    ...(await correctionFigures(3840, 2160, crew, control)),
    ...(await plainFigures()),
  ];
  report(figures, argument('--json'));
  await end();
}
if (only !== 'picture') await benchRenderer();
