import { idsHere, type NamedId } from './members.ts';
import { ofLayer } from './question.ts';

/** Members with the largest coverage on the pixels along a line. */
export const membersAlong = ofLayer<
  { layer: string; x0: number; y0: number; x1: number; y1: number },
  NamedId[]
>({
  none: [],
  answerFrom(layer, { open }, { x0, y0, x1, y1 }) {
    const { width, height } = open.planes;
    const steps = Math.max(1, Math.ceil(Math.hypot(x1 - x0, y1 - y0)));
    const found = new Map<number, string>();
    for (let i = 0; i <= steps; i++) {
      const x = Math.floor(x0 + ((x1 - x0) * i) / steps);
      const y = Math.floor(y0 + ((y1 - y0) * i) / steps);
      if (x < 0 || y < 0 || x >= width || y >= height) continue;
      const top = idsHere(open, layer, x, y)[0];
      if (top) found.set(top.id, top.name);
    }
    return [...found].map(([id, name]) => ({ id, name }));
  },
});
