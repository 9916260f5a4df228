import type { ViewState } from './messages.ts';

/** The corrected picture of no changes, before anything was told. */
export const EMPTY_VIEW: ViewState = {
  changes: [],
  openChange: undefined,
  mode: 'picture',
  display: { stops: 0, gamma: 1, transform: 'srgb' },
  against: { kind: 'rendered' },
  gain: 4,
  warnings: [],
  layer: undefined,
  limitOf: undefined,
  ground: 'chequers',
  wanted: { before: false, dim: false, mask: false, outline: false, warn: false },
  visible: undefined,
  scale: 1,
};
