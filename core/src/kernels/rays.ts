import { BYTES } from './generated/rays.ts';
import { loadKernel } from './load.ts';

/**
 * The path tracer's stages, see core/kernels/rays/. Numbers of paths go in, and where some may end, the number of those
 * that go on comes out; `depth` counts surfaces from the camera, `pair` is a pair of sample dimensions.
 */
export interface RayKernel {
  /** First address that is free for the caller. */
  heap(): number;
  /** Bytes of a thread's arrays, and of what it keeps of the camera's reach. */
  fieldBytes(): number;
  reachBytes(): number;
  begin(scene: number, lane: number, fields: number): void;
  forgetReach(): void;
  /** Part that all samples of a pixel see, -1 for nothing, -2 if that is not known. */
  surely(x: number, y: number): number;
  addSamples(place: number, x: number, y: number, from: number, to: number): void;
  aim(count: number): void;
  draw(pair: number, count: number, toX: number, toY: number): void;
  meet(count: number, depth: number): void;
  arrive(count: number, depth: number): number;
  surfaces(count: number): void;
  noteFirst(count: number): void;
  occlude(count: number): void;
  shine(count: number, depth: number): number;
  choose(count: number, pair: number): void;
  towardsSun(count: number, sun: number): number;
  towardsLights(count: number): number;
  towardsSky(count: number): number;
  passShadows(rays: number): void;
  receive(rays: number, depth: number): void;
  goOn(count: number, depth: number, roulette: number): number;
}

/** A thread's own kernel on memory that it may share with others. */
export const rayKernel = (memory: WebAssembly.Memory): RayKernel => loadKernel<RayKernel>(BYTES, memory);

/** What the kernel says about itself, which does not depend on the memory. */
export function rayKernelNeeds(): { heap: number; fieldBytes: number; reachBytes: number } {
  const k = rayKernel(new WebAssembly.Memory({ initial: 1, maximum: 1, shared: true }));
  return { heap: k.heap(), fieldBytes: k.fieldBytes(), reachBytes: k.reachBytes() };
}
