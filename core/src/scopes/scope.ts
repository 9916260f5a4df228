import type { RgbPlanes } from '../planes/rgb-planes.ts';
import type { Region } from './region.ts';

/** Counts of pixels in cells, row by row from the top; one plane for all, or one each for red, green and blue. */
export interface Counts {
  width: number;
  height: number;
  planes: Float32Array[];
}

/** One way to see how the colours of a region are spread. One file a scope, and one line in `registry.ts`. */
export interface Scope {
  name: string;
  label: string;
  /** What its axes are, in a line. */
  hint: string;
  /**
   * Counts the pixels of a region, in the picture's full precision. Colours in other primaries are those of the screen.
   * @param most of more pixels than so many, only about so many are looked at, each for those around it
   */
  count(picture: RgbPlanes, region: Region, most?: number): Counts;
  /** Where a colour, scene-linear Rec. 709, lies, 0 to 1 from the left and from the top; absent where it has no place. */
  place?(colour: readonly [number, number, number]): [x: number, y: number];
}
