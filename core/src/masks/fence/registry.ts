import type { FenceKind } from './fence-kind.ts';

/** Every kind of fence there is. */
export const FENCE_KINDS: readonly FenceKind[] = [];
