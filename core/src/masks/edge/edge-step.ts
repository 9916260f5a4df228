import { amountOf } from '../../fields/amount.ts';
import type { Field, FieldValue, FieldValues } from '../../fields/field.ts';
import { isNeutral } from '../../fields/values.ts';
import type { Covered } from '../../planes/each-covered.ts';

/** Coverage in and around an area, row-major; at the picture's border its last pixels repeat. */
export type MaskWindow = Covered;

/** One way to refine the edge of a mask: one file a step, and one line in `registry.ts`. */
export interface EdgeStep<V = Record<string, FieldValue>> {
  kind: string;
  label: string;
  /** A shorter name where there is little room, if the label is long. */
  short?: string;
  /** What it is for, in a line. */
  hint: string;
  /** Raised whenever its numbers are mended, so that files which were made before are made again; 2 the first time. */
  revision?: number;
  fields: readonly Field[];
  /** Pixels around each pixel that it reads, and as far as it may write beyond the mask. */
  reach(values: Readonly<V>): number;
  /** What it makes of coverage where there is none far and wide; 0 unless it says so. */
  ofNothing?(values: Readonly<V>): number;
  /** True if the mask means everything else after it. */
  complements?: boolean;
  /** Writes the area's coverage, 0 to 1, row-major without a margin. */
  apply(input: MaskWindow, values: Readonly<V>, out: Float32Array): void;
}

/** Registers a step: inside it values have the types of its fields, outside all steps are alike. */
export const defineEdgeStep = <V extends Record<keyof V, FieldValue>>(step: EdgeStep<V>): EdgeStep =>
  step as unknown as EdgeStep;

/** A step with its values, as a mask's recipe holds it. */
export interface EdgeUse {
  kind: string;
  values: FieldValues;
}

/** True if a step changes nothing with these values. One without settings always does something. */
export const leavesAll = (step: EdgeStep, values: FieldValues): boolean =>
  amountOf(values) === 0 || (step.fields.length > 0 && isNeutral(step.fields, values));
