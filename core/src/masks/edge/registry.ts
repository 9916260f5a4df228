import type { EdgeStep } from './edge-step.ts';
import { feather } from './feather.ts';
import { firm } from './firm.ts';
import { grow } from './grow.ts';
import { pinholes } from './pinholes.ts';
import { points } from './points.ts';
import { rim } from './rim.ts';
import { specks } from './specks.ts';
import { turnRound } from './turn-round.ts';

/** Every edge step there is, in the order in which the interface offers them. */
export const EDGE_STEPS: readonly EdgeStep[] = [
  grow,
  feather,
  firm,
  points,
  pinholes,
  specks,
  rim,
  turnRound,
];

export const edgeStepOf = (kind: string): EdgeStep | undefined => EDGE_STEPS.find((s) => s.kind === kind);
