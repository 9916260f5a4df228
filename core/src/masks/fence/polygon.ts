import { coverDrawn, dragDrawn, drawnHandles, pixelsOf, SQUARE, type Drawn } from './closed-line.ts';
import { defineFence } from './fence-kind.ts';
import { SOFT } from './settings.ts';

/** A closed line of straight pieces. */
export const polygon = defineFence<{ [k in keyof Drawn]: Drawn[k] }>({
  kind: 'polygon',
  label: 'Polygon',
  hint: 'A limit of straight lines from point to point.',
  fields: [{ kind: 'points', key: 'points', label: 'Points', most: 200, neutral: SQUARE }, SOFT],
  rasterise: (v, frame, area, out) => coverDrawn(frame, pixelsOf(frame, v.points), v, area, out),
  outline: (v, frame) => {
    const line = pixelsOf(frame, v.points);
    return line.length ? [[...line, line[0]!]] : [];
  },
  handles: (v, frame) => drawnHandles(frame, v),
  drag: (v, frame, handle, to) => dragDrawn(frame, v, handle, to),
});
