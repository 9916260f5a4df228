/**
 * An earlier state of the renderer, from a checkout of it in another folder (`git worktree add FOLDER COMMIT`, with
 * `node_modules` linked and `npm run kernels` run there): so that both feel the same machine.
 */
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { RenderSettings, Scene, TileSums } from '../src/index.ts';
import type { FollowRays, RaySets } from './rays.ts';

interface Earlier {
  readGlb(bytes: Uint8Array): Promise<Scene>;
  prepare(scene: Scene): unknown;
  TileRenderer: new (
    prepared: unknown,
    settings: RenderSettings,
  ) => {
    begin(area: TileSums['area']): TileSums;
    extend(tile: TileSums, upTo: number): TileSums;
  };
}

const load = async (folder: string, file: string): Promise<unknown> =>
  import(pathToFileURL(join(folder, 'core/src', file)).href);

export const earlierRenderer = async (folder: string): Promise<Earlier> =>
  (await load(folder, 'index.ts')) as Earlier;

/** Tracers as they were before rays went in waves: one ray at a time, the camera's through lists of a pixel. */
interface OldTracer {
  time: number;
  reach: unknown;
  list: unknown;
  nearest(
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    limit: number,
    kind: number,
  ): boolean;
  transmittance(
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    limit: number,
  ): boolean;
}
interface OldReach {
  trees: unknown;
  list: unknown;
  enterBlock(block: TileSums['area']): void;
  enterPixel(x: number, y: number): void;
}
interface OldSampler {
  start(x: number, y: number, sample: number): void;
}
interface OldRays {
  ray: Float64Array;
  aim(x: number, y: number, sampler: OldSampler): number;
}

/** Rays through an earlier renderer; undefined if it is not one of those that this knows. */
export async function followEarlier(
  folder: string,
  scene: Scene,
  settings: RenderSettings,
): Promise<FollowRays | undefined> {
  if (!existsSync(join(folder, 'core/src/render/tracer.ts'))) return undefined;
  const { prepare } = await earlierRenderer(folder);
  const of = async (name: string) => (await load(folder, `render/${name}.ts`)) as Record<string, unknown>;
  const prepared = prepare(scene);
  const trees = ((await of('prepared'))['treesOf'] as (p: unknown) => unknown)(prepared);
  const make = <T>(Kind: unknown, ...given: unknown[]) => new (Kind as new (...g: unknown[]) => T)(...given);
  const tracer = make<OldTracer>((await of('tracer'))['Tracer'], trees);
  const camera = make<OldRays>((await of('camera-rays'))['CameraRays'], scene, settings);
  const reach = make<OldReach>((await of('camera-reach'))['CameraReach'], prepared, camera, settings, trees);
  const sampler = make<OldSampler>((await of('sampler'))['Sampler'], 0);
  const throughCamera = ({ blocks }: RaySets): number => {
    let counted = 0;
    for (const [x0, y0] of blocks) {
      reach.enterBlock({ x0, y0, x1: x0 + 8, y1: y0 + 8 });
      for (let p = 0; p < 64; p++) {
        const [x, y] = [x0 + (p % 8), y0 + (p >> 3)];
        reach.enterPixel(x, y);
        tracer.reach = reach.trees;
        tracer.list = reach.list;
        for (let i = 0; i < 32; i++) {
          sampler.start(x, y, i);
          tracer.time = camera.aim(x, y, sampler);
          const r = camera.ray;
          if (tracer.nearest(r[0]!, r[1]!, r[2]!, r[3]!, r[4]!, r[5]!, Infinity, 1)) counted++;
        }
      }
    }
    tracer.reach = tracer.list = undefined;
    return counted;
  };
  return (kind, sets) => {
    const started = performance.now();
    let counted = 0;
    if (kind === 'camera') counted = throughCamera(sets);
    else
      for (const r of sets[kind]) {
        tracer.time = r[6] ?? 0;
        const met =
          kind === 'shadows'
            ? tracer.transmittance(r[0], r[1], r[2], r[3], r[4], r[5], Infinity)
            : tracer.nearest(r[0], r[1], r[2], r[3], r[4], r[5], Infinity, 16);
        if (met) counted++;
      }
    return { ms: performance.now() - started, counted };
  };
}
