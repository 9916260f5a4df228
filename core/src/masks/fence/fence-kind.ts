import type { Area } from '../../planes/area.ts';

/** A shape that limits a mask; `kind` says which fields it has besides. */
export interface FenceShape {
  kind: string;
}

/** One kind of shape: one file a kind, and one line in `registry.ts`. */
export interface FenceKind {
  kind: string;
  /** Writes how much of each pixel of the area lies inside, 0 to 1, row-major. */
  rasterise(shape: FenceShape, area: Area, out: Float32Array): void;
}
