import type { Field, FieldValue, FieldValues } from '../../fields/field.ts';
import type { Area } from '../../planes/area.ts';

/** Coverage in and around an area, row-major; outside the picture it is 0. */
export interface MaskWindow {
  /** The pixels that are to be written. */
  area: Area;
  /** Pixels more on every side, as many as the step reaches. */
  margin: number;
  coverage: Float32Array;
}

/** One way to refine the edge of a mask: one file a step, and one line in `registry.ts`. */
export interface EdgeStep<V = Record<string, FieldValue>> {
  kind: string;
  label: string;
  fields: readonly Field[];
  /** Pixels around each pixel that it reads, and as far as it may write beyond the mask. */
  reach(values: Readonly<V>): number;
  /** Writes the area's coverage, 0 to 1, row-major without a margin. */
  apply(input: MaskWindow, values: Readonly<V>, out: Float32Array): void;
}

/** A step with its values, as a mask's recipe holds it. */
export interface EdgeUse {
  kind: string;
  values: FieldValues;
}
