/**
 * npm run bench: speeds as ratios within one run, so that they can be compared between machines. `--json FILE` writes
 * them for machines, `--only picture` or `--only renderer` leaves out the other half, `--before FOLDER` compares the
 * renderer with an earlier state of it, see earlier.ts.
 */
import { nodeCrew } from '../node/crew.ts';
import { controlGain } from './control.ts';
import { defocusFigures } from './defocus.ts';
import { editFigures } from './edits.ts';
import { demoPicture, demoScene, repeated } from './frames.ts';
import { correctionFigures, fileFigures, indexFigures, levelFigures, plainFigures } from './picture.ts';
import { FULL, rendererFigures } from './renderer.ts';
import { argument, Report } from './report.ts';
import { sharingFigures } from './sharing.ts';

const only = argument('--only');
const report = new Report(argument('--json'));
const { tell } = report;
if (only !== 'renderer') {
  const { crew, end } = nodeCrew();
  const control = await controlGain(crew.size);
  await fileFigures(tell, repeated(demoPicture(), 4), crew, control);
  await levelFigures(tell, repeated(demoPicture(), 2));
  await indexFigures(tell, 3840, 2160, crew, control);
  await correctionFigures(tell, 3840, 2160, crew, control);
  await defocusFigures(tell, 1920, 1080);
  await plainFigures(tell);
  await editFigures(tell);
  await end();
}
if (only !== 'picture') {
  await rendererFigures(tell, demoScene(), FULL, argument('--before'));
  await sharingFigures(tell, demoScene(), { width: 320, height: 180, samples: 64 });
}
report.end();
