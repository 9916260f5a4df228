import type { EdgeStep } from './edge-step.ts';

/** Every edge step there is, in the order in which the interface offers them. */
export const EDGE_STEPS: readonly EdgeStep[] = [];
