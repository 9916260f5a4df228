import { idOfName } from '../idlayers/index.ts';
import type { Area } from '../display/view.ts';
import type { Scene } from '../scene/index.ts';
import type { Bvh } from './bvh.ts';
import { SampleCounter } from './coverage.ts';
import { PathTracer } from './path.ts';
import { filterOffsets } from './pixel-filter.ts';
import { Sampler } from './sampler.ts';
import type { RenderSettings } from './settings.ts';

/** Pixels of one rendered rectangle, row-major. Colour is scene-linear and premultiplied by nothing. */
export interface TileResult {
  area: Area;
  /** r, g, b, alpha; empty arrays if only IDs were rendered. */
  colour: Float32Array[];
  objectIds: Uint32Array[];
  objectCoverage: Float32Array[];
  materialIds: Uint32Array[];
  materialCoverage: Float32Array[];
  rays: number;
}

/** Renders rectangles of a scene, each on its own: the result does not depend on how the picture is cut up. */
export class TileRenderer {
  private readonly path: PathTracer;
  private readonly sampler: Sampler;
  private readonly offset: (u: number) => number;
  private readonly objectId: Uint32Array;
  private readonly materialId: Uint32Array;

  constructor(
    private readonly scene: Scene,
    bvh: Bvh,
    private readonly settings: RenderSettings,
  ) {
    this.path = new PathTracer(scene, bvh, settings.bounces);
    this.sampler = new Sampler(settings.seed);
    this.offset = filterOffsets(settings.filter);
    this.objectId = Uint32Array.from(scene.objects, (o) => idOfName(o.name));
    this.materialId = Uint32Array.from(scene.materials, (m) => idOfName(m.name));
  }

  render(area: Area): TileResult {
    const { path, sampler, settings } = this;
    const { width, height, samples, idsOnly } = settings;
    const m = this.scene.camera.matrix;
    const tall = Math.tan(this.scene.camera.yfov / 2);
    const wide = (tall * width) / height;
    const count = (area.x1 - area.x0) * (area.y1 - area.y0);
    const planes = <T>(n: number, make: () => T) => Array.from({ length: n }, make);
    const ranks = settings.ids ? settings.ranks : 0;
    const result: TileResult = {
      area,
      colour: idsOnly ? [] : planes(4, () => new Float32Array(count)),
      objectIds: planes(ranks, () => new Uint32Array(count)),
      objectCoverage: planes(ranks, () => new Float32Array(count)),
      materialIds: planes(ranks, () => new Uint32Array(count)),
      materialCoverage: planes(ranks, () => new Float32Array(count)),
      rays: 0,
    };
    const objects = new SampleCounter();
    const materials = new SampleCounter();
    const raysBefore = path.tracer.rays;
    let at = 0;
    for (let y = area.y0; y < area.y1; y++)
      for (let x = area.x0; x < area.x1; x++, at++) {
        let r = 0;
        let g = 0;
        let b = 0;
        let seen = 0;
        objects.clear();
        materials.clear();
        for (let i = 0; i < samples; i++) {
          sampler.start(x, y, i);
          sampler.next();
          const sx = (((x + 0.5 + this.offset(sampler.x)) / width) * 2 - 1) * wide;
          const sy = (1 - ((y + 0.5 + this.offset(sampler.y)) / height) * 2) * tall;
          let dx = m[0]! * sx + m[4]! * sy - m[8]!;
          let dy = m[1]! * sx + m[5]! * sy - m[9]!;
          let dz = m[2]! * sx + m[6]! * sy - m[10]!;
          const length = 1 / Math.hypot(dx, dy, dz);
          dx *= length;
          dy *= length;
          dz *= length;
          path.trace(m[12]!, m[13]!, m[14]!, dx, dy, dz, sampler, idsOnly);
          if (path.object >= 0) {
            seen++;
            if (ranks) {
              objects.see(path.object);
              materials.see(path.material);
            }
          }
          r += path.light[0]!;
          g += path.light[1]!;
          b += path.light[2]!;
        }
        if (!idsOnly) {
          result.colour[0]![at] = r / samples;
          result.colour[1]![at] = g / samples;
          result.colour[2]![at] = b / samples;
          result.colour[3]![at] = seen / samples;
        }
        objects.write(at, samples, this.objectId, result.objectIds, result.objectCoverage);
        materials.write(at, samples, this.materialId, result.materialIds, result.materialCoverage);
      }
    result.rays = path.tracer.rays - raysBefore;
    return result;
  }
}
