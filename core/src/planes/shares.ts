import { displayOf, type Size } from './size.ts';

/** A place in a picture, in its pixels or in shares. */
type Place = readonly [x: number, y: number];

/** Finer than a thousandth of a percent nobody aims. */
export const round = (v: number): number => Math.round(v * 1000) / 1000;

/**
 * A place in percent of the display window, across and down, as pixels of the picture; with overscan the display window
 * does not begin at the first of them. {@link toShares} is the way back.
 */
export function toPixels(frame: Size, x: number, y: number): [x: number, y: number] {
  const { x0, y0, x1, y1 } = displayOf(frame);
  return [x0 + (x / 100) * (x1 - x0), y0 + (y / 100) * (y1 - y0)];
}
export function toShares(frame: Size, [x, y]: Place): [x: number, y: number] {
  const { x0, y0, x1, y1 } = displayOf(frame);
  return [round((100 * (x - x0)) / (x1 - x0)), round((100 * (y - y0)) / (y1 - y0))];
}

/** A length in percent of the display window's width, in pixels; {@link shareOf} is the way back. */
export function lengthIn(frame: Size, percent: number): number {
  const { x0, x1 } = displayOf(frame);
  return (percent / 100) * (x1 - x0);
}
export function shareOf(frame: Size, pixels: number): number {
  const { x0, x1 } = displayOf(frame);
  return round((100 * pixels) / (x1 - x0));
}
