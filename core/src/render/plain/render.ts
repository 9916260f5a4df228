import type { Scene } from '../../scene/scene.ts';
import { addSighting, noSightings } from '../coverage.ts';
import { Film } from '../film.ts';
import { LIGHT, LIGHT_PARTS, SURFACE } from '../gather.ts';
import { Projection } from '../projection.ts';
import type { RenderSettings } from '../settings.ts';
import { CATCHER, type TileSums } from '../tile-sums.ts';
import { CameraRays } from './camera-rays.ts';
import { PathTracer } from './path.ts';
import { Sampler } from './sampler.ts';

/** Renders a whole picture by plain code, all samples of every pixel: what the ray kernel's pictures are compared with. */
export function renderPlain(scene: Scene, settings: RenderSettings): Film {
  const { width, height, gather, light } = settings;
  const path = new PathTracer(scene, settings.bounces, light, gather);
  const rays = new CameraRays(scene, settings);
  const projection = new Projection(scene.camera, settings);
  const sampler = new Sampler(settings.seed);
  const pixels = width * height;
  const tile: TileSums = {
    area: { x0: 0, y0: 0, x1: width, y1: height },
    samples: new Uint32Array(pixels).fill(settings.samples),
    finished: new Uint8Array(pixels).fill(1),
    seen: new Uint32Array(pixels),
    light: new Float64Array(light ? pixels * (gather.lightParts ? 3 * LIGHT_PARTS.length : 3) : 0),
    lamps: new Float64Array(pixels * path.sources.length),
    half: new Float64Array(0),
    halfAt: 0,
    noise: new Float64Array(0),
    surface: new Float64Array(gather.surface ? SURFACE.count * pixels : 0),
    shadow: new Float64Array(gather.shadow ? 2 * pixels : 0),
    occlusion: new Float64Array(gather.occlusion > 0 ? pixels : 0),
    catcher: new Float64Array(CATCHER.count * pixels),
    ids: noSightings(gather.ids ? pixels : 0),
    through: gather.through.map(() => noSightings(pixels)),
    rays: 0,
    spent: 0,
    spentOcclusion: 0,
  };
  const add = (
    sums: Float64Array,
    at: number,
    values: ArrayLike<number>,
    from = 0,
    count = values.length,
  ) => {
    for (let k = 0; k < count; k++) sums[at + k]! += values[from + k]!;
  };
  for (let p = 0; p < pixels; p++)
    for (let i = 0; i < settings.samples; i++) {
      const x = p % width;
      const y = Math.floor(p / width);
      sampler.start(x, y, i);
      const time = rays.aim(x, y, sampler);
      const [ox, oy, oz, dx, dy, dz] = rays.ray as unknown as [
        number,
        number,
        number,
        number,
        number,
        number,
      ];
      path.trace(ox, oy, oz, dx, dy, dz, time, sampler);
      if (path.catcher) {
        const at = CATCHER.count * p;
        add(tile.catcher, at, [1, path.unshadowed, path.lit]);
        for (const part of [LIGHT.reflection, LIGHT.specularIndirect])
          add(tile.catcher, at + CATCHER.reflection, path.parts, 3 * part, 3);
        continue;
      }
      if (light && gather.lightParts) add(tile.light, path.parts.length * p, path.parts);
      else if (light) for (let k = 0; k < path.parts.length; k += 3) add(tile.light, 3 * p, path.parts, k, 3);
      add(tile.lamps, path.sources.length * p, path.sources);
      if (path.part < 0) continue;
      tile.seen[p]!++;
      if (gather.ids) addSighting(tile.ids, p, path.part, 1);
      for (let k = 0; k < path.sightings; k++)
        addSighting(tile.through[path.sightingLayer[k]!]!, p, path.sightingPart[k]!, path.sightingWeight[k]!);
      if (gather.surface) {
        const m = scene.camera.matrix;
        const at = SURFACE.count * p;
        add(tile.surface, at + SURFACE.depth, [-path.distance * (dx * m[8]! + dy * m[9]! + dz * m[10]!)]);
        add(tile.surface, at + SURFACE.normal, path.normal);
        add(tile.surface, at + SURFACE.position, path.point);
        add(tile.surface, at + SURFACE.base, path.base);
        const [px, py, pz] = [0, 1, 2].map((k) => path.point[k]! - time * path.moved[k]!) as [
          number,
          number,
          number,
        ];
        const [vx, vy, vz] = path.moved as unknown as [number, number, number];
        projection.project(m, px, py, pz);
        const { screenX, screenY } = projection;
        projection.project(scene.camera.matrixEnd, px + vx, py + vy, pz + vz);
        add(tile.surface, at + SURFACE.motion, [
          (projection.screenX - screenX) / scene.span,
          (projection.screenY - screenY) / scene.span,
        ]);
      }
      if (gather.shadow) add(tile.shadow, 2 * p, [path.unshadowed, path.lit]);
      if (gather.occlusion > 0) tile.occlusion[p]! += path.open;
    }
  tile.rays = path.tracer.rays;
  return new Film(scene, settings, [tile]);
}
