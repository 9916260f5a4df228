import type { Field, FieldValue } from '../fields/field.ts';

/** Pixels gathered from under a mask: scene-linear Rec. 709 values, the first `count` of each array. */
export interface Pixels {
  count: number;
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
}

/**
 * One operation on colour. It sees only pixels that its mask covers and changes them in place, at full strength. `V` are
 * the values of its fields.
 */
export interface Correction<V = Record<string, FieldValue>> {
  kind: string;
  label: string;
  fields: readonly Field[];
  /** `values` holds every field, missing ones already neutral. */
  apply(pixels: Pixels, values: Readonly<V>): void;
}

/** Registers a correction: inside it values have the types of its fields, outside all corrections are alike. */
export const defineCorrection = <V extends Record<keyof V, FieldValue>>(
  correction: Correction<V>,
): Correction => correction as unknown as Correction;
