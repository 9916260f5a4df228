/** One number of a correction, with all that a control for it needs. */
export interface Param {
  key: string;
  label: string;
  unit: string;
  /** Hard limits, enforced by the change list's schema. */
  min: number;
  max: number;
  /** What a slider spans; numbers typed in may go to the hard limits. */
  softMin: number;
  softMax: number;
  step: number;
  /** The value that changes nothing. */
  neutral: number;
}

/** Pixels gathered from under a mask: scene-linear Rec. 709 values, the first `count` of each array. */
export interface Pixels {
  count: number;
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
}

/** One operation on colour. It sees only pixels that its mask covers and changes them in place, at full strength. */
export interface Correction {
  kind: string;
  label: string;
  params: readonly Param[];
  /** `values` holds every parameter, missing ones already neutral. */
  apply(pixels: Pixels, values: Readonly<Record<string, number>>): void;
}
