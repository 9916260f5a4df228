import type { Version } from '@zesty-crow/server/contract';

/** A version as it is offered in a list. */
export const versionLabel = (v: Pick<Version, 'number' | 'source'>): string =>
  `v${v.number}, ${v.source === 'render' ? 'rendered' : 'imported'}`;
