/**
 * A process of its own that renders a scene on one thread: takes the scene once, says that it is ready, and then tells
 * the milliseconds of each render that it is asked for.
 */
import { DEFAULT_SETTINGS, readGlb, type Scene } from '../src/index.ts';
import { renderScene } from '../node/render-pool.ts';

/** What the process is sent, one after the other. */
export type RenderOrder = { glb: Uint8Array } | { width: number; height: number; samples: number };

let scene: Scene | undefined;

process.on('message', (order: RenderOrder) => {
  void (async () => {
    if ('glb' in order) {
      // What arrives may begin anywhere; numbers in it are read in place.
      scene = await readGlb(order.glb.slice());
      process.send!('ready');
      return;
    }
    const started = performance.now();
    await renderScene(scene!, { ...DEFAULT_SETTINGS, ...order }, { threads: 1 });
    process.send!(performance.now() - started);
  })();
});
