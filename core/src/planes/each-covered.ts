import type { Area } from './area.ts';

/** Coverage of an area and of so many pixels more on every side. */
export interface Covered {
  area: Area;
  margin: number;
  coverage: Float32Array;
}

/** Calls `write` for each pixel of the area with its coverage, its place in the area, and in the window. */
export function eachCovered(
  { area, margin, coverage }: Covered,
  write: (coverage: number, to: number, from: number) => void,
): void {
  const across = area.x1 - area.x0;
  const width = across + 2 * margin;
  for (let y = 0, to = 0; y < area.y1 - area.y0; y++)
    for (let x = 0, from = (y + margin) * width + margin; x < across; x++, from++, to++)
      write(coverage[from]!, to, from);
}
