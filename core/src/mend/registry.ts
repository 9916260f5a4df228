import { idsFromIntegers, slim } from './kinds/of-ids.ts';
import { divideByAlpha, finiteValues, multiplyByAlpha, putOutFireflies } from './kinds/of-picture.ts';
import { displayToLight, lightToDisplay, stretch, turnRound } from './kinds/of-values.ts';
import type { MendKind } from './mend.ts';

/** Every way to mend a file. */
export const MENDINGS: readonly MendKind[] = [
  slim,
  idsFromIntegers,
  turnRound,
  stretch,
  displayToLight,
  lightToDisplay,
  divideByAlpha,
  multiplyByAlpha,
  putOutFireflies,
  finiteValues,
];
