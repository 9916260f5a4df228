import { defineFence } from './fence-kind.ts';
import type { Point } from './point.ts';
import { lengthIn } from '../../planes/shares.ts';
import { coverBy, dragPlaced, placedHandles, placedIn, type Placed } from './distance.ts';
import { placedFields } from './settings.ts';

const { abs, hypot, max, min } = Math;

/** A rectangle, turned by an angle. */
export const rectangle = defineFence<Record<keyof Placed, number>>({
  kind: 'rectangle',
  label: 'Rectangle',
  hint: 'A limit with four straight sides.',
  fields: placedFields(40, 30),
  rasterise(v, frame, area, out) {
    const { own, half } = placedIn(frame, v);
    coverBy(
      (px, py) => {
        const [x, y] = own(px, py);
        const [dx, dy] = [abs(x) - half[0], abs(y) - half[1]];
        return min(0, max(dx, dy)) + hypot(max(0, dx), max(0, dy));
      },
      lengthIn(frame, v.soft),
      area,
      out,
    );
  },
  outline(v, frame) {
    const { back, half } = placedIn(frame, v);
    const corners: Point[] = [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
      [-1, -1],
    ];
    return [corners.map(([x, y]) => back([x * half[0], y * half[1]]))];
  },
  handles: (v, frame) => placedHandles(frame, v),
  drag: (v, frame, handle, to) => dragPlaced(frame, v, handle, to),
});
