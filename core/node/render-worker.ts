import { parentPort, workerData } from 'node:worker_threads';
import type { Area } from '../src/display/index.ts';
import { TileRenderer } from '../src/render/tile.ts';
import type { WorkerSetup } from './render-pool.ts';

const { scene, bvh, settings } = workerData as WorkerSetup;
const renderer = new TileRenderer(scene, bvh, settings);

parentPort!.on('message', (area: Area) => {
  const tile = renderer.render(area);
  const buffers = [tile.colour, tile.objectIds, tile.objectCoverage, tile.materialIds, tile.materialCoverage]
    .flat()
    .map((plane) => plane.buffer as ArrayBuffer);
  parentPort!.postMessage(tile, buffers);
});
