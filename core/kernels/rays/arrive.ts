/** What paths find where they arrive: the first thing seen, things seen behind it, or nothing. */
import { Field, Lane, Part, Role, Way } from './layout';
import { int, lane, laneInt, number, parts, put, putInt, trianglePart } from './memory';
import { luminance } from './arithmetic';
import { skyB, skyG, skyR } from './around';
import { meetChain } from './sights';
import { aroundLight, escape } from './escape';

/** Lets go of paths that met nothing or have seen all that is asked for; tells how many go on. */
export function arrive(count: i32, depth: i32): i32 {
  const light = laneInt(Lane.light) != 0;
  const shadow = laneInt(Lane.shadow) != 0;
  const deepest = laneInt(Lane.deepest);
  const onlySeen =
    !light && !laneInt(Lane.surface) && !(load<f32>(lane + 4 * Lane.occlusion) > 0) && !deepest;
  let left = 0;
  for (let k = 0; k < count; k++) {
    const path = int(Field.active, k);
    const triangle = int(Field.triangle, path);
    if (triangle < 0) {
      if (light) escape(path, depth);
      continue;
    }
    const part = load<i32>(trianglePart + 4 * triangle);
    const record = parts + 4 * Part.count * part;
    if (depth == 0) {
      const role = load<i32>(record + 4 * Part.role);
      if (role == Role.held) continue;
      putInt(Field.catches, path, role == Role.catcher ? 1 : 0);
      putInt(Field.seen, path, part);
      // Without light there is nothing more to find on a surface through which nothing is seen.
      if (onlySeen) continue;
    } else {
      // The sky's share in the shadow of the first surface: this direction was taken by something.
      if (depth == 1 && shadow && int(Field.sourceWay, path) == Way.diffuseDirect) {
        const share = aroundLight(path);
        const free = luminance(
          skyR * number(Field.weightR, path),
          skyG * number(Field.weightG, path),
          skyB * number(Field.weightB, path),
        );
        put(Field.unshadowed, path, number(Field.unshadowed, path) + share * free);
      }
      if (meetChain(path, part) && !light && int(Field.chainDepth, path) >= deepest) continue;
    }
    putInt(Field.active, left++, path);
  }
  return left;
}
