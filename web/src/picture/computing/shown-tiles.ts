import { halvingsAt } from '@zesty-crow/core';
import type { ShownTile, Surface } from '../messages.ts';
import { SURFACES } from '../open-frame.ts';
import { TILES } from '../surfaces/list.ts';
import type { Shown } from '../surfaces/surface.ts';
import { tileOrder } from './tile-order.ts';

/** Work between two looks at the messages, in milliseconds. */
const SLICE = 10;

/** Surfaces that are looked at and have tiles to be sent. */
export const dueSurfaces = ({ open, view }: Pick<Shown, 'open' | 'view'>): Surface[] =>
  SURFACES.filter((s) => (s === 'view' || view.wanted[s]) && open.shown[s].any);

/** Makes and sends tiles that are due, for one slice of time. */
export function sendDue(
  shown: Shown,
  due: readonly Surface[],
  send: (surface: Surface, tiles: ShownTile[]) => void,
): void {
  const { open, view } = shown;
  const halvings = halvingsAt(view.scale);
  const until = performance.now() + SLICE;
  for (const surface of due) {
    const tiles = open.shown[surface];
    const out: ShownTile[] = [];
    for (const t of tileOrder(tiles.due, open.stack.tilesX, view.visible)) {
      if (performance.now() > until) break;
      const data = TILES[surface](shown, t, halvings);
      out.push({ tile: t, halvings, known: tiles.send(t), data: new Uint8ClampedArray(data.buffer) });
    }
    if (out.length) send(surface, out);
  }
}
