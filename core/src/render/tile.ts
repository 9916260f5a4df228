import type { Area } from '../planes/area.ts';
import { addSighting, noSightings, sightingBuffers, type Sightings } from './coverage.ts';
import { CameraRays } from './plain/camera-rays.ts';
import { CameraReach, SURE } from './camera-reach.ts';
import { LIGHT, LIGHT_PARTS, SURFACE, type Gather } from './gather.ts';
import { PathTracer } from './plain/path.ts';
import type { Prepared } from './prepared.ts';
import { Sampler } from './plain/sampler.ts';
import type { RenderSettings } from './settings.ts';
import { RAY } from './plain/tracer.ts';

/**
 * What has been gathered of one rectangle: plain sums over its samples, row-major, so that a later round can go on
 * with it in any thread. Arrays of what is not gathered are empty.
 */
export interface TileSums {
  area: Area;
  /** Samples taken of each pixel. */
  samples: Uint32Array;
  /** Pixels that need no more samples. */
  finished: Uint8Array;
  /** Samples that saw something. */
  seen: Uint32Array;
  /** r, g, b, or one triple for each part of the light. */
  light: Float64Array;
  /** r, g, b for each source of the light, see `sourcesOf`. */
  lamps: Float64Array;
  /** Luminance and its square, for judging noise. */
  spread: Float64Array;
  surface: Float64Array;
  /** Unshadowed and lit direct light. */
  shadow: Float64Array;
  occlusion: Float64Array;
  /** Samples on a catcher, its unshadowed and lit light, and what it reflects. */
  catcher: Float64Array;
  ids: Sightings;
  through: Sightings[];
  rays: number;
  /** Largest change of any coverage in the last round. */
  change: number;
  /** Milliseconds of work, and the part of them that ambient occlusion took. */
  spent: number;
  spentOcclusion: number;
}

export const CATCHER = { samples: 0, unshadowed: 1, lit: 2, reflection: 3, count: 6 } as const;

/** Buffers of a rectangle to hand over to another thread. */
export const tileBuffers = (t: TileSums): ArrayBuffer[] =>
  [
    t.samples.buffer,
    t.finished.buffer,
    t.seen.buffer,
    t.light.buffer,
    t.lamps.buffer,
    t.spread.buffer,
    t.surface.buffer,
    t.shadow.buffer,
    t.occlusion.buffer,
    t.catcher.buffer,
    ...sightingBuffers(t.ids),
    ...t.through.flatMap(sightingBuffers),
  ] as ArrayBuffer[];

/** Blocks whose noise is judged together; they divide a rectangle evenly. */
const BLOCK = 8;
/** Samples before noise is judged at all. */
const LEAST = 16;
/** Of so many pixels one is timed. */
const TIMED = 61;

/** Renders rectangles of a scene, each on its own: the result does not depend on how the picture is cut up. */
export class TileRenderer {
  private readonly path: PathTracer;
  private readonly look: PathTracer | undefined;
  private readonly sampler: Sampler;
  private readonly rays: CameraRays;
  private readonly reach: CameraReach;
  /** True if nothing is asked of a sample but which part it sees first. */
  private readonly onlyIds: boolean;
  private readonly catches: boolean;
  private readonly patch: Uint8Array | undefined;

  constructor(
    private readonly prepared: Prepared,
    private readonly settings: RenderSettings,
  ) {
    const { scene } = prepared;
    const { gather } = settings;
    this.path = new PathTracer(prepared, settings.bounces, settings.light, gather);
    if (settings.patch) {
      this.patch = new Uint8Array(scene.parts.length);
      for (const part of settings.patch) this.patch[part] = 1;
      const bare: Gather = { ...gather, surface: false, occlusion: 0, through: [] };
      this.look = new PathTracer(prepared, 0, false, bare);
    }
    this.sampler = new Sampler(settings.seed);
    this.rays = new CameraRays(scene, settings);
    this.reach = new CameraReach(prepared, this.rays, settings, this.path.tracer.trees);
    this.onlyIds =
      !settings.light &&
      gather.ids &&
      !gather.surface &&
      !gather.occlusion &&
      !gather.through.length &&
      scene.parts.every((p) => p.role !== 'catcher' && p.role !== 'held');
    this.catches = scene.parts.some((p) => p.role === 'catcher');
  }

  begin(area: Area): TileSums {
    const { gather, light, noise } = this.settings;
    const pixels = (area.x1 - area.x0) * (area.y1 - area.y0);
    return {
      area,
      samples: new Uint32Array(pixels),
      finished: new Uint8Array(pixels),
      seen: new Uint32Array(pixels),
      light: new Float64Array(light ? pixels * (gather.lightParts ? 3 * LIGHT_PARTS.length : 3) : 0),
      lamps: new Float64Array(pixels * this.path.sources.length),
      spread: new Float64Array(noise > 0 ? 2 * pixels : 0),
      surface: new Float64Array(gather.surface ? SURFACE.count * pixels : 0),
      shadow: new Float64Array(gather.shadow ? 2 * pixels : 0),
      occlusion: new Float64Array(gather.occlusion > 0 ? pixels : 0),
      catcher: new Float64Array(this.catches ? CATCHER.count * pixels : 0),
      ids: noSightings(gather.ids ? pixels : 0),
      through: gather.through.map(() => noSightings(pixels)),
      rays: 0,
      change: 0,
      spent: 0,
      spentOcclusion: 0,
    };
  }

