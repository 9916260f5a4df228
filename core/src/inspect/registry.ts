import { coverageSums } from './checks/coverage-sums.ts';
import { noIds } from './checks/no-ids.ts';
import { noPicture } from './checks/no-picture.ts';
import { overscan } from './checks/overscan.ts';
import { unknownIds } from './checks/unknown-ids.ts';
import { unseenNames } from './checks/unseen-names.ts';
import { alikeNames, defaultNames, emptyNames } from './checks/sound-names.ts';
import { constantPasses, finitePixels, negativePixels } from './checks/sound-pixels.ts';
import type { Check } from './check.ts';

/** Every check there is, in the order in which findings are told. */
export const CHECKS: readonly Check[] = [
  noIds,
  noPicture,
  coverageSums,
  unknownIds,
  unseenNames,
  emptyNames,
  defaultNames,
  alikeNames,
  finitePixels,
  negativePixels,
  constantPasses,
  overscan,
];
