import { defineFence } from './fence-kind.ts';
import type { Point } from './point.ts';
import { lengthIn } from '../../planes/shares.ts';
import { coverBy, dragPlaced, placedHandles, placedIn, type Placed } from './distance.ts';
import { placedFields } from './settings.ts';

const { cos, hypot, max, min, sin } = Math;

/** An ellipse; its distance is the usual estimate by the gradient, exact for a circle and on every border. */
export const ellipse = defineFence<Record<keyof Placed, number>>({
  kind: 'ellipse',
  label: 'Ellipse',
  hint: 'A round or oval limit.',
  fields: placedFields(30, 30),
  rasterise(v, frame, area, out) {
    const { own, half } = placedIn(frame, v);
    const [a, b] = [max(0.5, half[0]), max(0.5, half[1])];
    coverBy(
      (px, py) => {
        const [x, y] = own(px, py);
        const away = hypot(x / a, y / b);
        const slope = hypot(x / (a * a), y / (b * b));
        return slope > 0 ? (away * (away - 1)) / slope : -min(a, b);
      },
      lengthIn(frame, v.soft),
      area,
      out,
    );
  },
  outline(v, frame) {
    const { back, half } = placedIn(frame, v);
    const line = Array.from({ length: 65 }, (_, i): Point => {
      const t = (2 * Math.PI * i) / 64;
      return back([half[0] * cos(t), half[1] * sin(t)]);
    });
    return [line];
  },
  handles: (v, frame) => placedHandles(frame, v),
  drag: (v, frame, handle, to) => dragPlaced(frame, v, handle, to),
});