  /** Takes samples until every pixel that is not finished has `upTo`. */
  extend(tile: TileSums, upTo: number): TileSums {
    const started = performance.now();
    const { path, settings } = this;
    const { area } = tile;
    const wide = area.x1 - area.x0;
    const raysBefore = path.tracer.rays + (this.look?.tracer.rays ?? 0);
    const before = settings.maskStep > 0 ? tile.ids.weight.slice(0, tile.ids.used) : undefined;
    const samplesBefore = before ? tile.samples.slice() : undefined;
    path.timed = 0;
    if (this.patch && tile.samples[0] === 0 && tile.rays === 0) this.findPatch(tile);
    let timedPixels = 0;
    for (let by = area.y0; by < area.y1; by += BLOCK)
      for (let bx = area.x0; bx < area.x1; bx += BLOCK) {
        const block = {
          x0: bx,
          y0: by,
          x1: Math.min(bx + BLOCK, area.x1),
          y1: Math.min(by + BLOCK, area.y1),
        };
        let begun = false;
        for (let y = block.y0; y < block.y1; y++)
          for (let x = block.x0; x < block.x1; x++) {
            const p = (y - area.y0) * wide + x - area.x0;
            if (tile.finished[p]) continue;
            if (!begun) this.reach.enterBlock(block);
            begun = true;
            path.timing = p % TIMED === 0;
            if (path.timing) timedPixels++;
            this.reach.enterPixel(x, y);
            path.tracer.reach = this.reach.trees;
            path.tracer.list = this.reach.list;
            if (this.onlyIds && this.reach.list) this.sampleIds(tile, p, x, y, upTo);
            else for (let i = tile.samples[p]!; i < upTo; i++) this.sample(tile, p, x, y, i);
            tile.samples[p] = upTo;
          }
      }
    if (settings.noise > 0 && upTo >= LEAST) this.finishQuietBlocks(tile);
    if (upTo >= settings.samples) tile.finished.fill(1);
    if (before) tile.change = this.largestChange(tile, before, samplesBefore!);
    tile.rays += path.tracer.rays + (this.look?.tracer.rays ?? 0) - raysBefore;
    tile.spent += performance.now() - started;
    if (timedPixels) tile.spentOcclusion += (path.timed * tile.samples.length) / timedPixels;
    return tile;
  }

  /** Finds only which part each sample sees, for a pixel whose triangles are listed. */
  private sampleIds(tile: TileSums, p: number, x: number, y: number, upTo: number): void {
    const { sampler, rays } = this;
    const { ray } = rays;
    const { tracer } = this.path;
    const { sure } = this.reach;
    const { trianglePart } = this.prepared.scene;
    const count = upTo - tile.samples[p]!;
    if (sure === SURE.nothing || count <= 0) return;
    if (sure !== SURE.unsure) {
      tile.seen[p]! += count;
      addSighting(tile.ids, p, sure, count);
      return;
    }
    for (let i = tile.samples[p]!; i < upTo; i++) {
      sampler.start(x, y, i);
      tracer.time = rays.aim(x, y, sampler);
      if (!tracer.nearest(ray[0]!, ray[1]!, ray[2]!, ray[3]!, ray[4]!, ray[5]!, Infinity, RAY.camera))
        continue;
      tile.seen[p]!++;
      addSighting(tile.ids, p, trianglePart[tracer.triangle]!, 1);
    }
  }

  private sample(tile: TileSums, p: number, x: number, y: number, i: number): void {
    const { path, settings, sampler } = this;
    const { ray } = this.rays;
    const { gather } = settings;
    sampler.start(x, y, i);
    const time = this.rays.aim(x, y, sampler);
    path.trace(ray[0]!, ray[1]!, ray[2]!, ray[3]!, ray[4]!, ray[5]!, time, this.sampler);
    const parts = path.parts;
    if (path.catcher) {
      const at = CATCHER.count * p;
      tile.catcher[at]!++;
      tile.catcher[at + CATCHER.unshadowed]! += path.unshadowed;
      tile.catcher[at + CATCHER.lit]! += path.lit;
      for (let k = 0; k < 3; k++)
        tile.catcher[at + CATCHER.reflection + k]! +=
          parts[3 * LIGHT.reflection + k]! + parts[3 * LIGHT.specularIndirect + k]!;
      return;
    }
    if (settings.light) {
      if (gather.lightParts) {
        const at = parts.length * p;
        for (let k = 0; k < parts.length; k++) tile.light[at + k]! += parts[k]!;
      } else
        for (let k = 0; k < parts.length; k += 3) {
          tile.light[3 * p]! += parts[k]!;
          tile.light[3 * p + 1]! += parts[k + 1]!;
          tile.light[3 * p + 2]! += parts[k + 2]!;
        }
      const { sources } = path;
      for (let k = 0, at = sources.length * p; k < sources.length; k++) tile.lamps[at + k]! += sources[k]!;
      if (settings.noise > 0) {
        let l = 0;
        for (let k = 0; k < parts.length; k += 3)
          l += 0.2126 * parts[k]! + 0.7152 * parts[k + 1]! + 0.0722 * parts[k + 2]!;
        tile.spread[2 * p]! += l;
        tile.spread[2 * p + 1]! += l * l;
      }
    }
    if (path.part < 0) return;
    tile.seen[p]!++;
    if (gather.ids) addSighting(tile.ids, p, path.part, 1);
    for (let k = 0; k < path.sightings; k++)
      addSighting(tile.through[path.sightingLayer[k]!]!, p, path.sightingPart[k]!, path.sightingWeight[k]!);
    if (gather.surface) this.addSurface(tile.surface, SURFACE.count * p, time);
    if (gather.shadow) {
      tile.shadow[2 * p]! += path.unshadowed;
      tile.shadow[2 * p + 1]! += path.lit;
    }
    if (gather.occlusion > 0) tile.occlusion[p]! += path.open;
  }

