import { coverageSums } from './checks/coverage-sums.ts';
import { noIds } from './checks/no-ids.ts';
import { noPicture } from './checks/no-picture.ts';
import { overscan } from './checks/overscan.ts';
import { unknownIds } from './checks/unknown-ids.ts';
import { unseenNames } from './checks/unseen-names.ts';
import { alikeNames, defaultNames, emptyNames } from './checks/sound-names.ts';
import { constantPasses, finitePixels, negativePixels } from './checks/sound-pixels.ts';
import { encoding } from './checks/encoding.ts';
import { filteredIds } from './checks/filtered-ids.ts';
import { fireflies } from './checks/fireflies.ts';
import { larger } from './checks/larger.ts';
import { levels } from './checks/levels.ts';
import { lights } from './checks/lights.ts';
import { numberTwice } from './checks/number-twice.ts';
import { premultiplied } from './checks/premultiplied.ts';
import { ranksEnough } from './checks/ranks.ts';
import { shifted } from './checks/shifted.ts';
import type { Check } from './check.ts';

/** Every check there is, in the order in which findings are told. */
export const CHECKS: readonly Check[] = [
  noIds,
  noPicture,
  coverageSums,
  filteredIds,
  ranksEnough,
  levels,
  numberTwice,
  shifted,
  encoding,
  premultiplied,
  lights,
  fireflies,
  unknownIds,
  unseenNames,
  emptyNames,
  defaultNames,
  alikeNames,
  finitePixels,
  negativePixels,
  constantPasses,
  overscan,
  larger,
];
