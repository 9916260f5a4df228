import { parentPort, workerData } from 'node:worker_threads';
import { tileBuffers, TileRenderer } from '../src/render/tile.ts';
import type { TileOrder, WorkerSetup } from './render-pool.ts';

const { prepared, settings } = workerData as WorkerSetup;
const renderer = new TileRenderer(prepared, settings);

parentPort!.on('message', ({ number, area, sums, upTo }: TileOrder) => {
  const tile = renderer.extend(sums ?? renderer.begin(area), upTo);
  parentPort!.postMessage({ number, tile }, tileBuffers(tile));
});