  private addSurface(sums: Float64Array, at: number, time: number): void {
    const { path, rays } = this;
    const { ray } = rays;
    const { camera, span } = this.prepared.scene;
    const m = camera.matrix;
    sums[at + SURFACE.depth]! += -path.distance * (ray[3]! * m[8]! + ray[4]! * m[9]! + ray[5]! * m[10]!);
    for (let k = 0; k < 3; k++) {
      sums[at + SURFACE.normal + k]! += path.normal[k]!;
      sums[at + SURFACE.position + k]! += path.point[k]!;
      sums[at + SURFACE.base + k]! += path.base[k]!;
    }
    // Where the point is when the span begins and when it ends, as each camera sees it; per frame.
    const [p, v] = [path.point, path.moved];
    const x0 = p[0]! - time * v[0]!;
    const y0 = p[1]! - time * v[1]!;
    const z0 = p[2]! - time * v[2]!;
    rays.project(m, x0, y0, z0);
    const { screenX, screenY } = rays;
    rays.project(camera.matrixEnd, x0 + v[0]!, y0 + v[1]!, z0 + v[2]!);
    sums[at + SURFACE.motion]! += (rays.screenX - screenX) / span;
    sums[at + SURFACE.motion + 1]! += (rays.screenY - screenY) / span;
  }
  /** Marks the pixels in which none of the wanted parts is seen as finished. */
  private findPatch(tile: TileSums): void {
    const { sampler } = this;
    const { ray } = this.rays;
    const { area } = tile;
    const wide = area.x1 - area.x0;
    for (let p = 0; p < tile.samples.length; p++) {
      const x = area.x0 + (p % wide);
      const y = area.y0 + Math.floor(p / wide);
      let touched = false;
      for (let i = 0; i < this.settings.samples && !touched; i++) {
        sampler.start(x, y, i);
        const time = this.rays.aim(x, y, sampler);
        this.look!.trace(ray[0]!, ray[1]!, ray[2]!, ray[3]!, ray[4]!, ray[5]!, time, this.sampler);
        touched = this.look!.part >= 0 && this.patch![this.look!.part] === 1;
      }
      if (!touched) tile.finished[p] = 1;
    }
  }

  /** Finishes blocks whose relative standard error, averaged over their pixels, is below the wanted noise. */
  private finishQuietBlocks(tile: TileSums): void {
    const { area, spread, samples, finished } = tile;
    const wide = area.x1 - area.x0;
    const high = area.y1 - area.y0;
    for (let by = 0; by < high; by += BLOCK)
      for (let bx = 0; bx < wide; bx += BLOCK) {
        let error = 0;
        let count = 0;
        for (let y = by; y < Math.min(high, by + BLOCK); y++)
          for (let x = bx; x < Math.min(wide, bx + BLOCK); x++) {
            const p = y * wide + x;
            const n = samples[p]!;
            if (n === 0) continue;
            const mean = spread[2 * p]! / n;
            const variance = Math.max(0, spread[2 * p + 1]! / n - mean * mean);
            // Dark pixels are judged against the deepest grey that a screen tells from black.
            error += Math.sqrt(variance / n) / Math.max(mean, 0.03);
            count++;
          }
        if (count === 0 || error / count > this.settings.noise) continue;
        for (let y = by; y < Math.min(high, by + BLOCK); y++)
          finished.fill(1, y * wide + bx, y * wide + Math.min(wide, bx + BLOCK));
      }
  }

  private largestChange(tile: TileSums, before: Float64Array, samplesBefore: Uint32Array): number {
    const { ids, samples } = tile;
    let largest = 0;
    for (let p = 0; p < samples.length; p++) {
      if (samples[p] === samplesBefore[p]) continue;
      for (let e = ids.head[p]!; e >= 0; e = ids.next[e]!) {
        const was = e < before.length ? before[e]! / Math.max(1, samplesBefore[p]!) : 0;
        largest = Math.max(largest, Math.abs(ids.weight[e]! / samples[p]! - was));
      }
    }
    return largest;
  }
}
