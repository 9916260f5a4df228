import type { RgbPlanes } from '@zesty-crow/core';
import type { Probe } from '../messages.ts';
import { idsHere } from './members.ts';
import type { Question } from './question.ts';

/** Everything at one pixel; a layer is waited for, if it is still coming. */
export const probe: Question<{ x: number; y: number; layer?: string | undefined }, Probe | undefined> = {
  none: undefined,
  answer({ open, view }, { x, y }) {
    const { width, height } = open.planes;
    if (x < 0 || y < 0 || x >= width || y >= height) return undefined;
    const p = y * width + x;
    const at = ({ r, g, b }: RgbPlanes): [number, number, number] => [r[p]!, g[p]!, b[p]!];
    return {
      x,
      y,
      before: at(open.planes),
      after: at(open.stack.result),
      layers: open.cast.map((layer) => ({ layer: layer.name, ids: idsHere(open, layer, x, y) })),
      mask: open.stack.mask(view().openChange)?.at(x, y) ?? 0,
    };
  },
};
