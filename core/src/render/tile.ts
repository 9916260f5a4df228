import { WAVE } from '../../kernels/rays/layout.ts';
import type { Area } from '../planes/area.ts';
import { addSighting, noSightings } from './coverage.ts';
import { CATCHER, type TileSums } from './tile-sums.ts';
import { GATHER_IDS, LIGHT, LIGHT_PARTS, SURFACE } from './gather.ts';
import { sourcesOf } from './light-sources.ts';
import { Projection } from './projection.ts';
import { BLOCK, compareHalves, noNoise } from './noise.ts';
import { onGrid, type Grid } from './rounds.ts';
import type { RenderSettings } from './settings.ts';
import type { Prepared } from './waves/prepared.ts';
import { SURE, Waves } from './waves/waves.ts';

/** Pixels of a block, two by two: what the kernel finds within a quad's reach serves all four. */
const QUADS = Array.from({ length: BLOCK * BLOCK }, (_, i) => {
  const [quad, of] = [i >> 2, i & 3];
  return BLOCK * (2 * Math.floor((2 * quad) / BLOCK) + (of >> 1)) + ((2 * quad) % BLOCK) + (of & 1);
});

/** Renders rectangles of a scene, each on its own: the result does not depend on how the picture is cut up. */
export class TileRenderer {
  private readonly waves: Waves;
  private readonly look: Waves | undefined;
  private readonly projection: Projection;
  /** True if nothing is asked of a sample but which part it sees first. */
  private readonly onlyIds: boolean;
  private readonly catches: boolean;
  private readonly patch: Uint8Array | undefined;
  /** Pixels of the wave that is being filled, and how many of its paths are each one's. */
  private readonly pixels = new Int32Array(WAVE);
  private readonly counts = new Int32Array(WAVE);
  private pixelCount = 0;
  private pathCount = 0;

  /** @param lane which of the prepared lanes is worked in; no two threads may share one */
  constructor(
    private readonly prepared: Prepared,
    private readonly settings: RenderSettings,
    lane = 0,
  ) {
    const { parts } = prepared.scene;
    const { gather } = settings;
    this.catches = parts.some((p) => p.role === 'catcher');
    const apart = settings.light && (gather.lightParts || this.catches);
    this.waves = new Waves(prepared, { ...settings, apart }, lane);
    if (settings.patch) {
      this.patch = new Uint8Array(parts.length);
      for (const part of settings.patch) this.patch[part] = 1;
      this.look = new Waves(prepared, { ...settings, light: false, gather: GATHER_IDS, apart: false }, lane);
    }
    this.projection = new Projection(prepared.scene.camera, settings);
    this.onlyIds =
      !settings.light &&
      gather.ids &&
      !gather.surface &&
      !gather.occlusion &&
      !gather.through.length &&
      parts.every((p) => p.role !== 'catcher' && p.role !== 'held');
  }

  begin(area: Area): TileSums {
    const { gather, light } = this.settings;
    const pixels = (area.x1 - area.x0) * (area.y1 - area.y0);
    const sources = gather.lamps && light ? sourcesOf(this.prepared.scene).length : 0;
    return {
      area,
      samples: new Uint32Array(pixels),
      finished: new Uint8Array(pixels),
      seen: new Uint32Array(pixels),
      light: new Float64Array(light ? pixels * (gather.lightParts ? 3 * LIGHT_PARTS.length : 3) : 0),
      lamps: new Float64Array(pixels * 3 * sources),
      half: new Float64Array(0),
      halfAt: 0,
      noise: noNoise({ area }),
      surface: new Float64Array(gather.surface ? SURFACE.count * pixels : 0),
      shadow: new Float64Array(gather.shadow ? 2 * pixels : 0),
      occlusion: new Float64Array(gather.occlusion > 0 ? pixels : 0),
      catcher: new Float64Array(this.catches ? CATCHER.count * pixels : 0),
      ids: noSightings(gather.ids ? pixels : 0),
      through: gather.through.map(() => noSightings(pixels)),
      rays: 0,
      spent: 0,
      spentOcclusion: 0,
    };
  }

