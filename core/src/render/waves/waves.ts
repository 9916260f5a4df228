import { Field, FILTER_STEPS, Lane, LAYERS, Chain, WAVE } from '../../../kernels/rays/layout.ts';
import { rayKernel, type RayKernel } from '../../kernels/rays.ts';
import { LIGHT_PARTS, type Gather } from '../gather.ts';
import { sourcesOf } from '../light-sources.ts';
import { filterRadius, filterTable } from '../pixel-filter.ts';
import type { RenderSettings } from '../settings.ts';
import type { Prepared } from './prepared.ts';
import { laneOf } from './scene-memory.ts';

/** Pairs of sample dimensions: three for the camera, ambient occlusion, then a block for each surface. */
const PAIR = { occlusion: 3, first: 4, block: 8 } as const;
const IN_BLOCK = { kind: 0, lobe: 1, sun: 3, lamp: 4, around: 6, roulette: 7 } as const;

/** What all samples of a pixel are sure to see besides a part, as the kernel tells it. */
export const SURE = { nothing: -1, unsure: -2 } as const;

/** What a wave of paths is asked for. */
export type WaveSettings = Pick<
  RenderSettings,
  'width' | 'height' | 'filter' | 'seed' | 'bounces' | 'light' | 'gather'
> & {
  /** True if the light is to be kept apart by its ways. */
  apart: boolean;
};

/** Follows waves of light paths through a scene, in one lane of its memory. */
export class Waves {
  readonly kernel: RayKernel;
  /** Rays followed so far, those towards light included. */
  rays = 0;
  /** Milliseconds that ambient occlusion took so far; whoever asks sets it back. */
  timed = 0;
  /** Numbers that a row of results has: r, g, b of all light or of each of its ways, then of each source. */
  readonly rowLength: number;
  readonly rows: Float32Array;
  /** Ways of the light in a row: one if they are not kept apart. */
  readonly ways: number;
  /** For each path its results: first part seen (-1 for none), whether that only catches, and direct light. */
  readonly seen: Int32Array;
  readonly catching: Int32Array;
  readonly unshadowed: Float32Array;
  readonly lit: Float32Array;
  /** 1 if nothing is near the first surface in a random direction, otherwise 0. */
  readonly open: Float32Array;
  readonly time: Float32Array;
  /** Data of the first surface: depth along the axis, and by axis point, normal, base colour, motion in the span. */
  readonly first: Record<'point' | 'normal' | 'base' | 'moved', Float32Array[]> & { depth: Float32Array };
  /** For each path and layer the part that was seen (-1 for none), and its weight. */
  readonly sightParts: Int32Array;
  readonly sightWeights: Float32Array;
  /** All arrays of the wave, one after the other by their fields. */
  readonly numbers: Float32Array;
  readonly ints: Int32Array;
  private readonly lane: number;
  private readonly fields: number;
  private readonly suns: number;
  private readonly lights: boolean;
  private readonly sky: boolean;
  private readonly sources: number;
  private readonly pieces: ReturnType<typeof laneOf>;

  constructor(
    private readonly prepared: Prepared,
    private readonly settings: WaveSettings,
    number = 0,
  ) {
    const { memory } = prepared.memory;
    this.kernel = rayKernel(memory);
    const sources = settings.gather.lamps && settings.light ? sourcesOf(prepared.scene).length : 0;
    const ways = settings.apart ? LIGHT_PARTS.length : 1;
    this.rowLength = 3 * (ways + sources);
    const pieces = laneOf(2 + prepared.scene.suns.length + prepared.scene.lamps.length, LAYERS);
    const lane = prepared.memory.lanes + number * prepared.memory.laneBytes;
    this.lane = lane;
    this.fields = lane + pieces.fields;
    this.rows = new Float32Array(memory.buffer, lane + pieces.rows, WAVE * this.rowLength);
    const layers = settings.gather.through.length;
    this.sightParts = new Int32Array(memory.buffer, lane + pieces.sights, 2 * WAVE * layers);
    this.sightWeights = new Float32Array(memory.buffer, lane + pieces.sights, 2 * WAVE * layers);
    this.numbers = new Float32Array(memory.buffer, this.fields, WAVE * Field.count);
    this.ints = new Int32Array(memory.buffer, this.fields, WAVE * Field.count);
    this.suns = prepared.scene.suns.length;
    this.lights = prepared.memory.lights;
    this.sky = prepared.memory.around;
    this.ways = ways;
    this.seen = this.intField(Field.seen);
    this.catching = this.intField(Field.catches);
    this.unshadowed = this.field(Field.unshadowed);
    this.lit = this.field(Field.lit);
    this.open = this.field(Field.open);
    this.time = this.field(Field.time);
    const axes = (first: Field) => [0, 1, 2].map((axis) => this.field(first + axis));
    this.first = {
      depth: this.field(Field.firstDepth),
      point: axes(Field.firstX),
      normal: axes(Field.firstNormalX),
      base: axes(Field.firstRed),
      moved: axes(Field.movedX),
    };
    this.sources = sources;
    this.pieces = pieces;
  }

