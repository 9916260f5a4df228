import type { Field, FieldValue, FieldValues } from '../../fields/field.ts';
import type { Area } from '../../planes/area.ts';
import type { Size } from '../../planes/size.ts';
import type { Follow } from './follow.ts';
import type { Point } from './point.ts';

/** A place by which a shape is moved in the picture, in its pixels. */
export interface Handle {
  key: string;
  /** What it does, for those who do not see it. */
  label: string;
  at: Point;
}

/**
 * One kind of shape that limits a mask: one file a kind, and one line in `registry.ts`. Places are shares of the
 * display window in percent, x of its width and y of its height, and lengths are percent of its width: so a fence fits
 * another size, and other overscan.
 */
export interface FenceKind<V = Record<string, FieldValue>> {
  kind: string;
  label: string;
  /** A shorter name where there is little room, if the label is long. */
  short?: string;
  /** What it is for, in a line. */
  hint: string;
  /** Raised whenever its numbers are mended, so that files which were made before are made again; 2 the first time. */
  revision?: number;
  /** Its own settings. */
  fields: readonly Field[];
  /** Writes how much of each pixel of the area lies inside, 0 to 1, row-major. */
  rasterise(values: Readonly<V>, frame: Size, area: Area, out: Float32Array): void;
  /** Lines that show it in the picture, in pixels; a line that ends where it begins is closed. */
  outline(values: Readonly<V>, frame: Size): Point[][];
  handles(values: Readonly<V>, frame: Size): Handle[];
  /** Its values after a handle was moved to a place, in pixels. */
  drag(values: Readonly<V>, frame: Size, handle: string, to: Point): Partial<V>;
}

/** Registers a kind: inside it values have the types of its fields, outside all kinds are alike. */
export const defineFence = <V extends Record<keyof V, FieldValue>>(kind: FenceKind<V>): FenceKind =>
  kind as unknown as FenceKind;

/** A shape with its values, as a mask's recipe holds it. */
export interface FenceUse {
  kind: string;
  values: FieldValues;
  /** It goes with a member. */
  follow?: Follow;
}