  /** Takes samples until every pixel of a grid that is not finished has `upTo`. */
  extend(tile: TileSums, upTo: number, grid: Grid = 1): TileSums {
    const started = performance.now();
    const { waves, settings } = this;
    const { area } = tile;
    const wide = area.x1 - area.x0;
    const raysBefore = waves.rays;
    waves.timed = 0;
    if (this.patch && tile.samples[0] === 0 && tile.rays === 0) this.findPatch(tile);
    waves.begin();
    for (let by = area.y0 - (area.y0 % BLOCK); by < area.y1; by += BLOCK)
      for (let bx = area.x0 - (area.x0 % BLOCK); bx < area.x1; bx += BLOCK)
        for (const k of QUADS) {
          const x = bx + (k % BLOCK);
          const y = by + Math.floor(k / BLOCK);
          if (x < area.x0 || x >= area.x1 || y < area.y0 || y >= area.y1) continue;
          const p = (y - area.y0) * wide + x - area.x0;
          if (!tile.finished[p] && onGrid(grid, x, y)) this.samplePixel(tile, p, x, y, upTo);
        }
    this.flush(tile);
    if (grid === 1) compareHalves(tile, upTo, settings.light);
    if (grid === 1 && upTo >= settings.samples) tile.finished.fill(1);
    tile.rays += waves.rays - raysBefore;
    tile.spent += performance.now() - started;
    tile.spentOcclusion += waves.timed;
    return tile;
  }

  /** Puts the samples of a pixel into the wave, which is followed whenever it is full. */
  private samplePixel(tile: TileSums, p: number, x: number, y: number, upTo: number): void {
    let from = tile.samples[p]!;
    if (from >= upTo) return;
    tile.samples[p] = upTo;
    if (this.onlyIds) {
      const sure = this.waves.kernel.surely(x, y);
      if (sure === SURE.nothing) return;
      if (sure !== SURE.unsure) {
        tile.seen[p]! += upTo - from;
        addSighting(tile.ids, p, sure, upTo - from);
        return;
      }
    }
    while (from < upTo) {
      const count = Math.min(upTo - from, WAVE - this.pathCount);
      this.waves.kernel.addSamples(this.pathCount, x, y, from, from + count);
      this.pixels[this.pixelCount] = p;
      this.counts[this.pixelCount++] = count;
      this.pathCount += count;
      from += count;
      if (this.pathCount === WAVE) this.flush(tile);
    }
  }

  /** Follows the wave as far as it is filled, and adds what it brings to the rectangle. */
  private flush(tile: TileSums): void {
    if (this.pathCount > 0) this.waves.follow(this.pathCount);
    for (let i = 0, path = 0; i < this.pixelCount; i++) {
      const to = path + this.counts[i]!;
      if (this.onlyIds) this.addIds(tile, this.pixels[i]!, path, to);
      else for (; path < to; path++) this.addPath(tile, this.pixels[i]!, path);
      path = to;
    }
    this.pathCount = this.pixelCount = 0;
  }

  /** Adds which part each of a pixel's paths saw, alike ones together. */
  private addIds(tile: TileSums, p: number, from: number, to: number): void {
    const { seen } = this.waves;
    for (let path = from; path < to;) {
      const part = seen[path]!;
      const first = path;
      while (path < to && seen[path] === part) path++;
      if (part < 0) continue;
      tile.seen[p]! += path - first;
      addSighting(tile.ids, p, part, path - first);
    }
  }

