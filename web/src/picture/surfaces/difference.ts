import { differenceTile } from '@zesty-crow/core';
import type { ViewMode } from './surface.ts';

/** How far the corrected picture is from what it is compared with, so many times as large. */
export const difference: ViewMode = {
  byCompared: true,
  changed: (last, now) => last?.gain !== now.gain,
  tile: ({ open, view, display, compared }, tile, halvings) =>
    differenceTile(open.stack.result, compared, tile, view.gain, display, halvings),
};
