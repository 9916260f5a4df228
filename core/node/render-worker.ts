import { parentPort } from 'node:worker_threads';
import { tileBuffers, TileRenderer } from '../src/render/tile.ts';
import type { ThreadOrder } from './render-threads.ts';

let renderer: TileRenderer | undefined;

parentPort!.on('message', (order: ThreadOrder) => {
  if ('rest' in order) renderer = undefined;
  else if ('prepared' in order) renderer = new TileRenderer(order.prepared, order.settings, order.lane);
  else {
    const tile = renderer!.extend(order.sums ?? renderer!.begin(order.area), order.upTo, order.grid);
    parentPort!.postMessage({ number: order.number, tile }, tileBuffers(tile));
  }
});
