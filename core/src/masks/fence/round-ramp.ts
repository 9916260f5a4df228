import { defineFence } from './fence-kind.ts';
import type { Point } from './point.ts';
import { lengthIn, shareOf, toPixels, toShares } from '../../planes/shares.ts';
import { length, place } from './settings.ts';

const { cos, hypot, max, min, sin } = Math;

/** All within a circle, nothing beyond a larger one, and a straight fall between them. */
export const roundRamp = defineFence<{ x: number; y: number; inner: number; outer: number }>({
  kind: 'round-ramp',
  label: 'Round ramp',
  hint: 'Fades from all to nothing from a middle outwards, as the light of a lamp.',
  fields: [
    place('x', 'Across', 50),
    place('y', 'Down', 50),
    length('inner', 'All within', 10),
    length('outer', 'Nothing beyond', 30),
  ],
  rasterise(v, frame, area, out) {
    const [cx, cy] = toPixels(frame, v.x, v.y);
    const inner = lengthIn(frame, v.inner);
    const over = max(1, lengthIn(frame, v.outer) - inner);
    let i = 0;
    for (let y = area.y0; y < area.y1; y++)
      for (let x = area.x0; x < area.x1; x++)
        out[i++] = min(1, max(0, 1 - (hypot(x + 0.5 - cx, y + 0.5 - cy) - inner) / over));
  },
  outline(v, frame) {
    const [cx, cy] = toPixels(frame, v.x, v.y);
    const circle = (r: number) =>
      Array.from({ length: 65 }, (_, i): Point => {
        const t = (2 * Math.PI * i) / 64;
        return [cx + r * cos(t), cy + r * sin(t)];
      });
    return [circle(lengthIn(frame, v.inner)), circle(lengthIn(frame, v.outer))];
  },
  handles(v, frame) {
    const [x, y] = toPixels(frame, v.x, v.y);
    return [
      { key: 'middle', label: 'Move', at: [x, y] },
      { key: 'inner', label: 'All within', at: [x + lengthIn(frame, v.inner), y] },
      { key: 'outer', label: 'Nothing beyond', at: [x, y + lengthIn(frame, v.outer)] },
    ];
  },
  drag(v, frame, handle, to) {
    if (handle === 'middle') {
      const [x, y] = toShares(frame, to);
      return { x, y };
    }
    const [cx, cy] = toPixels(frame, v.x, v.y);
    const r = shareOf(frame, hypot(to[0] - cx, to[1] - cy));
    return handle === 'inner' ? { inner: min(r, v.outer) } : { outer: max(r, v.inner) };
  },
});
