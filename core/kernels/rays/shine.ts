/** The light that surfaces send out by themselves. */
import { Field, Lane, Material, Source, Way } from './layout';
import { int, laneInt, number, partOf, putInt } from './memory';
import { addLight } from './film';
import { densityOf, emissionAt, glowB, glowG, glowR } from './lights';
import { materialOf } from './textures';

/** Adds the light that surfaces send out by themselves, and lets go of paths on surfaces without shading. */
export function shine(count: i32, depth: i32): i32 {
  const light = laneInt(Lane.light) != 0;
  let left = 0;
  for (let k = 0; k < count; k++) {
    const path = int(Field.active, k);
    const triangle = int(Field.triangle, path);
    const part = partOf(triangle);
    const way = depth > 0 ? int(Field.sourceWay, path) : Way.emission;
    const rough = int(Field.rough, path);
    const unlit = load<i32>(materialOf(part) + 4 * Material.unlit) != 0;
    let share: f32 = 0;
    if (unlit) {
      glowOf(path);
      share = 1;
    } else if (emissionAt(part, triangle, number(Field.u, path), number(Field.v, path))) {
      share = 1;
      const density = number(Field.density, path);
      if (density > 0) {
        const t = number(Field.t, path);
        const cosine = abs<f32>(
          number(Field.flatX, path) * number(Field.directionX, path) +
            number(Field.flatY, path) * number(Field.directionY, path) +
            number(Field.flatZ, path) * number(Field.directionZ, path),
        );
        share = density / (density + (densityOf(triangle) * t * t) / max<f32>(1e-6, cosine));
      }
      ownR = glowR;
      ownG = glowG;
      ownB = glowB;
    }
    if (light && share > 0)
      addLight(
        path,
        way,
        Source.shining,
        number(Field.weightR, path) * ownR * share,
        number(Field.weightG, path) * ownG * share,
        number(Field.weightB, path) * ownB * share,
        rough,
      );
    if (!unlit) putInt(Field.active, left++, path);
  }
  return left;
}
let ownR: f32 = 0;
let ownG: f32 = 0;
let ownB: f32 = 0;

function glowOf(path: i32): void {
  ownR = number(Field.red, path);
  ownG = number(Field.green, path);
  ownB = number(Field.blue, path);
}
