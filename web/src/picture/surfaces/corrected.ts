import { pictureTile } from '@zesty-crow/core';
import type { ViewMode } from './surface.ts';

/** The corrected picture. */
export const corrected: ViewMode = {
  corrected: true,
  tile: ({ open, display }, tile, halvings) => pictureTile(open.stack.result, tile, display, halvings),
};
