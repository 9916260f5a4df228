/** Light from all around, for paths that meet nothing. */
import { Field, Scene, Source, Sun, Way } from './layout';
import { int, number, put, sceneInt } from './memory';
import { luminance } from './arithmetic';
import { densityOfSky, skyAt, skyB, skyG, skyR } from './around';
import { addLight } from './film';

/** Light from around along a path, into the exported numbers; weighed against sampling it if the path could be sampled. */
export function aroundLight(path: i32): f32 {
  const dx = number(Field.directionX, path);
  const dy = number(Field.directionY, path);
  const dz = number(Field.directionZ, path);
  skyAt(dx, dy, dz);
  const density = number(Field.density, path);
  if (density == 0) return 1;
  const other = densityOfSky(dx, dy, dz);
  return other == 0 ? 1 : density / (density + other);
}

/** What a ray that meets nothing sees. */
export function escape(path: i32, depth: i32): void {
  const share = aroundLight(path);
  const way = int(Field.sourceWay, path);
  const rough = int(Field.rough, path);
  const wr = number(Field.weightR, path);
  const wg = number(Field.weightG, path);
  const wb = number(Field.weightB, path);
  const r = wr * skyR * share;
  const g = wg * skyG * share;
  const b = wb * skyB * share;
  addLight(path, way, Source.sky, r, g, b, rough);
  if (rough == 0 && depth > 0) {
    const suns: usize = sceneInt(Scene.suns);
    for (let i = 0; i < sceneInt(Scene.sunCount); i++) {
      const sun = suns + 4 * Sun.count * i;
      // The sun's disc as mirrors and glass show it.
      const c =
        number(Field.directionX, path) * load<f32>(sun) +
        number(Field.directionY, path) * load<f32>(sun + 4) +
        number(Field.directionZ, path) * load<f32>(sun + 8);
      if (c < load<f32>(sun + 4 * Sun.cosine)) continue;
      const disc = sun + 4 * Sun.radiance;
      addLight(
        path,
        way,
        Source.first + i,
        wr * load<f32>(disc),
        wg * load<f32>(disc + 4),
        wb * load<f32>(disc + 8),
        rough,
      );
    }
  }
  // This direction was free: it counts in the shadow of the first surface as unshadowed and lit.
  if (depth == 1 && way == Way.diffuseDirect) {
    const sky = luminance(r, g, b);
    put(Field.unshadowed, path, number(Field.unshadowed, path) + sky);
    put(Field.lit, path, number(Field.lit, path) + sky);
  }
}
