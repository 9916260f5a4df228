import { ellipse } from './ellipse.ts';
import type { FenceKind } from './fence-kind.ts';
import { polygon } from './polygon.ts';
import { rectangle } from './rectangle.ts';
import { roundRamp } from './round-ramp.ts';
import { smoothCurve } from './smooth-curve.ts';
import { straightRamp } from './straight-ramp.ts';

/** Every kind of fence there is, in the order in which the interface offers them. */
export const FENCE_KINDS: readonly FenceKind[] = [
  ellipse,
  rectangle,
  polygon,
  smoothCurve,
  straightRamp,
  roundRamp,
];

export const fenceKindOf = (kind: string): FenceKind | undefined => FENCE_KINDS.find((k) => k.kind === kind);
