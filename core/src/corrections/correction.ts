import type { Field, FieldValue } from '../fields/field.ts';
import type { KernelStep } from '../kernels/tile.ts';
import type { Area } from '../planes/area.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import type { CameraView } from '../planes/camera-view.ts';
import type { Size } from '../planes/size.ts';

/** Pixels gathered from under a mask: scene-linear, the first `count` of each array. */
export interface PixelRun {
  count: number;
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
  /** Where each pixel is in the picture: y * width + x. */
  at: Uint32Array;
  /** The picture as rendered, of the whole frame. */
  rendered: RgbPlanes;
  /** Planes of other passes, of the whole picture, by the pass's name: those that the correction needs. */
  passes: Passes;
}

/** All that a change's mask covers, as it was rendered: what a correction may measure before it is applied. */
export interface PartColours extends PixelRun {
  /** Coverage of each pixel, above 0. */
  weight: Float32Array;
}

/** What was measured of a part, by name: plain data, for other threads. */
export type PartFigures = Readonly<Record<string, readonly number[]>>;

/** Planes of other passes of the picture, scene-linear or data, by the pass's name. */
export type Passes = Readonly<Record<string, readonly Float32Array[]>>;

/** What corrections are about, as they are offered. */
export type CorrectionGroup = 'light' | 'colour' | 'area' | 'pass';

/** Pixels in and around an area, as they are below a change. */
export interface AreaWindow {
  /** The pixels that are to be written. */
  area: Area;
  /** Pixels more on every side, as many as the correction reaches; at the picture's border its last pixels repeat. */
  margin: number;
  planes: RgbPlanes;
  /** The change's coverage in the same window, 0 to 1; it goes on beyond the picture like the colours. */
  coverage: Float32Array;
  /** Size of the picture, and what its file tells about the camera. */
  frame: Size & { view?: CameraView | undefined };
  /** Planes of other passes, of the whole picture, by the pass's name: those that the correction needs. */
  passes: Passes;
}

/** A place in the frame, in its pixels. */
export type PlacePoint = readonly [x: number, y: number];

/** How something that a correction lays into the picture is moved there, by handles; places are in pixels. */
export interface Placement<V> {
  /** Lines that show it; a line that ends where it begins is closed. */
  outline(values: Readonly<V>, frame: Size): PlacePoint[][];
  handles(values: Readonly<V>, frame: Size): { key: string; label: string; at: PlacePoint }[];
  /** Its values after a handle was moved to a place. */
  drag(values: Readonly<V>, frame: Size, handle: string, to: PlacePoint): Partial<V>;
}

interface CorrectionBase<V> {
  kind: string;
  label: string;
  /** A shorter name where there is little room, if the label is long. */
  short?: string;
  group: CorrectionGroup;
  /** What it is for, in a line. */
  hint: string;
  /** How it is calculated, in a line or two. */
  numbers: string;
  /** Raised whenever its numbers are mended, so that files which were made before are made again; 2 the first time. */
  revision?: number;
  /** Its own settings; amount and limits, which all have, are not among them. */
  fields: readonly Field[];
  /** True for values that change nothing though they are not all neutral. */
  idle?(values: Readonly<V>): boolean;
  /** Names of the other passes that it reads. */
  needs?(values: Readonly<V>): string[];
  /**
   * True if its formula holds for the primaries of Rec. 709: pixels of a picture with others are brought there and back.
   * Other corrections work in the picture's own primaries, and colours in their values are brought to those.
   */
  rec709?: boolean;
  /** Where it lies in the picture, if it is moved there. */
  placement?: Placement<V>;
}

/** A correction that looks at one pixel at a time. `V` are the values of its fields. */
export interface PixelCorrection<V = Record<string, FieldValue>> extends CorrectionBase<V> {
  works: 'pixel';
  /**
   * What it has to know of all that it is about, from the picture as rendered; undefined if there is nothing to measure.
   * Asked for anew when the mask, or a pass that is chosen, is another one.
   */
  measure?(part: PartColours, values: Readonly<V>): PartFigures | undefined;
  /**
   * Of the pixels that were measured those of which it can only guess what they should become: 1 for each, for a warning.
   * Of a correction that knows, it is not there.
   */
  doubts?(part: PartColours, values: Readonly<V>, measured: PartFigures): Uint8Array;
  /**
   * Changes pixels in place, at full strength. `values` holds every field, missing ones already neutral; `measured` is
   * there if {@link measure} is and found anything.
   */
  apply(pixels: PixelRun, values: Readonly<V>, measured?: PartFigures): void;
  /** The same as a step of the tile kernel, where there is one for these values; within docs/decisions/tolerances.md. */
  kernel?(values: Readonly<V>, picture: Pick<RgbPlanes, 'white'>): KernelStep | undefined;
}

/** A correction that reads neighbours, or writes beyond its mask. */
export interface AreaCorrection<V = Record<string, FieldValue>> extends CorrectionBase<V> {
  works: 'area';
  /** Pixels that it reads around each pixel. */
  reach(values: Readonly<V>, frame: Size): number;
  /** Pixels that it may write beyond the mask; then it limits itself by the window's coverage. Default 0. */
  spread?(values: Readonly<V>, frame: Size): number;
  /** Writes the area, at full strength. */
  apply(window: AreaWindow, values: Readonly<V>, out: RgbPlanes): void;
}

export type Correction<V = Record<string, FieldValue>> = PixelCorrection<V> | AreaCorrection<V>;

/** Registers a correction: inside it values have the types of its fields, outside all corrections are alike. */
export const defineCorrection = <V extends Record<keyof V, FieldValue>>(
  correction: Correction<V>,
): Correction => correction as unknown as Correction;
