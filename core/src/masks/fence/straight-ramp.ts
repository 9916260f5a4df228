import { defineFence } from './fence-kind.ts';
import { toPixels, toShares } from '../../planes/shares.ts';
import { place } from './settings.ts';

const { hypot, max, min } = Math;

/** All on one side of a line, nothing on the other side of a second one, and a straight fall between them. */
export const straightRamp = defineFence<{ x: number; y: number; toX: number; toY: number }>({
  kind: 'straight-ramp',
  label: 'Straight ramp',
  hint: 'Fades from all to nothing along a line, as from the front of a table to its back.',
  fields: [
    place('x', 'From across', 50),
    place('y', 'From down', 70),
    place('toX', 'To across', 50),
    place('toY', 'To down', 40),
  ],
  rasterise(v, frame, area, out) {
    const [x0, y0] = toPixels(frame, v.x, v.y);
    const [x1, y1] = toPixels(frame, v.toX, v.toY);
    const [dx, dy] = [x1 - x0, y1 - y0];
    // Two places less than a pixel apart are a sharp line.
    const square = max(1, dx * dx + dy * dy);
    let i = 0;
    for (let y = area.y0; y < area.y1; y++)
      for (let x = area.x0; x < area.x1; x++)
        out[i++] = min(1, max(0, 1 - ((x + 0.5 - x0) * dx + (y + 0.5 - y0) * dy) / square));
  },
  outline(v, frame) {
    const [from, to] = [toPixels(frame, v.x, v.y), toPixels(frame, v.toX, v.toY)];
    const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
    const away = (2 * frame.width) / max(1, hypot(dx, dy));
    const across = ([x, y]: typeof from): (typeof from)[] => [
      [x - dy * away, y + dx * away],
      [x + dy * away, y - dx * away],
    ];
    return [across(from), across(to), [from, to]];
  },
  handles: (v, frame) => [
    { key: 'from', label: 'All from here', at: toPixels(frame, v.x, v.y) },
    { key: 'to', label: 'Nothing from here', at: toPixels(frame, v.toX, v.toY) },
  ],
  drag(_v, frame, handle, to) {
    const [x, y] = toShares(frame, to);
    return handle === 'from' ? { x, y } : { toX: x, toY: y };
  },
});