  private addPath(tile: TileSums, p: number, path: number): void {
    const { waves, settings } = this;
    const { gather } = settings;
    const { rows, rowLength } = waves;
    const row = rowLength * path;
    const part = waves.seen[path]!;
    if (this.catches && waves.catching[path]) {
      const at = CATCHER.count * p;
      tile.catcher[at]!++;
      tile.catcher[at + CATCHER.unshadowed]! += waves.unshadowed[path]!;
      tile.catcher[at + CATCHER.lit]! += waves.lit[path]!;
      if (settings.light)
        for (let k = 0; k < 3; k++)
          tile.catcher[at + CATCHER.reflection + k]! +=
            rows[row + 3 * LIGHT.reflection + k]! + rows[row + 3 * LIGHT.specularIndirect + k]!;
      return;
    }
    if (settings.light) this.addLight(tile, p, row);
    if (part < 0) return;
    tile.seen[p]!++;
    if (gather.ids) addSighting(tile.ids, p, part, 1);
    const layers = gather.through.length;
    for (let i = 0, at = 2 * layers * path; i < layers; i++, at += 2)
      if (waves.sightParts[at]! >= 0)
        addSighting(tile.through[i]!, p, waves.sightParts[at]!, waves.sightWeights[at + 1]!);
    if (gather.surface) this.addSurface(tile.surface, SURFACE.count * p, path);
    if (gather.shadow) {
      tile.shadow[2 * p]! += waves.unshadowed[path]!;
      tile.shadow[2 * p + 1]! += waves.lit[path]!;
    }
    if (gather.occlusion > 0) tile.occlusion[p]! += waves.open[path]!;
  }

  private addLight(tile: TileSums, p: number, row: number): void {
    const { rows, rowLength, ways } = this.waves;
    const end = row + 3 * ways;
    if (this.settings.gather.lightParts) {
      const at = 3 * ways * p;
      for (let k = 0; k < 3 * ways; k++) tile.light[at + k]! += rows[row + k]!;
    } else {
      let r = 0;
      let g = 0;
      let b = 0;
      for (let k = row; k < end; k += 3) {
        r += rows[k]!;
        g += rows[k + 1]!;
        b += rows[k + 2]!;
      }
      tile.light[3 * p]! += r;
      tile.light[3 * p + 1]! += g;
      tile.light[3 * p + 2]! += b;
    }
    const sources = rowLength - 3 * ways;
    for (let k = 0, at = sources * p; k < sources; k++) tile.lamps[at + k]! += rows[end + k]!;
  }

  private addSurface(sums: Float64Array, at: number, path: number): void {
    const { waves, projection } = this;
    const { camera, span } = this.prepared.scene;
    const time = waves.time[path]!;
    const first = waves.first;
    sums[at + SURFACE.depth]! += first.depth[path]!;
    for (let k = 0; k < 3; k++) {
      sums[at + SURFACE.normal + k]! += first.normal[k]![path]!;
      sums[at + SURFACE.position + k]! += first.point[k]![path]!;
      sums[at + SURFACE.base + k]! += first.base[k]![path]!;
    }
    // Where the point is when the span begins and when it ends, as each camera sees it; per frame.
    const [vx, vy, vz] = [first.moved[0]![path]!, first.moved[1]![path]!, first.moved[2]![path]!];
    const x = first.point[0]![path]! - time * vx;
    const y = first.point[1]![path]! - time * vy;
    const z = first.point[2]![path]! - time * vz;
    projection.project(camera.matrix, x, y, z);
    const { screenX, screenY } = projection;
    projection.project(camera.matrixEnd, x + vx, y + vy, z + vz);
    sums[at + SURFACE.motion]! += (projection.screenX - screenX) / span;
    sums[at + SURFACE.motion + 1]! += (projection.screenY - screenY) / span;
  }

  /** Marks the pixels in which none of the wanted parts is seen as finished. */
  private findPatch(tile: TileSums): void {
    const { area } = tile;
    const look = this.look!;
    const wide = area.x1 - area.x0;
    look.begin();
    for (let p = 0; p < tile.samples.length; p++) {
      let touched = false;
      for (let from = 0; from < this.settings.samples && !touched; from += WAVE) {
        const count = Math.min(WAVE, this.settings.samples - from);
        look.kernel.addSamples(0, area.x0 + (p % wide), area.y0 + Math.floor(p / wide), from, from + count);
        look.follow(count);
        for (let i = 0; i < count && !touched; i++)
          touched = look.seen[i]! >= 0 && this.patch![look.seen[i]!] === 1;
      }
      if (!touched) tile.finished[p] = 1;
    }
  }
}