  private field(field: Field): Float32Array {
    return this.numbers.subarray(WAVE * field, WAVE * (field + 1));
  }
  private intField(field: Field): Int32Array {
    return this.ints.subarray(WAVE * field, WAVE * (field + 1));
  }

  /** Takes the lane: writes what is to be rendered. Must be called before samples are added, as others use lanes, too. */
  begin(): void {
    const { settings, lane, pieces } = this;
    const { memory, scene } = this.prepared.memory;
    const ints = new Int32Array(memory.buffer, lane, Lane.count);
    const numbers = new Float32Array(memory.buffer, lane, Lane.count);
    const doubles = new Float64Array(memory.buffer, lane, Lane.count >> 1);
    const { gather } = settings;
    const { camera } = this.prepared.scene;
    const tall = camera.yfov > 0 ? Math.tan(camera.yfov / 2) : camera.yHalf;
    ints[Lane.width] = settings.width;
    ints[Lane.height] = settings.height;
    doubles[Lane.tall / 2] = tall;
    doubles[Lane.wide / 2] = (tall * settings.width) / settings.height;
    ints[Lane.seed] = settings.seed;
    ints[Lane.bounces] = settings.bounces;
    ints[Lane.light] = Number(settings.light);
    ints[Lane.parts] = Number(this.ways > 1);
    ints[Lane.sources] = this.sources;
    ints[Lane.surface] = Number(gather.surface);
    ints[Lane.shadow] = Number(gather.shadow);
    numbers[Lane.occlusion] = gather.occlusion;
    this.setLayers(gather, ints, numbers);
    numbers[Lane.filterRadius] = filterRadius(settings.filter);
    ints[Lane.filter] = lane + pieces.filter;
    new Float32Array(memory.buffer, lane + pieces.filter, FILTER_STEPS + 2).set(filterTable(settings.filter));
    ints[Lane.rowBytes] = 4 * this.rowLength;
    ints[Lane.rows] = lane + pieces.rows;
    ints[Lane.sights] = lane + pieces.sights;
    ints[Lane.stack] = lane + pieces.stack;
    ints[Lane.reach] = lane + pieces.reach;
    this.kernel.begin(scene, lane, this.fields);
    this.kernel.forgetReach();
  }

  private setLayers({ through }: Gather, ints: Int32Array, numbers: Float32Array): void {
    ints[Lane.layers] = through.length;
    ints[Lane.deepest] = through.reduce((d, t) => Math.max(d, t.depth), 0);
    through.forEach((layer, i) => {
      ints[Lane.layerTable + 3 * i] = Chain[layer.way];
      ints[Lane.layerTable + 3 * i + 1] = layer.depth;
      numbers[Lane.layerTable + 3 * i + 2] = layer.roughness;
    });
  }

  /** Follows the first `count` samples that were added, to their ends. */
  follow(count: number): void {
    const { kernel: k, settings } = this;
    const { gather, light } = settings;
    k.aim(count);
    let left = count;
    for (let depth = 0; left > 0; depth++) {
      const pair = PAIR.first + PAIR.block * depth;
      this.rays += left;
      k.meet(left, depth);
      left = k.arrive(left, depth);
      if (left === 0) return;
      k.surfaces(left);
      if (depth === 0) this.firstSurfaces(gather, left);
      left = k.shine(left, depth);
      k.choose(left, pair + IN_BLOCK.kind);
      if (light) this.direct(left, depth, pair);
      k.draw(pair + IN_BLOCK.lobe, left, Field.randomX, Field.randomY);
      k.draw(pair + IN_BLOCK.lobe + 1, left, Field.secondX, Field.secondY);
      left = k.goOn(left, depth, pair + IN_BLOCK.roulette);
    }
  }

  private firstSurfaces(gather: Gather, count: number): void {
    const { kernel: k } = this;
    if (gather.surface) k.noteFirst(count);
    if (!(gather.occlusion > 0)) return;
    const started = performance.now();
    k.draw(PAIR.occlusion, count, Field.randomX, Field.randomY);
    k.occlude(count);
    this.rays += count;
    this.timed += performance.now() - started;
  }

  /** Light from its sources: every sun, one lamp or shining surface, one way around. */
  private direct(count: number, depth: number, pair: number): void {
    const { kernel: k } = this;
    const arrive = (rays: number) => {
      this.rays += rays;
      k.passShadows(rays);
      k.receive(rays, depth);
    };
    if (this.suns > 0) k.draw(pair + IN_BLOCK.sun, count, Field.randomX, Field.randomY);
    for (let i = 0; i < this.suns; i++) arrive(k.towardsSun(count, i));
    if (this.lights) {
      k.draw(pair + IN_BLOCK.lamp, count, Field.randomX, Field.randomY);
      k.draw(pair + IN_BLOCK.lamp + 1, count, Field.secondX, Field.secondY);
      arrive(k.towardsLights(count));
    }
    if (!this.sky) return;
    k.draw(pair + IN_BLOCK.around, count, Field.randomX, Field.randomY);
    arrive(k.towardsSky(count));
  }
}
