import type { NumberField } from '../fields/field.ts';
import { inner } from './soft.ts';
import type { AreaWindow } from './correction.ts';

/** Stops of overshoot from which on there is no limit. */
export const NO_LIMIT = 20;

/** How far a value may go beyond the darkest and the brightest that lie beside it; {@link NO_LIMIT} stops are no limit. */
export const beyondField = (neutral: number): NumberField => ({
  kind: 'number',
  key: 'beyond',
  label: 'Overshoot',
  unit: 'stops',
  min: 0,
  max: NO_LIMIT,
  softMax: 4,
  step: 0.1,
  neutral,
});

const { max, min } = Math;

/** What values of an area may be: at least and at most. */
export interface Bounds {
  least: Float32Array;
  most: Float32Array;
}

/**
 * How dark and bright the pixels of an area may become: as the darkest and the brightest of the nine pixels around, or so
 * many stops beyond. Only what the mask covers counts as surroundings. Light that is not negative has no negative bound.
 * Undefined where there is no limit. The window's margin is at least a pixel.
 */
export function boundsOf(plane: Float32Array, window: AreaWindow, stops: number): Bounds | undefined {
  if (stops >= NO_LIMIT) return undefined;
  const { margin, coverage, planes } = window;
  const { width } = planes;
  const [across, down] = [width - 2 * margin, planes.height - 2 * margin];
  const factor = 2 ** stops;
  const least = inner(plane, window);
  const most = least.slice();
  for (let y = 0, to = 0; y < down; y++)
    for (let x = 0; x < across; x++, to++) {
      let [low, high] = [least[to]!, most[to]!];
      const at = (y + margin) * width + x + margin;
      for (let row = at - width; row <= at + width; row += width)
        for (let i = row - 1; i <= row + 1; i++) {
          if (!(coverage[i]! > 0)) continue;
          const v = plane[i]!;
          if (v < low) low = v;
          if (v > high) high = v;
        }
      least[to] = low < 0 ? low * factor : low / factor;
      most[to] = high < 0 ? high / factor : high * factor;
    }
  return { least, most };
}

/** Holds values within bounds, in place. */
export function holdWithin(values: Float32Array, { least, most }: Bounds): void {
  for (let i = 0; i < values.length; i++) values[i] = min(most[i]!, max(least[i]!, values[i]!));
}
