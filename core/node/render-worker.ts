import { parentPort } from 'node:worker_threads';
import { TileRenderer } from '../src/render/tile.ts';
import { tileBuffers, type TileSums } from '../src/render/tile-sums.ts';
import type { ThreadOrder, TileDone } from './render-threads.ts';

const samplesOf = ({ samples }: TileSums) => samples.reduce((a, b) => a + b, 0);

let renderer: TileRenderer | undefined;

parentPort!.on('message', (order: ThreadOrder) => {
  if ('rest' in order) renderer = undefined;
  else if ('prepared' in order) renderer = new TileRenderer(order.prepared, order.settings, order.lane);
  else {
    const { sums, area, ...turn } = order;
    const before = sums ? samplesOf(sums) : 0;
    const tile = renderer!.extend(sums ?? renderer!.begin(area), turn.upTo, turn.grid);
    const done: TileDone = { turn, tile, taken: samplesOf(tile) - before };
    parentPort!.postMessage(done, tileBuffers(tile));
  }
});
